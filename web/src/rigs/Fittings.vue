<script setup lang="ts">
/** The tires that are on a rig: what stands on them, where they were, what speaks against them. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { BLANK_WHEEL } from '@/shared/scale'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { say, show, spokenDay, system, today, tread, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import { useFrame } from './frame'
import { refreshRig, tiresOf } from './queries'

const { id, sheet, states, caption, picked } = useFrame()
const { may } = useSession()
const rig = computed(() => sheet.value.rig)
const { data: tires } = useQuery(tiresOf(id))
const at = (code: string) => tires.value?.fitted.find((t) => t.wheel === code)
const findingsAt = (code: string) => tires.value?.findings.filter((f) => f.wheel === code) ?? []

watch(
  [tires, system],
  () => {
    if (!tires.value?.fitted.length) return
    states.value = Object.fromEntries(
      rig.value.wheels.map((w) => {
        const tire = at(w.code)
        const found = findingsAt(w.code)
        return [
          w.code,
          {
            ...BLANK_WHEEL,
            word: found.some((f) => f.urgent) ? ('add' as const) : BLANK_WHEEL.word,
            words: found.length ? `${w.code} look` : tire ? w.code : 'no tire',
            text: tire ? tire.date_code || '•' : '',
          },
        ]
      }),
    )
    caption.value = 'date code of each tire'
  },
  { immediate: true },
)

const wheel = computed(() => rig.value.wheels.find((w) => w.code === picked.value))
const tire = computed(() => (wheel.value ? at(wheel.value.code) : undefined))
const history = useQuery({
  queryKey: ['tire', computed(() => tire.value?.id)],
  queryFn: () =>
    answer(api.GET('/api/v1/tires/{tire_id}/fittings', { params: { path: { tire_id: tire.value!.id } } })),
  enabled: computed(() => Boolean(tire.value)),
})

// -- fitting ------------------------------------------------------------------------------------
const fitting = ref(false)
const blank = () => ({
  from: 0,
  tire_size: '',
  tire_make: '',
  load_range: '',
  date_code: '',
  sensor: '',
  diameter: '',
  sidewall_max_kpa: null as Entry,
  tread: '',
  odometer: null as Entry,
  fitted_on: today(),
})
const form = reactive(blank())
watch(picked, () => {
  fitting.value = false
  Object.assign(form, blank())
})
const marking = computed(() =>
  form.tire_size || form.date_code
    ? { tire_size: form.tire_size || described.value, date_code: form.date_code }
    : null,
)
const described = computed(() => {
  const w = wheel.value
  if (!w) return ''
  const own = w.axle ? rig.value.axles[w.axle - 1] : rig.value.spares[Number(w.code.slice(1)) - 1]
  return own?.tire_size ?? ''
})
const work = useWork(marking, (data) =>
  answer(api.POST('/api/v1/work/rigs/size', { body: data as Schemas['NewTireIn'] })),
)
const store = computed(() => [
  { key: 0, name: 'A new tire' },
  ...(tires.value?.store ?? []).map((t) => ({
    key: t.id,
    name: `From the store: ${[t.tire_make, t.tire_size].filter(Boolean).join(' ')}`,
    note: [t.date_code && `date code ${t.date_code}`, t.sensor].filter(Boolean).join(', '),
  })),
])
const { save, busy, fields, message } = useSave(async () => {
  const fresh = form.from === 0
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/fittings', {
      params: { path: { rig_id: id.value } },
      body: {
        wheel: wheel.value!.code,
        tire: fresh ? null : form.from,
        new: fresh
          ? ({
              tire_size: form.tire_size,
              tire_make: form.tire_make,
              load_range: form.load_range,
              date_code: form.date_code,
              sensor: form.sensor,
              diameter: form.diameter || null,
              sidewall_max_kpa: form.sidewall_max_kpa,
            } as Schemas['NewTireIn'])
          : null,
        fitted_on: form.fitted_on,
        odometer: form.odometer,
        tread: form.tread || null,
      },
    }),
  )
  fitting.value = false
  Object.assign(form, blank())
  await refreshRig(id.value)
})
const no = (field: string) => fields.value[`new.${field}`] ?? fields.value[field] ?? work.fields.value[field]

// -- taking off, moving ---------------------------------------------------------------------------
const off = reactive({ on: today(), reason: '' })
const {
  save: takeOff,
  message: offMessage,
  fields: offFields,
} = useSave(async (retire: boolean) => {
  const gone = tire.value!
  await answer(
    api.POST('/api/v1/tires/{tire_id}/remove', {
      params: { path: { tire_id: gone.id } },
      body: { removed_on: off.on, reason: off.reason, retire },
    }),
  )
  undo.value = { wheel: gone.wheel, tire: gone.id, retired: retire, name: wheel.value!.name }
  await refreshRig(id.value)
})
const undo = ref<{ wheel: string; tire: number; retired: boolean; name: string } | null>(null)
const { save: putBack, message: undoMessage } = useSave(async () => {
  const last = undo.value!
  if (last.retired)
    await answer(api.POST('/api/v1/tires/{tire_id}/restore', { params: { path: { tire_id: last.tire } } }))
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/fittings', {
      params: { path: { rig_id: id.value } },
      body: { wheel: last.wheel, tire: last.tire, fitted_on: off.on },
    }),
  )
  undo.value = null
  await refreshRig(id.value)
})

const rotation = reactive({ odometer: null as Entry, on: today() })
const {
  save: rotate,
  message: rotateMessage,
  fields: rotateFields,
  busy: rotating,
} = useSave(async (moves: Record<string, string>) => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/moves', {
      params: { path: { rig_id: id.value } },
      body: { moves, moved_on: rotation.on, odometer: rotation.odometer },
    }),
  )
  await refreshRig(id.value)
})
const torque = reactive({ odometer: null as Entry })
const {
  save: torqued,
  message: torqueMessage,
  fields: torqueFields,
} = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/torques', {
      params: { path: { rig_id: id.value } },
      body: { done_on: today(), odometer: torque.odometer! },
    }),
  )
  torque.odometer = null
  await refreshRig(id.value)
})
const meter = reactive({ odometer: null as Entry })
const {
  save: corrected,
  message: meterMessage,
  fields: meterFields,
} = useSave(async () => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/odometer', {
      params: { path: { rig_id: id.value } },
      body: { odometer: meter.odometer! },
    }),
  )
  meter.odometer = null
  await refreshRig(id.value)
})
const spoken = (moves: Record<string, string>) =>
  Object.entries(moves)
    .map(([from, to]) => `${from} → ${to}`)
    .join(', ')
</script>

<template>
  <section class="mt-8 border-t border-hairline pt-4" aria-label="Tires">
    <h2>Tires</h2>
    <p class="text-soft">Pick a wheel on the plan to fit a tire, take one off, or see where it has been.</p>

    <ul v-if="tires?.findings.length" class="mt-3">
      <li v-for="(f, i) in tires.findings" :key="i">
        <button
          type="button"
          class="flex cursor-pointer items-baseline gap-2 py-0.5 text-left"
          :class="f.urgent ? 'font-semibold text-rust' : ''"
          @click="picked = f.wheel"
        >
          <span v-if="f.urgent" class="size-2.5 shrink-0 self-center bg-rust" aria-hidden="true" />
          {{ f.words }}
        </button>
      </li>
    </ul>
    <form
      v-if="tires?.retorque"
      class="mt-3 flex flex-wrap items-end gap-4 border-l-4 border-buoy bg-paper px-4 py-3"
      novalidate
      @submit.prevent="torqued()"
    >
      <p class="w-full font-semibold">{{ say(tires.retorque) }}</p>
      <template v-if="may('fit')">
        <QuantityField
          v-model="torque.odometer"
          class="w-44"
          label="Torqued at odometer"
          kind="distance"
          :message="torqueFields.odometer"
        />
        <button class="button">Done</button>
      </template>
      <Refusal :message="torqueMessage" />
    </form>
    <Opening
      v-if="tires && tires.odometer_km !== null && may('fit')"
      class="mt-2"
      :label="`Odometer at ${show('distance', tires.odometer_km)}: correct it`"
    >
      <form class="mt-2 flex flex-wrap items-end gap-4" novalidate @submit.prevent="corrected()">
        <p class="w-full max-w-xl text-soft">
          Only where it was mistyped, or another odometer was put in: what was noted before stays as it is.
        </p>
        <QuantityField
          v-model="meter.odometer"
          class="w-44"
          label="The odometer shows"
          kind="distance"
          :message="meterFields.odometer"
        />
        <button class="button">Correct</button>
        <Refusal :message="meterMessage" />
      </form>
    </Opening>
    <p v-if="undo" class="mt-3">
      {{ undo.name }}: the tire is {{ undo.retired ? 'retired' : 'in the store' }}.
      <button type="button" class="link" @click="putBack()">Put it back</button>
      <Refusal :message="undoMessage" />
    </p>

    <div v-if="wheel" class="mt-4 border-t border-hairline pt-3">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h3 class="font-semibold">
          {{ wheel.name }} <span class="font-normal text-soft">· {{ wheel.code }}</span>
        </h3>
        <p v-if="tire" class="text-xl font-bold">{{ tire.tire_size }}</p>
      </div>
      <template v-if="tire">
        <dl class="mt-1 grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
          <div>
            <dt class="text-sm text-soft">Make and model</dt>
            <dd>{{ tire.tire_make || 'not known' }}</dd>
          </div>
          <div>
            <dt class="text-sm text-soft">Date code</dt>
            <dd :class="{ 'font-semibold text-rust': tire.old }">
              {{ tire.date_code ? `${tire.date_code}, ${tire.age_words}` : 'not known' }}
            </dd>
          </div>
          <div>
            <dt class="text-sm text-soft">Fitted</dt>
            <dd>
              {{ tire.fitted_on && spokenDay(tire.fitted_on)
              }}<template v-if="tire.tread_mm !== null">, {{ tread(tire.tread_mm) }}</template>
            </dd>
          </div>
          <div v-if="tire.sensor || tire.diameter_mm">
            <dt class="text-sm text-soft">Sensor, measured diameter</dt>
            <dd>
              {{ [tire.sensor, tire.diameter_mm && `${tire.diameter_mm} mm`].filter(Boolean).join(', ') }}
            </dd>
          </div>
        </dl>
        <Opening label="Where it has been" class="mt-2 text-sm">
          <ol>
            <li v-for="(h, i) in history.data.value ?? []" :key="i" class="border-t border-hairline py-1.5">
              {{ h.rig_name }} {{ h.wheel }}, {{ spokenDay(h.fitted_on) }} to
              {{ h.removed_on ? spokenDay(h.removed_on) : 'now'
              }}<template v-if="h.odometer_km !== null"> at {{ show('distance', h.odometer_km) }}</template
              ><template v-if="h.removed_reason">: {{ h.removed_reason }}</template>
              <span class="text-soft"> ({{ h.by }})</span>
            </li>
          </ol>
        </Opening>
      </template>
      <p v-else class="mt-1 text-soft">No tire is entered here. The rig is described with {{ described }}.</p>

      <div v-if="may('fit')" class="mt-3 flex flex-wrap items-end gap-4">
        <button v-if="!fitting" type="button" class="button" @click="fitting = true">
          {{ tire ? 'Fit another' : 'Fit a tire' }}
        </button>
        <template v-if="tire && !fitting">
          <TextField
            v-model="off.on"
            class="w-44"
            label="Off on"
            type="date"
            :message="offFields.removed_on"
          />
          <TextField v-model="off.reason" class="w-56" label="Why" :message="offFields.reason" />
          <button type="button" class="button" @click="takeOff(false)">To the store</button>
          <button type="button" class="button" @click="takeOff(true)">Retire it</button>
        </template>
        <Refusal :message="offMessage" />
      </div>
      <form v-if="fitting" class="mt-3" novalidate @submit.prevent="save()">
        <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
          <ChoiceField v-model="form.from" label="Which" :choices="store" :message="no('tire')" />
          <template v-if="form.from === 0">
            <TextField
              v-model="form.tire_size"
              upper
              label="Size on its sidewall"
              :placeholder="described"
              :message="no('tire_size')"
              :hint="work.answer.value?.words ?? 'Empty: as the rig is described'"
            />
            <TextField v-model="form.tire_make" label="Make and model" :message="no('tire_make')" />
            <TextField
              v-model="form.date_code"
              label="Date code"
              inputmode="numeric"
              hint="Last four digits, week and year"
              :message="no('date_code')"
            />
            <TextField v-model="form.load_range" upper label="Load range" :message="no('load_range')" />
            <QuantityField
              v-model="form.sidewall_max_kpa"
              label="Sidewall maximum, cold"
              kind="pressure"
              :message="no('sidewall_max_kpa')"
            />
            <TextField v-model="form.sensor" label="Sensor" :message="no('sensor')" />
            <TextField
              v-model="form.diameter"
              label="Measured diameter"
              hint="838 mm or 33 in"
              :message="no('diameter')"
            />
          </template>
          <TextField v-model="form.tread" label="Tread now" hint="8 mm or 10/32 in" :message="no('tread')" />
          <QuantityField
            v-model="form.odometer"
            label="Odometer"
            kind="distance"
            hint="Brings the reminder to torque again"
            :message="no('odometer')"
          />
          <TextField v-model="form.fitted_on" label="Fitted on" type="date" :message="no('fitted_on')" />
        </div>
        <div class="mt-4 flex flex-wrap items-center gap-4">
          <button class="button button-next" :disabled="busy">Fit it</button>
          <button type="button" class="link" @click="fitting = false">Leave it</button>
          <Refusal :message="message" />
        </div>
      </form>
    </div>

    <Opening v-if="tires?.rotations.length && may('fit')" class="mt-4" label="Rotate">
      <div class="flex flex-wrap gap-4">
        <TextField
          v-model="rotation.on"
          class="w-44"
          label="Moved on"
          type="date"
          :message="rotateFields.moved_on"
        />
        <QuantityField
          v-model="rotation.odometer"
          class="w-44"
          label="Odometer"
          kind="distance"
          :message="rotateFields.odometer"
        />
      </div>
      <ul class="mt-2">
        <li
          v-for="r in tires.rotations"
          :key="r.key"
          class="flex flex-wrap items-baseline gap-x-4 border-t border-hairline py-2"
        >
          <span class="font-semibold">{{ r.name }}</span>
          <span class="text-sm text-soft">{{ spoken(r.moves) }}</span>
          <button type="button" class="link" :disabled="rotating" @click="rotate(r.moves)">Done so</button>
        </li>
      </ul>
      <p class="mt-1 text-sm text-soft">
        Work out the pressures again where the axles differ: a tire takes on the target of the axle it moves
        to.
      </p>
      <Refusal :message="rotateMessage || rotateFields.moves" />
    </Opening>
  </section>
</template>
