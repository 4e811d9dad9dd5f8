<script setup lang="ts">
/** Two gauges or more on one tire: whether they agree, and which is the odd one. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { say, show, spokenDay, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import Working from '@/shared/Working.vue'

const props = defineProps<{ gauges: Schemas['GaugeOut'][] }>()
const { may } = useSession()
const { data: past } = useQuery({
  queryKey: ['gauges', 'beside'],
  queryFn: () => answer(api.GET('/api/v1/gauges/beside')),
})
const usable = computed(() => props.gauges.filter((g) => !g.retired))
/** A drawer of up to three rows of fields is asked whole; of a larger one those that somebody takes to the tire. */
const FEW = 12
const many = computed(() => usable.value.length > FEW)
const taken = ref<number[]>([])
const asked = computed(() => (many.value ? usable.value.filter((g) => taken.value.includes(g.id)) : usable.value))
const others = computed(() => [
  { key: null as number | null, name: 'Choose' },
  ...usable.value
    .filter((g) => !taken.value.includes(g.id))
    .map((g) => ({ key: g.id as number | null, name: g.label })),
])
const shown = ref<Record<number, Entry>>({})
const readings = computed(() =>
  asked.value.flatMap((g) => {
    const pressure = shown.value[g.id]
    return pressure === null || pressure === undefined ? [] : [{ gauge: g.id, pressure }]
  }),
)
const inputs = computed(() => (readings.value.length > 1 ? { readings: readings.value } : null))
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/gauges/beside', { body })))
const messageOf = (id: number) => {
  const at = readings.value.findIndex((r) => r.gauge === id)
  return work.fields.value[`readings.${at}.pressure`] ?? work.fields.value[`readings.${at}.gauge`]
}
const { save, busy, message } = useSave(async () => {
  await answer(api.POST('/api/v1/gauges/beside', { body: { readings: readings.value } }))
  shown.value = {}
  taken.value = []
  await queries.invalidateQueries({ queryKey: ['gauges'] })
})
const COLOR = { agree: 'text-green', watch: 'text-plum', apart: 'text-rust' }
</script>

<template>
  <section>
    <h2>Two gauges, one tire</h2>
    <p class="text-soft">One after the other on the same tire. With three, the odd one is named.</p>
    <EntryForm v-if="may('gauges')" class="mt-2" @submit="save()">
      <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
        <QuantityField
          v-for="g in asked"
          :key="g.id"
          :model-value="shown[g.id] ?? null"
          :label="`${g.label} shows`"
          kind="pressure"
          :message="messageOf(g.id)"
          @update:model-value="(v) => (shown = { ...shown, [g.id]: v })"
        />
        <ChoiceField
          v-if="many"
          :model-value="null"
          :label="asked.length ? 'And another gauge' : 'Which gauges'"
          :choices="others"
          @update:model-value="(v) => v !== null && (taken = [...taken, v])"
        />
      </div>
      <div v-if="work.answer.value" class="mt-3" :class="{ stale: work.stale.value }" aria-live="polite">
        <p class="text-xl font-bold" :class="COLOR[work.answer.value.verdict]">
          {{ say(work.answer.value.words) }}
        </p>
        <div class="flex flex-wrap items-center gap-x-6 gap-y-2">
          <button class="button mt-2" :disabled="busy || work.stale.value">Keep the comparison</button>
          <Opening label="Working"><Working :lines="work.answer.value.working" /></Opening>
        </div>
        <Refusal :message="message" />
      </div>
    </EntryForm>
    <!-- The newest stands open: how the gauges agree is seen at a glance. -->
    <template v-for="(part, k) in [past?.slice(0, 1) ?? [], past?.slice(1) ?? []]" :key="k">
      <component :is="k ? Opening : 'div'" v-if="part.length" label="Earlier ones" class="mt-2">
        <ul>
          <li v-for="p in part" :key="p.id ?? 0" class="border-t border-hairline py-1.5">
            <span class="text-soft">{{ spokenDay(p.done_at!) }}, {{ p.by }}:</span>
            {{ p.readings.map((r) => `${r.label} ${show('pressure', r.corrected_kpa)}`).join(', ') }}.
            <b :class="COLOR[p.verdict]">{{ say(p.words) }}</b>
          </li>
        </ul>
      </component>
    </template>
  </section>
</template>
