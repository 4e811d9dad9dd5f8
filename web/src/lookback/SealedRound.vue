<script setup lang="ts">
/** A sealed round: what stood then, what was put right since, what is open, and leak or weather. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import Answer from '@/shared/Answer.vue'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import Pictures from '@/shared/Pictures.vue'
import { queries, useSession } from '@/shared/session'
import { figure, say, show, showWhole, spokenDay, unitOf, toward } from '@/shared/units'
import CameLate from './CameLate.vue'
import LookPages from './LookPages.vue'
import PutRight from './PutRight.vue'
import Splits from './Splits.vue'

const props = defineProps<{ round: number }>()
const { id } = useFrame()
const { may } = useSession()
const round = toRef(props, 'round')
const { data, error } = useQuery({
  queryKey: ['rig', id, 'sealed', round],
  queryFn: () => answer(api.GET('/api/v1/rounds/{round_id}/sealed', { params: { path: { round_id: round.value } } })),
})
const when = (iso: string, zone: string) =>
  new Date(iso).toLocaleString('en-US', { dateStyle: 'long', timeStyle: 'short', timeZone: zone })
const wheels = computed(() => data.value?.now ?? [])
const read = computed(() => wheels.value.filter((w) => w.before))
/** As it was sealed, of a wheel that was put right since. */
const sealedAs = (code: string) => data.value?.wheels.find((w) => w.code === code)
const was = (code: string, kind: 'before' | 'after') => {
  const then = sealedAs(code)?.[kind]
  const now = wheels.value.find((w) => w.code === code)?.[kind]
  return then && then.uuid !== now?.uuid ? then : null
}
const standing = (w: Schemas['RoundWheelOut']) => w.after_answer ?? w.answer
const righting = ref(false)
async function take(now: Schemas['SealedOut']) {
  queries.setQueryData(['rig', id.value, 'sealed', round.value], now)
  righting.value = false
  await refreshRig(id.value)
}
</script>

<template>
  <LookPages />
  <p v-if="error" role="alert">{{ refusedOf(error).message }}</p>
  <template v-else-if="data">
    <div class="flex flex-wrap items-start justify-between gap-x-6 gap-y-2">
      <div class="min-w-60 flex-1">
        <h1>Round of {{ when(data.opened_at, data.time_zone) }}</h1>
        <p class="text-soft">
          Sealed by {{ data.sealed_by }}, gauge {{ data.gauge_label }}; {{ data.place || 'by hand' }}
          {{ show('temperature', data.outside_c) }}, {{ showWhole('length', data.elevation_m) }}, stood
          {{ data.standing_h }} h{{ data.cold ? '' : ', still warm: estimates'
          }}{{ data.odometer_km ? `, ${show('distance', data.odometer_km)}` : '' }}
        </p>
      </div>
      <div class="flex gap-2.5">
        <a class="button" :href="`/api/v1/rounds/${round}/round.pdf`" download>PDF</a>
        <a class="button" :href="`/api/v1/rounds/${round}/round.csv`" download>CSV</a>
      </div>
    </div>
    <p class="mt-3 text-xl font-bold first-letter:uppercase">{{ data.summary }}</p>
    <p v-for="(w, i) in data.split" :key="i">{{ say(w) }}</p>
    <p v-if="data.next_check_on" class="mt-1">
      <b>Next check by {{ spokenDay(data.next_check_on) }}</b
      ><span class="text-soft">. {{ data.next_check_words }}.</span>
    </p>
    <ul v-if="data.open_matters.length || data.findings.length" class="mt-3 border-l-4 border-rust pl-3">
      <li v-for="m in data.open_matters" :key="m" class="font-medium">{{ m }}</li>
      <li v-for="f in data.findings" :key="f" class="font-medium">{{ f }}</li>
    </ul>
    <p v-if="data.unread_reason" class="mt-1 text-sm">Not read, because: {{ data.unread_reason }}</p>

    <CameLate class="mt-4" :sealed="data" @taken="take" />
    <div v-scrolls class="mt-4 overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th>Wheel</th>
            <th class="figure">Target here, {{ unitOf('pressure') }}</th>
            <th class="figure">Gauge</th>
            <th class="figure">True</th>
            <th class="figure">Left</th>
            <th>Answer</th>
            <th class="hidden sm:table-cell">By</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in wheels" :key="w.code">
            <td class="min-w-24">
              {{ w.name }} <span class="text-soft">{{ w.code }}</span>
              <span v-for="(s, i) in w.seen.words" :key="i" class="block text-sm">{{ say(s) }}</span>
              <span v-if="w.seen.note" class="block text-sm text-soft">{{ w.seen.note }}</span>
            </td>
            <td class="figure text-soft">
              {{ w.here_kpa === null ? '–' : figure('pressure', w.here_kpa, toward(w.here_kpa, w.ceiling_kpa)) }}
            </td>
            <td class="figure" :title="w.before ? `typed ${w.before.typed}` : ''">
              <s v-if="was(w.code, 'before')" class="text-soft">{{
                figure('pressure', was(w.code, 'before')!.raw_kpa)
              }}</s>
              {{ w.before ? figure('pressure', w.before.raw_kpa) : '–' }}
            </td>
            <td class="figure font-bold">
              {{ w.before ? figure('pressure', w.before.corrected_kpa) : '–' }}
            </td>
            <td class="figure">
              <s v-if="was(w.code, 'after')" class="text-soft">{{
                figure('pressure', was(w.code, 'after')!.corrected_kpa)
              }}</s>
              {{ w.after ? figure('pressure', w.after.corrected_kpa) : '–' }}
            </td>
            <td><Answer :answer="standing(w)" :target="w.here_kpa" /></td>
            <td class="hidden text-sm text-soft sm:table-cell">{{ w.before?.by }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <Pictures class="mt-4" :rig="data.rig" :rig-name="data.rig_name" :of="{ round: data.id }" />
    <Opening v-if="data.parts.length" label="Leak or weather, tire by tire" class="mt-3"
      ><Splits :parts="data.parts"
    /></Opening>
    <section v-if="data.amendments.length" class="mt-4">
      <h2>Put right since</h2>
      <p v-for="(a, i) in data.amendments" :key="i">
        <template v-if="a.kind === 'reading'">
          {{ a.name }}, {{ a.after ? 'left' : 'found' }}: <s>{{ a.was }}</s> <b>{{ a.typed }}</b> on {{ a.gauge }}, true
          {{ show('pressure', a.corrected_kpa!) }}.
        </template>
        <template v-else>
          {{ a.name || 'The round' }}: <b>{{ a.words.map((w) => say(w)).join(', ') }}</b>.
        </template>
        <span class="text-soft">{{ a.reason }} ({{ a.by }}, {{ spokenDay(a.at) }})</span>
      </p>
    </section>
    <p class="mt-4">
      Signed <b>{{ data.signed || '–' }}</b>
      <span v-for="s in data.stamps" :key="s" class="stamp ml-4">{{ s }}</span>
    </p>

    <template v-if="may('rounds') && read.length">
      <button v-if="!righting" type="button" class="link mt-3" @click="righting = true">Put something right</button>
      <PutRight v-else class="mt-3" :sealed="data" @done="take" @leave="righting = false" />
    </template>
  </template>
  <p v-else class="text-soft">Fetching the round …</p>
</template>
