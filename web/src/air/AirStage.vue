<script setup lang="ts">
/** The air outside, and what it does to each target by the coming dawn. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { figure, say, showWhole, unitOf, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import Working from '@/shared/Working.vue'

const { id, sheet } = useFrame()
const { may } = useSession()
const stored = computed(() => sheet.value.air.air)
const fromStored = () => ({
  place_key: stored.value.place_key,
  outside_c: stored.value.outside_c as Entry,
  dawn_c: stored.value.dawn_c as Entry,
  elevation_m: stored.value.elevation_m as Entry,
})
const form = reactive(fromStored())
const places = useQuery({ queryKey: ['places'], queryFn: () => answer(api.GET('/api/v1/weather/places')) })
const choices = computed(() => [
  { key: '', name: 'By hand' },
  ...(places.data.value ?? []).map((p) => ({
    key: p.key,
    name: p.name,
    note: showWhole('length', p.elevation_m),
  })),
])

const inputs = computed(() => {
  if (form.place_key) return { place_key: form.place_key }
  if (form.outside_c === null && form.elevation_m === null) return null
  return {
    place_key: '',
    outside_c: form.outside_c,
    dawn_c: form.dawn_c,
    elevation_m: form.elevation_m,
  }
})
const work = useWork(inputs, (air) =>
  answer(api.POST('/api/v1/work/air', { body: { rig: id.value, ...air } })),
)
// A place fills the fields, so that going on by hand starts from what it said.
watch(
  () => work.answer.value,
  (now) => {
    if (!now || !form.place_key) return
    form.outside_c = now.air.outside_c
    form.dawn_c = now.air.dawn_c
    form.elevation_m = now.air.elevation_m
  },
)
const { save, busy, fields, message } = useSave(async () => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/air', { params: { path: { rig_id: id.value } }, body: inputs.value! }),
  )
  await refreshRig(id.value)
  Object.assign(form, fromStored())
})
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
const same = computed(() => {
  const s = stored.value
  if (form.place_key) return s.source === 'service' && s.place_key === form.place_key
  return (
    s.source === 'hand' &&
    s.outside_c === form.outside_c &&
    s.dawn_c === form.dawn_c &&
    s.elevation_m === form.elevation_m
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
</script>

<template>
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
  </div>
  <p class="mt-2 text-sm text-soft">
    <template v-if="form.place_key && work.answer.value">
      Simulated weather, {{ work.answer.value.air.place }}; the dawn of
      {{ zoned(work.answer.value.air.dawn_at, work.answer.value.air.time_zone) }} there.
    </template>
    <template v-else>By hand. A temperature may be typed with its unit: -4 C, 25 F.</template>
  </p>
  <Refusal :message="message && !Object.keys(fields).length ? message : ''" />

  <section v-if="!sheet.targets" class="mt-8 max-w-md">
    <h2>No target in force</h2>
    <p class="mt-1 text-soft">What the air does is told of a target. Put one in force first.</p>
    <RouterLink :to="{ name: 'targets', params: { id } }" class="button button-next mt-4"
      >Go to the target</RouterLink
    >
  </section>
  <section
    v-for="a in work.answer.value?.axles ?? []"
    :key="a.number"
    class="mt-6 border-t border-hairline pt-4"
    :class="{ stale: work.stale.value }"
  >
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>{{ a.name }}</h2>
      <p class="text-soft">
        cold, here and now
        <span class="ml-2 text-3xl font-bold text-ink">{{ figure('pressure', a.here_kpa, 'up') }}</span>
        {{ unitOf('pressure') }}
        <template v-if="a.dawn_kpa !== null">
          <span class="ml-4">at dawn</span>
          <span
            class="ml-2 text-3xl font-bold"
            :class="a.above_floor === false || a.below_ceiling === false ? 'text-rust' : 'text-ink'"
            >{{ figure('pressure', a.dawn_kpa) }}</span
          >
          {{ unitOf('pressure') }}
        </template>
      </p>
    </div>
    <Band
      :label="a.name"
      :floor="a.floor_kpa"
      :target="a.target_kpa"
      :ceiling="a.ceiling_kpa"
      :level="a.here_kpa"
      :dawn="a.dawn_kpa"
      :flags="[{ name: 'target in force', kpa: a.target_kpa }]"
    />
    <p
      class="font-semibold"
      :class="
        a.above_floor === false || a.below_ceiling === false
          ? 'text-rust'
          : a.above_floor
            ? 'text-green'
            : 'text-soft'
      "
    >
      {{ say(a.words) }}
    </p>
    <p v-for="(n, k) in a.notes" :key="k" class="text-sm">{{ say(n) }}</p>
    <Opening label="Working" class="mt-1 max-w-2xl text-sm"><Working :lines="a.working" /></Opening>
  </section>
  <p v-if="work.answer.value?.axles.length" class="mt-5 text-sm text-soft">
    Solid: here and now. Hatched: at the coming dawn.
  </p>
</template>
