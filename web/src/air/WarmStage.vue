<script setup lang="ts">
/** Tires that do not stand in the air outside: set in a heated shop or another place, or read while they are warm. */
import { computed, reactive } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { provideRefusals } from '@/shared/refusals'
import Segments from '@/shared/Segments.vue'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, unitOf, type Entry } from '@/shared/units'
import { useWork } from '@/shared/useWork'
import Working from '@/shared/Working.vue'
import AirPages from './AirPages.vue'
import NoTarget from './NoTarget.vue'

const { id, sheet } = useFrame()
const known = computed(() => sheet.value.air.air.outside_c !== null)
const there = reactive({ tire_c: null as Entry, at_elevation_m: null as Entry })
const elsewhere = useWork(
  computed(() => (there.tire_c === null || !sheet.value.targets ? null : { ...there })),
  (now) =>
    answer(
      api.POST('/api/v1/work/air/elsewhere', {
        body: { rig: id.value, whole: false, place_key: '', ...now, tire_c: now.tire_c ?? '' },
      }),
    ),
)
const form = reactive({
  axle: sheet.value.rig.axles[0]?.number ?? 1,
  reading: null as Entry,
  cold_kpa: null as Entry,
  tire_c: null as Entry,
  standing_h: '',
  driven: 'highway' as 'highway' | 'town',
  set_in_c: sheet.value.air.air.morning_c as Entry,
  hot_kpa: null as Entry,
})
const warm = useWork(
  computed(() => (sheet.value.targets && known.value ? { ...form, standing_h: form.standing_h || null } : null)),
  (now) => answer(api.POST('/api/v1/work/air/warm', { body: { rig: id.value, ...now } as Schemas['WarmIn'] })),
)
const WAYS = {
  shortfall: 'By the shortfall known cold',
  temperature: "By the tire's own temperature",
  time: 'By the time parked',
}
const no = (field: string) => warm.fields.value[field]
provideRefusals((name) => no(name) ?? elsewhere.fields.value[name])
</script>

<template>
  <AirPages />
  <h1>Warm, or somewhere else</h1>
  <p class="text-soft">Cold, outside, is what a target means. Here is what the gauge must show where it is not.</p>
  <NoTarget v-if="!sheet.targets" />
  <section v-else-if="!known" class="mt-6 max-w-md">
    <h2>The air outside is not known</h2>
    <RouterLink :to="{ name: 'air', params: { id } }" class="button button-next mt-3">Enter it</RouterLink>
  </section>
  <template v-else>
    <section class="mt-6 border-t border-hairline pt-4">
      <h2>Set in a heated shop, on a hot afternoon, at another elevation</h2>
      <div class="mt-2 grid max-w-2xl grid-cols-2 gap-4">
        <QuantityField
          v-model="there.tire_c"
          label="The tires' own temperature there"
          kind="temperature"
          name="tire_c"
        />
        <QuantityField
          v-model="there.at_elevation_m"
          label="Elevation there, if another"
          kind="length"
          whole
          name="at_elevation_m"
        />
      </div>
      <Refusal :message="Object.keys(elsewhere.fields.value).length ? '' : elsewhere.message.value" />
      <ul class="mt-3" :class="{ stale: elsewhere.stale.value }">
        <li v-for="a in elsewhere.answer.value ?? []" :key="a.number" class="border-t border-hairline py-2">
          <div class="flex flex-wrap items-baseline justify-between gap-x-6">
            <h3 class="font-semibold">{{ a.name }}</h3>
            <p class="text-soft">
              the gauge must show
              <span class="ml-2 text-3xl font-bold text-ink">{{ figure('pressure', a.set_kpa) }}</span>
              {{ unitOf('pressure') }}
            </p>
          </div>
          <p v-if="a.capped" class="font-semibold text-rust">{{ say(a.words) }}</p>
          <Opening label="Working" class="text-sm"><Working :lines="a.working" /></Opening>
        </li>
      </ul>
    </section>

    <section class="mt-6 border-t border-hairline pt-4">
      <h2>Read while it is warm</h2>
      <div class="mt-2 grid grid-cols-2 gap-4 lg:grid-cols-4">
        <ChoiceField
          v-model="form.axle"
          label="Axle"
          :choices="sheet.rig.axles.map((a) => ({ key: a.number, name: a.name }))"
        />
        <TextField v-model="form.standing_h" label="Parked for, hours" inputmode="decimal" name="standing_h" />
        <Segments
          v-model="form.driven"
          label="Driven before"
          :choices="[
            { key: 'highway', name: 'Highway' },
            { key: 'town', name: 'Town' },
          ]"
        />
        <QuantityField v-model="form.reading" label="It reads now" kind="pressure" name="reading" />
        <QuantityField v-model="form.cold_kpa" label="It read cold, this morning" kind="pressure" name="cold_kpa" />
        <QuantityField v-model="form.tire_c" label="The tire's temperature" kind="temperature" name="tire_c" />
      </div>
      <div v-if="warm.answer.value" :class="{ stale: warm.stale.value }">
        <p
          v-if="warm.answer.value.waits"
          class="mt-3 text-lg font-semibold"
          :class="warm.answer.value.cold ? 'text-green' : ''"
        >
          {{ say(warm.answer.value.waits) }}
        </p>
        <p v-if="warm.answer.value.here_kpa !== null" class="text-soft">
          Its target, cold, here and now: {{ show('pressure', warm.answer.value.here_kpa, 'up') }}. Waiting is the most
          trusted way; the others follow in the order of trust.
        </p>
        <ol>
          <li v-for="w in warm.answer.value.ways" :key="w.way" class="border-t border-hairline py-2">
            <div class="flex flex-wrap items-baseline justify-between gap-x-6">
              <h3 class="font-semibold">{{ WAYS[w.way] }}</h3>
              <p v-if="w.add_kpa > 0" class="text-soft">
                fill to
                <span class="ml-2 text-3xl font-bold text-ink">{{ figure('pressure', w.fill_to_kpa) }}</span>
                ± {{ figure('pressure', w.uncertainty_kpa, 'up') }} {{ unitOf('pressure') }}
              </p>
            </div>
            <p>{{ say(w.words) }}</p>
            <p class="text-sm text-soft">
              As if cold: {{ show('pressure', w.cold_kpa) }}, an estimate, ±
              {{ show('pressure', w.uncertainty_kpa, 'up') }}.
            </p>
            <Opening label="Working" class="text-sm"><Working :lines="w.working" /></Opening>
          </li>
        </ol>
      </div>
      <Banner class="mt-3">Never let air out of a warm tire to reach a cold target.</Banner>
    </section>

    <section class="mt-6 border-t border-hairline pt-4">
      <h2>What it should read hot</h2>
      <div class="mt-2 grid max-w-2xl grid-cols-2 gap-4">
        <QuantityField v-model="form.set_in_c" label="Air in which it was set" kind="temperature" name="set_in_c" />
        <QuantityField v-model="form.hot_kpa" label="It reads hot" kind="pressure" name="hot_kpa" />
      </div>
      <div v-if="warm.answer.value?.hot" class="mt-2" :class="{ stale: warm.stale.value }">
        <p>
          <span class="text-3xl font-bold"
            >{{ figure('pressure', warm.answer.value.hot.low_kpa) }} to
            {{ figure('pressure', warm.answer.value.hot.high_kpa) }}</span
          >
          {{ unitOf('pressure') }}
        </p>
        <p
          class="font-semibold"
          :class="
            {
              '': 'text-soft',
              'as it should': 'text-green',
              high: '',
              low: '',
              stop: 'text-rust',
              'run low': 'text-rust',
            }[warm.answer.value.hot.verdict]
          "
        >
          {{ say(warm.answer.value.hot.words) }}
        </p>
        <Opening label="Working, and the thumb rule beside it" class="text-sm"
          ><Working :lines="warm.answer.value.hot.working"
        /></Opening>
      </div>
    </section>
  </template>
</template>
