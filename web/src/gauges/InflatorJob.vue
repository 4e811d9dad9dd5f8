<script setup lang="ts">
/** Any job: able or not, what to dial and how long, for tires of no rig here. Nothing is kept. */
import { computed, reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { provideRefusals } from '@/shared/refusals'
import TextField from '@/shared/TextField.vue'
import { say, show, type Entry } from '@/shared/units'
import { useWork } from '@/shared/useWork'
import Working from '@/shared/Working.vue'

const props = defineProps<{ inflators: Schemas['InflatorOut'][] }>()
const usable = computed(() => props.inflators.filter((i) => !i.retired))
const form = reactive({
  inflator: usable.value[0]?.id ?? null,
  from: null as Entry,
  to: null as Entry,
  size: '',
  tires: '1',
})
const inputs = computed(() => {
  const { inflator, from, to, size } = form
  const count = Math.min(60, Math.max(1, Math.trunc(Number(form.tires)) || 1))
  if (inflator === null || from === null || to === null || !size.trim()) return null
  const tires = Array.from({ length: count }, (_, i) => ({
    name: `Tire ${i + 1}`,
    from_kpa: from,
    to_kpa: to,
    tire_size: size,
    urgent: false,
  }))
  return { inflator, tires, elevation_m: 0 } as Schemas['JobIn']
})
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/gauges/job', { body })))
const fill = computed(() => work.answer.value?.fills[0])
const of = (field: string) => work.fields.value[`tires.0.${field}`]
provideRefusals(of)
const other = computed(() => {
  const known = ['from_kpa', 'to_kpa', 'tire_size'].some(of)
  return known ? '' : work.message.value
})
</script>

<template>
  <section>
    <h2>Any job</h2>
    <p class="text-soft">Tires that are on no rig here: able or not, what to dial, how long.</p>
    <div class="mt-2 grid max-w-4xl grid-cols-2 gap-4 sm:grid-cols-5">
      <ChoiceField
        v-model="form.inflator"
        label="With"
        :choices="usable.map((i) => ({ key: i.id as number | null, name: i.label }))"
      />
      <QuantityField v-model="form.from" label="From" kind="pressure" name="from_kpa" />
      <QuantityField v-model="form.to" label="To" kind="pressure" name="to_kpa" />
      <TextField v-model="form.size" label="Tire size" placeholder="235/80R22.5" name="tire_size" />
      <TextField v-model="form.tires" label="Tires alike" inputmode="numeric" />
    </div>
    <div v-if="fill && work.answer.value" class="mt-3" :class="{ stale: work.stale.value }" aria-live="polite">
      <p v-if="fill.able" class="text-2xl">
        Dial <b>{{ show('pressure', fill.dial_kpa, 'up') }}</b>
      </p>
      <p class="font-medium" :class="{ 'text-rust': !fill.able }">
        {{ fill.able ? say(work.answer.value.words) : say(fill.words) }}
      </p>
      <Opening v-if="fill.able" label="Working"><Working :lines="fill.working" /></Opening>
    </div>
    <Refusal :message="other" />
  </section>
</template>
