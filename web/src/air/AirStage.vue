<script setup lang="ts">
/** The air outside, and what it does to each target now and at the coming dawns. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { pairs, useSession } from '@/shared/session'
import { figure, say, show, showWhole, spokenDays, unitOf, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import Working from '@/shared/Working.vue'
import AirPages from './AirPages.vue'
import BringRecord from './BringRecord.vue'
import NoTarget from './NoTarget.vue'
import WeekTable from './WeekTable.vue'

const { id, sheet, whole } = useFrame()
const { session, may } = useSession()
const stored = computed(() => sheet.value.air.air)
const fromStored = () => ({
  place_key: stored.value.place_key,
  outside_c: stored.value.outside_c as Entry,
  dawn_c: stored.value.dawn_c as Entry,
  high_c: stored.value.high_c as Entry,
  elevation_m: stored.value.elevation_m as Entry,
  station_kpa: stored.value.station_kpa as Entry,
})
const form = reactive(fromStored())
type Temperature = Schemas['WayOut']['temperature']
const way = reactive({ temperature: sheet.value.way.temperature, check_days: sheet.value.way.check_days })
const many = computed(() => sheet.value.train.length > 1 && sheet.value.rig.head === null)
watch(many, (now) => (whole.value = now), { immediate: true })
const places = useQuery({ queryKey: ['places'], queryFn: () => answer(api.GET('/api/v1/weather/places')) })
const choices = computed(() => [
  { key: '', name: 'By hand' },
  ...(places.data.value ?? []).map((p) => ({
    key: p.key,
    name: p.name,
    note: showWhole('length', p.elevation_m),
  })),
])

const air = computed(() => {
  if (form.place_key) return { place_key: form.place_key }
  if (form.outside_c === null && form.elevation_m === null) return null
  return { ...form, place_key: '' }
})
const inputs = computed(() => air.value && { ...air.value, ...way, whole: many.value })
const work = useWork(inputs, (body) =>
  answer(api.POST('/api/v1/work/air', { body: { rig: id.value, ...body } })),
)
// A place fills the fields, so that going on by hand starts from what it said.
watch(
  () => work.answer.value,
  (now) => {
    if (!now || !form.place_key) return
    form.outside_c = now.air.outside_c
    form.dawn_c = now.air.dawn_c
    form.high_c = now.air.high_c
    form.elevation_m = now.air.elevation_m
    form.station_kpa = null
  },
)
const { save, busy, fields, message } = useSave(async () => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/air', { params: { path: { rig_id: id.value } }, body: air.value! }),
  )
  await refreshRig(id.value)
  Object.assign(form, fromStored())
})
const keepWay = useSave(async () => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/policy', { params: { path: { rig_id: id.value } }, body: { ...way } }),
  )
  await refreshRig(id.value)
})
const wayDiffers = computed(
  () => way.temperature !== sheet.value.way.temperature || way.check_days !== sheet.value.way.check_days,
)
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
/** What is refused of the whole, and belongs beside no field: a weather service that does not answer, say. */
const unplaced = computed(() => {
  const told = [
    { message: message.value, fields: fields.value },
    { message: work.message.value, fields: work.fields.value },
    { message: keepWay.message.value, fields: {} },
  ]
  return told.find((t) => t.message && !Object.keys(t.fields).length)?.message
})
const same = computed(() => {
  const s = stored.value
  if (form.place_key) return s.source === 'service' && s.place_key === form.place_key
  return (
    s.source === 'hand' &&
    (['outside_c', 'dawn_c', 'high_c', 'elevation_m', 'station_kpa'] as const).every((n) => s[n] === form[n])
  )
})
const zoned = (iso: string | null, zone: string) =>
  iso
    ? new Date(iso).toLocaleString('en-US', {
        weekday: 'short',
        hour: 'numeric',
        minute: '2-digit',
        timeZone: zone,
      })
    : ''
function byHand() {
  form.place_key = ''
}
const bringing = ref(false)
async function brought(key: string) {
  bringing.value = false
  await places.refetch()
  form.place_key = key
}
const leaves = (a: Schemas['AxleAirOut']) => a.above_floor === false || a.below_ceiling === false
</script>

<template>
  <AirPages />
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>What the air does</h1>
      <p class="text-soft">
        The same air in a tire reads less in the cold and more up high. The floor stays the same number.
      </p>
    </div>
    <button
      v-if="may('air')"
      type="button"
      class="button"
      :class="{ 'button-next': inputs && !same }"
      :disabled="busy || !inputs || same"
      @click="save()"
    >
      {{ same ? 'In use for this rig' : 'Use this air' }}
    </button>
  </div>
  <Banner v-if="stored.silent" class="mt-4"
    >The weather service does not answer. Enter outside temperature and elevation by hand.</Banner
  >

  <div class="mt-5 grid grid-cols-2 gap-4 lg:grid-cols-4">
    <ChoiceField v-model="form.place_key" label="Place" :choices="choices" :message="no('place_key')" />
    <QuantityField
      v-model="form.outside_c"
      label="Outside now"
      kind="temperature"
      :message="no('outside_c')"
      @input="byHand"
    />
    <QuantityField
      v-model="form.dawn_c"
      label="Coming dawn low"
      kind="temperature"
      :message="no('dawn_c')"
      @input="byHand"
    />
    <QuantityField
      v-model="form.elevation_m"
      label="Elevation"
      kind="length"
      whole
      :message="no('elevation_m')"
      @input="byHand"
    />
    <ChoiceField
      v-model="way.temperature"
      class="col-span-2"
      label="What to do about temperature"
      :choices="pairs<Temperature>(session?.temperatures)"
    />
    <ChoiceField
      v-model="way.check_days"
      label="Next check in"
      :choices="(session?.check_days ?? []).map((d) => ({ key: d, name: spokenDays(d) }))"
      :message="no('check_days')"
    />
    <p v-if="may('targets') && wayDiffers" class="self-end pb-2">
      <button type="button" class="link" @click="keepWay.save()">Keep this way for the rig</button>
    </p>
  </div>
  <p class="mt-2 text-sm text-soft">
    <template v-if="form.place_key && work.answer.value">
      {{ work.answer.value.air.place }}; the next dawn is
      {{ zoned(work.answer.value.air.dawn_at, work.answer.value.air.time_zone) }} there.
    </template>
    <template v-else>By hand. A temperature may be typed with its unit: -4 C, 25 F.</template>
  </p>
  <Opening label="More about the air" class="text-sm">
    <div class="grid max-w-2xl grid-cols-2 gap-4">
      <QuantityField
        v-model="form.high_c"
        label="The day's high"
        kind="temperature"
        :message="no('high_c')"
        @input="byHand"
      />
      <QuantityField
        v-model="form.station_kpa"
        label="Station pressure, absolute"
        kind="pressure"
        hint="As measured there, not reduced to sea level"
        :message="no('station_kpa')"
        @input="byHand"
      />
    </div>
    <template v-if="may('air')">
      <button v-if="!bringing" type="button" class="link mt-2" @click="bringing = true">
        Hourly temperatures of my own, from a CSV
      </button>
      <BringRecord v-else class="mt-3" @brought="brought" />
    </template>
  </Opening>
  <Refusal :message="unplaced" />

  <NoTarget v-if="!sheet.targets" />
  <template v-if="work.answer.value">
    <section
      v-for="a in work.answer.value.axles"
      :key="`${a.rig}-${a.number}`"
      class="mt-6 border-t border-hairline pt-4"
      :class="{ stale: work.stale.value }"
    >
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>{{ many ? `${a.rig_name}, ${a.name.toLowerCase()}` : a.name }}</h2>
        <p class="flex flex-wrap gap-x-4 text-soft">
          <span class="whitespace-nowrap"
            >set now, cold
            <span class="ml-2 text-3xl font-bold text-ink">{{ figure('pressure', a.here_kpa, 'up') }}</span>
            {{ unitOf('pressure') }}</span
          >
          <span v-if="a.coldest_kpa !== null" class="whitespace-nowrap"
            >coldest dawn
            <span class="ml-2 text-3xl font-bold" :class="leaves(a) ? 'text-rust' : 'text-ink'">{{
              figure('pressure', a.coldest_kpa)
            }}</span>
            {{ unitOf('pressure') }}</span
          >
        </p>
      </div>
      <Band
        :label="a.name"
        :floor="a.floor_kpa"
        :target="a.target_kpa"
        :ceiling="a.ceiling_kpa"
        :level="a.here_kpa"
        :dawn="a.coldest_kpa"
        :flags="[{ name: 'target in force', kpa: a.target_kpa }]"
      />
      <p class="font-semibold" :class="leaves(a) ? 'text-rust' : a.above_floor ? 'text-green' : 'text-soft'">
        {{ say(a.words) }}
        <span v-if="a.eaten !== null" class="font-normal text-soft"
          >The cold eats {{ show('share', a.eaten) }} of what lies over the floor.</span
        >
      </p>
      <p v-if="a.hold_from_kpa !== null" class="text-sm">
        Left as it is from {{ show('pressure', a.hold_from_kpa, 'up') }} up.
      </p>
      <p v-for="(n, k) in a.notes" :key="k" class="text-sm">{{ say(n) }}</p>
      <Opening label="Working" class="mt-1 max-w-2xl text-sm"><Working :lines="a.working" /></Opening>
    </section>
    <p v-if="work.answer.value.axles.length" class="mt-5 text-sm text-soft">
      Solid: here and now. Hatched: at the coldest dawn before the next check.
    </p>
    <section
      v-if="work.answer.value.axles.length && work.answer.value.air.week.length"
      class="mt-6 border-t border-hairline pt-4"
      :class="{ stale: work.stale.value }"
    >
      <h2>The days ahead</h2>
      <WeekTable class="mt-2" :answer="work.answer.value" :many="many" />
    </section>
  </template>
</template>
