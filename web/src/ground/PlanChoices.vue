<script setup lang="ts">
/** What else a plan hangs on: nights, gauge, deflators, vehicles that stay as they are. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import TextField from '@/shared/TextField.vue'
import { show } from '@/shared/units'

interface Choices {
  nights: number
  gauge: number | null
  deflators: number | null
  left_out: Record<number, string>
}
defineProps<{ train: Schemas['VehicleOut'][]; refused: (name: string) => string | undefined }>()
const form = defineModel<Choices>({ required: true })
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const sets = useQuery({ queryKey: ['deflators'], queryFn: () => answer(api.GET('/api/v1/deflators')) })
const inHand = computed(() =>
  (gauges.data.value ?? [])
    .filter((g) => g.in_hand && !g.retired)
    .map((g) => ({ key: g.id as number | null, name: `${g.label} · ${g.kind_name.toLowerCase()}` })),
)
const deflators = computed(() => [
  { key: null as number | null, name: 'By the valve' },
  ...(sets.data.value ?? [])
    .filter((d) => !d.retired)
    .map((d) => ({
      key: d.id as number | null,
      name: `${d.label}: ${d.count} closing at ${show('pressure', d.closes_kpa)}`,
    })),
])
const NIGHTS = [0, 1, 2, 3, 5, 7].map((n) => ({ key: n, name: n ? String(n) : 'None' }))
function leave(rig: number, out: boolean) {
  const left = { ...form.value.left_out }
  delete left[rig]
  form.value.left_out = out ? { ...left, [rig]: '' } : left
}
</script>

<template>
  <Opening label="Nights, gauge, deflators, a vehicle that stays as it is" class="mt-4">
    <div class="grid gap-4 sm:grid-cols-3">
      <ChoiceField v-model="form.nights" label="Nights it may stay out" :choices="NIGHTS" name="nights" />
      <ChoiceField v-model="form.gauge" label="Gauge in hand" :choices="inHand" name="gauge" />
      <ChoiceField v-model="form.deflators" label="Let out" :choices="deflators" name="deflators" />
    </div>
    <div v-for="v in train.length > 1 ? train : []" :key="v.id" class="mt-3 flex flex-wrap items-start gap-x-4">
      <label class="flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          class="size-5 accent-teal"
          :checked="v.id in form.left_out"
          @change="leave(v.id, ($event.target as HTMLInputElement).checked)"
        />
        {{ v.name }} stays as it is
      </label>
      <TextField
        v-if="v.id in form.left_out"
        v-model="form.left_out[v.id]!"
        class="min-w-56 flex-1"
        :label="`Why ${v.name} stays as it is`"
        :message="refused(`left_out.${v.id}`)"
      />
    </div>
  </Opening>
</template>
