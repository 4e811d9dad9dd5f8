<script setup lang="ts">
/** What a round is read in: gauge, how long the rig has stood, and the air. Used to open one and to mend it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Presses from '@/shared/Presses.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { say, show, spokenDay, type Entry, showWhole } from '@/shared/units'
import { usePlaces } from '@/shared/usePlaces'
import { inPlace, useDraft } from '@/shared/useDraft'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'

const props = defineProps<{
  air: Schemas['AirOut']
  rig: number
  round?: Schemas['RoundOut']
  /** The ground plan that is open: whether it was kept is asked. */
  ground?: Schemas['Strip'] | null
  action: string
  /** Its tires were moved just now: none has rolled with the air of another axle. */
  moved?: boolean
}>()
const emit = defineEmits<{ save: [body: Schemas['ConditionsIn'], done: (error?: unknown) => void] }>()

const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const { places } = usePlaces()
const usable = computed(() => (gauges.data.value ?? []).filter((g) => g.in_hand && !g.retired))
const from = props.round
const form = reactive({
  gauge: (from?.gauge ?? null) as number | null,
  standing_h: from ? String(from.standing_h) : '10',
  driven: (from?.driven ?? 'highway') as 'highway' | 'town',
  rolled: from?.rolled ?? !props.moved,
  sunny: (from?.sunny ?? '') as '' | 'left' | 'right',
  shop_c: (from?.shop_c ?? null) as Entry,
  odometer: (from?.odometer_km ?? null) as Entry,
  plan_kept: (from?.plan_kept ?? null) as boolean | null,
  place_key: from ? '' : props.air.place_key,
  // Air that is too old to go by is not taken over unasked.
  outside_c: (from?.outside_c ?? (props.air.old ? null : props.air.outside_c)) as Entry,
  morning_c: (from ? from.morning_c : null) as Entry,
  dawn_c: (from ? from.dawn_c : props.air.dawn_c) as Entry,
  elevation_m: (from?.elevation_m ?? props.air.elevation_m) as Entry,
})
const airTyped = () => JSON.stringify([form.outside_c, form.morning_c, form.dawn_c, form.elevation_m])
const byPlace = airTyped()
/** What is typed outlasts a reload and Back; no longer than a while, as air that was typed grows old. */
const draft = useDraft(() => (from ? `mend ${from.id} ${from.version}` : `conditions ${props.rig}`), inPlace(form), {
  lasts_ms: 3_600_000,
})
watch(draft.taken, (is) => {
  // What was typed by hand, or of a shop, is seen again too.
  if (!is) return
  inShop.value ||= form.shop_c !== null
  byHand.value ||= airTyped() !== byPlace
})
watch(
  usable,
  (now) => {
    // The first that nothing speaks against; a master stays in its drawer.
    form.gauge ??= now.find((g) => !g.suspect && g.kind !== 'master')?.id ?? now[0]?.id ?? null
  },
  { immediate: true },
)
const gauge = computed(() => usable.value.find((g) => g.id === form.gauge))
const KEPT = [
  { key: true as boolean | null, name: 'The plan’s numbers' },
  { key: false as boolean | null, name: 'Road numbers again' },
]
const STOOD = [
  { key: '10', name: 'overnight' },
  { key: '5', name: '5 h' },
  { key: '3', name: '3 h' },
  { key: '1', name: '1 h' },
]
/** What counts as cold is the server's word: asked as it is typed. */
const work = useWork(
  () => ({ hours: form.standing_h, driven: form.driven, outside: form.outside_c, shop: form.shop_c }),
  (now) =>
    answer(
      api.POST('/api/v1/work/rounds/standing', {
        body: { rig: props.rig, standing_h: now.hours, driven: now.driven, shop_c: now.shop },
      }),
    ),
)
const cold = computed(() => work.answer.value?.cold ?? true)
const inShop = ref(form.shop_c !== null)
const byHand = ref(Boolean(from) || !props.air.place_key)
/** One tap: what was typed hours ago still holds. */
function still() {
  form.outside_c = props.air.outside_c
  form.elevation_m ??= props.air.elevation_m
}

const { save, busy, fields, message, newer } = useSave(async () => {
  const body = byHand.value
    ? { ...form, place_key: '' }
    : {
        gauge: form.gauge,
        standing_h: form.standing_h,
        driven: form.driven,
        rolled: form.rolled,
        sunny: form.sunny,
        shop_c: form.shop_c,
        odometer: form.odometer,
        plan_kept: form.plan_kept,
        place_key: form.place_key,
      }
  await new Promise<void>((resolve, reject) =>
    emit('save', { ...body, version: newer.value || (from?.version ?? '') } as Schemas['ConditionsIn'], (error) =>
      error ? reject(error) : resolve(),
    ),
  )
  draft.saved()
})
</script>

<template>
  <EntryForm :refused="fields" class="max-w-3xl" @submit="save()">
    <div
      v-if="ground || (from?.plan_kept !== undefined && from?.plan_kept !== null)"
      class="mb-5 border-l-4 border-buoy bg-paper px-4 py-3"
    >
      <p v-if="ground" class="font-semibold">{{ say(ground.words) }}.</p>
      <p class="mt-1">What stands in the tires now?</p>
      <div class="mt-2 flex flex-wrap gap-1.5">
        <Presses v-model="form.plan_kept" look="chip min-h-11 px-3" :choices="KEPT" />
      </div>
      <Refusal name="plan_kept" />
    </div>
    <div class="grid gap-5 sm:grid-cols-2">
      <div>
        <ChoiceField
          v-model="form.gauge"
          label="Gauge in hand"
          :choices="
            usable.map((g) => ({
              key: g.id as number | null,
              name: `${g.label} · ${g.kind_name.toLowerCase()}`,
              ...(g.condition ? { note: say(g.condition) } : {}),
            }))
          "
          name="gauge"
        />
        <p v-if="gauge?.condition" class="mt-1 text-sm font-medium text-rust">
          {{ say(gauge.condition) }}
          <RouterLink
            v-if="gauge.worth"
            :to="{ name: 'gauge', params: { gauge: gauge.id }, query: { back: $route.fullPath } }"
            >What comparing it would give</RouterLink
          >
        </p>
        <p v-else-if="gauge" class="mt-1 text-sm text-soft">
          {{ show('pressure', gauge.low_kpa) }} to {{ show('pressure', gauge.high_kpa) }}, compared
          {{ spokenDay(gauge.compared_on!) }}
        </p>
        <p v-if="gauges.data.value && !usable.length" class="mt-1 text-sm">
          No gauge yet.
          <RouterLink :to="{ name: 'gauges', query: { add: '1', back: $route.fullPath } }"
            >Put yours into the drawer</RouterLink
          >
        </p>
      </div>
      <div>
        <TextField v-model="form.standing_h" label="Stood for, hours" inputmode="decimal" name="standing_h" />
        <div class="mt-1.5 flex flex-wrap items-center gap-1 text-sm">
          <Presses v-model="form.standing_h" :choices="STOOD" look="chip quiet px-2 py-0.5" />
          <span v-if="work.answer.value" class="ml-2" :class="cold ? 'text-green' : 'font-medium text-rust'">{{
            say(work.answer.value.words)
          }}</span>
        </div>
      </div>
      <ChoiceField
        v-if="!cold"
        v-model="form.driven"
        label="Driven before"
        :choices="[
          { key: 'highway' as const, name: 'Highway' },
          { key: 'town' as const, name: 'Town' },
        ]"
        name="driven"
      />
      <ChoiceField
        v-if="!byHand"
        v-model="form.place_key"
        label="Air at"
        :choices="
          places.map((p) => ({
            key: p.key,
            name: p.name,
            note: showWhole('length', p.elevation_m),
          }))
        "
        name="place_key"
      />
    </div>
    <div v-if="byHand" class="mt-4 grid grid-cols-2 gap-4 sm:grid-cols-4">
      <QuantityField v-model="form.outside_c" label="Outside now" kind="temperature" name="outside_c" />
      <QuantityField v-model="form.elevation_m" label="Elevation" kind="length" whole name="elevation_m" />
      <QuantityField
        v-model="form.morning_c"
        label="This morning's low"
        kind="temperature"
        hint="If it is later in the day"
        name="morning_c"
      />
      <QuantityField v-model="form.dawn_c" label="Coming dawn low" kind="temperature" name="dawn_c" />
    </div>
    <div class="mt-4 grid grid-cols-2 items-end gap-4 sm:grid-cols-3">
      <QuantityField v-model="form.odometer" label="Odometer" kind="distance" name="odometer" />
      <ChoiceField
        v-model="form.sunny"
        label="Sun on"
        :choices="[
          { key: '' as const, name: 'No side' },
          { key: 'left' as const, name: 'The left side' },
          { key: 'right' as const, name: 'The right side' },
        ]"
        name="sunny"
      />
      <label class="col-span-2 flex min-h-10 items-center gap-2 sm:col-span-1"
        ><input v-model="form.rolled" type="checkbox" class="size-5 accent-teal" /> Rolled since the last round</label
      >
    </div>
    <p v-if="byHand && air.old && !from" class="mt-2 text-sm font-medium text-rust">
      {{ say(air.age_words!) }}:
      <button type="button" class="link" @click="still">it is still {{ show('temperature', air.outside_c!) }}</button>
    </p>
    <label class="mt-3 flex min-h-10 items-center gap-2"
      ><input v-model="inShop" type="checkbox" class="size-5 accent-teal" @change="form.shop_c = null" /> It stands in a
      heated shop</label
    >
    <QuantityField
      v-if="inShop"
      v-model="form.shop_c"
      class="max-w-60"
      label="Temperature in the shop"
      kind="temperature"
      hint="The tires are as warm as that; the target is for the air outside"
      name="shop_c"
    />
    <p v-if="!byHand && air.stamp" class="mt-2 text-sm font-semibold text-rust">{{ air.stamp }}</p>
    <button v-if="byHand ? places.length : true" type="button" class="link mt-2 text-sm" @click="byHand = !byHand">
      {{ byHand ? 'Ask the weather service instead' : 'Enter the air by hand' }}
    </button>
    <div class="mt-5 flex flex-wrap items-center gap-4">
      <button class="button button-next" :disabled="busy || form.gauge === null">{{ action }}</button>
      <slot />
      <Refusal :message="message && !Object.keys(fields).length ? message : fields.rig" />
    </div>
  </EntryForm>
</template>
