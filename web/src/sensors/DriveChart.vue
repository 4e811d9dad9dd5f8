<script setup lang="ts">
/** What a wheel and the others of its axle read along a drive. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'
import Chart from '@/shared/Chart.vue'
import type { ChartLine } from '@/shared/chartOption'
import type { Drive } from './queries'

const props = defineProps<{ rig: number; drive: Drive; picked: string | null }>()
const { data } = useQuery({
  // Drawn anew with so many messages more, not with each.
  queryKey: [
    'rig',
    () => props.rig,
    'drive',
    () => props.drive.uuid,
    'series',
    () => Math.ceil(props.drive.count / 30),
  ],
  queryFn: () => {
    const path = { rig_id: props.rig, uuid: props.drive.uuid }
    return answer(api.GET('/api/v1/rigs/{rig_id}/drives/{uuid}/series', { params: { path } }))
  },
  placeholderData: keepPreviousData,
})
/** The wheel in hand, else the first that is loud, else the first. */
const wheel = computed(
  () =>
    props.drive.wheels.find((w) => w.code === props.picked) ??
    props.drive.wheels.find((w) => w.loud) ??
    props.drive.wheels[0],
)
const lines = computed<ChartLine[]>(() => {
  const drawn = data.value?.wheels ?? []
  const beside = props.drive.wheels.filter((w) => w.target_kpa === wheel.value?.target_kpa).map((w) => w.code)
  return drawn
    .filter((w) => beside.includes(w.code))
    .map((w) => ({
      name: w.name,
      values: w.kpa,
      color: w.code === wheel.value?.code ? ('teal' as const) : ('soft' as const),
    }))
})
const across = computed(() =>
  (wheel.value?.limits ?? []).flatMap((l) => (l.at ? [{ name: l.name, kpa: l.at.value, toward: l.at.toward }] : [])),
)
const places = computed(() => (data.value?.minutes ?? []).map((m) => `${Math.round(m)} min`))
</script>

<template>
  <Chart
    v-if="wheel && lines.length"
    label="Pressure along the drive"
    along="Since it began"
    :places="places"
    :lines="lines"
    :across="across"
    :height="240"
  />
</template>
