<script setup lang="ts">
/** Water, fuel, people, cargo put somewhere: every axle's load, every margin, and what may still go there. */
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import type { Placed } from '@/shared/drawing'
import Overloads from '@/shared/Overloads.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import RigDrawing from '@/shared/RigDrawing.vue'
import { pairs, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { figure, inField, metersOf, say, show, spokenDay, unitOf, type Entry } from '@/shared/units'
import { useDrag } from '@/shared/useDrag'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import GrossLoads from './GrossLoads.vue'
import LoadBar from './LoadBar.vue'
import WeighPages from './WeighPages.vue'
import { BARS } from './words'

interface Item {
  what: Schemas['PlacedIn']['what']
  label: string
  liters: Entry
  mass: Entry
  rig: number
  x: number
  y: number
}
const { id, sheet } = useFrame()
const router = useRouter()
const rig = computed(() => sheet.value.rig)
const vehicles = computed(() =>
  rig.value.head === null ? sheet.value.train : sheet.value.train.filter((t) => t.id === id.value),
)
const { session, may } = useSession()
const what = computed(() => pairs<Item['what']>(session.value?.cargo))
const isLiquid = (key: string) => Boolean(session.value?.cargo.find((c) => c.key === key)?.liquid)
const items = ref<Item[]>([])
const chosen = ref(0)
const form = reactive({
  bars: sheet.value.weighing?.bars as Schemas['SaveWhatIfIn']['bars'],
  restore: String(session.value?.bars_restore ?? ''),
})
form.bars ??= ''
const item = computed(() => items.value[chosen.value])
const middle = (v: { axles: { position_m: number }[] }) =>
  Math.round((v.axles.at(-1)!.position_m / 2) * 10) / 10

function add() {
  const where = item.value
  items.value.push({
    what: 'cargo',
    label: '',
    liters: null,
    mass: null,
    rig: where?.rig ?? id.value,
    x: where ? Math.round((where.x + 0.5) * 10) / 10 : middle(vehicles.value[0]!),
    y: 0,
  })
  chosen.value = items.value.length - 1
  void nextTick(() => document.querySelector<HTMLElement>('#put input')?.focus())
}
const gone = ref<{ at: number; item: Item } | null>(null)
function remove(i: number) {
  gone.value = { at: i, item: items.value[i]! }
  items.value.splice(i, 1)
  chosen.value = Math.max(0, Math.min(chosen.value, items.value.length - 1))
}
function bringBack() {
  if (gone.value) items.value.splice(gone.value.at, 0, gone.value.item)
  gone.value = null
}
watch(
  () => item.value?.what,
  (now) => {
    if (item.value && now && !isLiquid(now)) item.value.liters = null
  },
)

// -- where things are on the drawing -----------------------------------------------------------------
const drawing = ref<InstanceType<typeof RigDrawing>>()
const { take, drag, drop } = useDrag<Item>((e) => drawing.value!.meters(e))
/** Puts a mass somewhere on the drawing: it rides on the vehicle that is nearest there. */
function moveTo(i: Item, at: { x: number; y: number }, placed: Placed[]) {
  const off = (p: Placed) => Math.max(p.nose - at.x, at.x - p.tail, 0)
  const on = [...placed].sort((p, q) => off(p) - off(q))[0]!
  i.rig = on.id
  i.x = Math.round((at.x - on.at) * 20) / 20
  const side = on.width / 2
  i.y = Math.round(Math.min(side, Math.max(-side, at.y)) * 20) / 20
}
function onKey(event: KeyboardEvent, i: number, placed: Placed[]) {
  const step = event.shiftKey ? 1 : 0.1
  const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[
    event.key
  ]
  if (by) {
    event.preventDefault()
    const it = items.value[i]!
    const from = placed.find((p) => p.id === it.rig)!
    moveTo(it, { x: from.at + it.x + by[0]!, y: it.y + by[1]! }, placed)
  } else if (event.key === 'Delete' || event.key === 'Backspace') {
    event.preventDefault()
    remove(i)
  }
}
const x = computed({
  get: () => item.value?.x as Entry,
  set: (entry: Entry) => item.value && (item.value.x = metersOf(entry) ?? item.value.x),
})
const y = computed({
  get: () => item.value?.y as Entry,
  set: (entry: Entry) => item.value && (item.value.y = metersOf(entry) ?? item.value.y),
})
/** Into another vehicle: its middle, since the old place means nothing there. */
function into(vehicle: number) {
  if (!item.value || item.value.rig === vehicle) return
  item.value.rig = vehicle
  item.value.x = middle(vehicles.value.find((v) => v.id === vehicle)!)
}

// -- the answers -------------------------------------------------------------------------------------
const complete = computed(() => items.value.filter((i) => i.mass !== null || i.liters !== null))
const body = computed(() => ({
  weighing: null,
  placed: complete.value.map((i) => ({
    what: i.what,
    label: i.label,
    liters: isLiquid(i.what) && i.liters !== null ? i.liters : null,
    mass: isLiquid(i.what) && i.liters !== null ? null : i.mass,
    rig: i.rig,
    x: i.x,
    y: i.y,
  })),
  bars: form.bars,
  restore: form.restore,
}))
const inputs = computed(() =>
  sheet.value.weighing
    ? {
        rig: id.value,
        ...body.value,
        at_rig: item.value?.rig ?? null,
        at_x: item.value?.x ?? null,
        at_y: item.value?.y ?? null,
      }
    : null,
)
const work = useWork(inputs, (data) =>
  answer(api.POST('/api/v1/work/weighing/what-if', { body: data as Schemas['WorkWhatIfIn'] })),
)
const answered = computed(() => work.answer.value)
const pressures = useWork(
  computed(() => (inputs.value && sheet.value.targets ? { ...body.value, rig: id.value } : null)),
  (data) =>
    answer(
      api.POST('/api/v1/work/targets/what-if', {
        body: {
          ...data,
          reserve: sheet.value.targets!.reserve,
          edge: sheet.value.targets!.edge,
          step: sheet.value.targets!.step,
        } as Schemas['WorkWhatIfTargetsIn'],
      }),
    ),
)
const pressure = (vehicle: number, number: number) =>
  pressures.answer.value?.find((p) => p.rig === vehicle && p.number === number)
const change = (vehicle: number, number: number) => {
  const found = answered.value?.changes.find((c) => c.rig === vehicle && c.number === number)
  return found ? found.left_kg + found.right_kg : 0
}
const signed = (kg: number) => `${kg > 0 ? '+' : ''}${show('mass', kg)}`
const all = computed(() => (answered.value ? [answered.value.loads, ...answered.value.loads.others] : []))
const massOf = (i: Item) => {
  const at = complete.value.indexOf(i)
  return at < 0 ? null : (answered.value?.masses_kg[at] ?? null)
}
const index = computed(() => complete.value.indexOf(item.value!))
const no = (field: string) =>
  index.value >= 0 ? work.fields.value[`placed.${index.value}.${field}`] : undefined
const general = computed(() => {
  const own = Object.entries(work.fields.value).filter(([f]) => !f.startsWith(`placed.${index.value}.`))
  return own[0]?.[1] ?? ''
})

const name = ref('')
const saving = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/worked-out', {
      params: { path: { rig_id: id.value } },
      body: { ...body.value, load_state: name.value } as Schemas['SaveWhatIfIn'],
    }),
  )
  await refreshAll()
  await router.push({ name: 'weighing', params: { id: id.value } })
})
const reach = (i: Item) => {
  const v = vehicles.value.find((t) => t.id === i.rig)
  const side =
    Math.abs(i.y) < 0.05 ? 'center' : `${show('length', Math.abs(i.y))} ${i.y < 0 ? 'left' : 'right'}`
  const along = i.x < 0 ? `${show('length', -i.x)} ahead of` : `${show('length', i.x)} behind`
  return `${along} axle 1 of ${v?.name ?? ''}, ${side}`
}
</script>

<template>
  <WeighPages />
  <h1>What if</h1>
  <p class="text-soft">
    Put water, fuel, people or cargo where it would ride, or take it off with a minus.
    <template v-if="sheet.weighing"
      >On top of {{ sheet.weighing.load_state }},
      {{ sheet.weighing.way === 'worked out' ? 'worked out from' : 'weighed' }}
      {{ spokenDay(sheet.weighing.weighed_on) }}.</template
    >
  </p>
  <p v-if="!sheet.weighing" class="mt-6">
    It is not weighed yet, so there is nothing to put on top of.
    <RouterLink :to="{ name: 'weighing', params: { id } }" class="button button-next ml-2"
      >Weigh it</RouterLink
    >
  </p>
  <template v-else>
    <Overloads v-if="answered" class="mt-4" :over="answered.loads.over" :caution="answered.loads.caution" />
    <div class="mt-4">
      <RigDrawing ref="drawing" v-slot="{ px, py, placed }" :vehicles="vehicles" label="Where things ride">
        <g
          v-for="(i, n) in items"
          :key="n"
          role="button"
          tabindex="0"
          class="group cursor-move outline-none"
          :aria-label="`${i.label || i.what}, ${reach(i)}. Arrow keys move it.`"
          :aria-pressed="n === chosen"
          @focus="chosen = n"
          @keydown="onKey($event, n, placed)"
          @pointerdown="((chosen = n), take($event, i, (w, at) => moveTo(w, at, placed)))"
          @pointermove="drag"
          @pointerup="drop"
          @pointercancel="drop"
        >
          <template v-for="p in placed.filter((p) => p.id === i.rig)" :key="p.id">
            <circle
              :cx="px(p.at + i.x)"
              :cy="py(i.y)"
              r="17"
              class="stroke-ink group-focus-visible:stroke-teal group-focus-visible:stroke-[5px]"
              :class="n === chosen ? 'fill-buoy' : 'fill-water'"
              stroke-width="1.5"
            />
            <text
              :x="px(p.at + i.x)"
              :y="py(i.y) + 5"
              text-anchor="middle"
              class="text-[14px] font-bold"
              :class="n === chosen ? 'fill-onbuoy' : 'fill-ink'"
            >
              {{ n + 1 }}
            </text>
          </template>
        </g>
      </RigDrawing>
    </div>
    <div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-2">
      <button type="button" class="button" :class="{ 'button-next': !items.length }" @click="add">
        Put something aboard
      </button>
      <span v-if="items.length" class="text-sm text-soft">Drag it, or move it with the arrow keys</span>
      <span v-if="gone" class="text-sm"
        >Taken away. <button type="button" class="link" @click="bringBack">Bring it back</button></span
      >
    </div>

    <div v-if="item" id="put" class="mt-4 border-t border-hairline pt-3">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>
          {{ chosen + 1 }} <span class="font-normal text-soft">{{ reach(item) }}</span>
        </h2>
        <p v-if="answered?.cargo" class="text-soft" :class="{ stale: work.stale.value }">
          may still go there
          <span class="ml-2 text-3xl font-bold text-ink">{{
            figure('mass', answered.cargo.left_kg, 'down')
          }}</span>
          {{ unitOf('mass') }}
        </p>
      </div>
      <p v-if="answered?.cargo" class="text-right text-sm text-soft">
        bound by {{ answered.cargo.bound_by
        }}<template v-if="answered.cargo_label_kg !== null"
          >; its label's capacity is {{ show('mass', answered.cargo_label_kg) }} in all</template
        >
      </p>
      <div class="mt-2 grid grid-cols-2 gap-4 lg:grid-cols-6">
        <QuantityField
          v-if="isLiquid(item.what)"
          v-model="item.liters"
          label="How much"
          kind="volume"
          :message="no('liters') ?? no('mass')"
        />
        <QuantityField v-else v-model="item.mass" label="Weighs" kind="mass" :message="no('mass')" />
        <ChoiceField v-model="item.what" label="What" :choices="what" />
        <TextField v-model="item.label" label="Called" :message="no('label')" />
        <QuantityField v-model="x" label="Behind axle 1" kind="length" :message="no('x')" />
        <QuantityField v-model="y" label="Right of center" kind="length" :message="no('y')" />
        <ChoiceField
          v-if="vehicles.length > 1"
          :model-value="item.rig"
          label="In"
          :choices="vehicles.map((v) => ({ key: v.id, name: v.name }))"
          :message="no('rig')"
          @update:model-value="into"
        />
        <button type="button" class="link self-end py-2 text-left" @click="remove(chosen)">
          Take it away
        </button>
      </div>
    </div>
    <ul v-if="items.length > 1" class="mt-3 border-t border-hairline">
      <li v-for="(i, n) in items" :key="n" class="border-b border-hairline">
        <button
          type="button"
          class="flex w-full cursor-pointer flex-wrap items-baseline gap-x-4 py-1.5 text-left"
          :class="{ 'font-semibold': n === chosen }"
          @click="chosen = n"
        >
          <span class="w-5 font-bold">{{ n + 1 }}</span>
          <span>{{ i.label || what.find((w) => w.key === i.what)?.name }}</span>
          <span class="text-sm font-normal text-soft">{{ reach(i) }}</span>
          <span class="ml-auto">{{
            massOf(i) === null ? inField('mass', i.mass) || 'nothing yet' : show('mass', massOf(i)!)
          }}</span>
        </button>
      </li>
    </ul>
    <div v-if="vehicles.length > 1 && vehicles[1]!.pulled" class="mt-4 flex flex-wrap gap-4">
      <ChoiceField v-model="form.bars" class="w-56" label="Weight-distribution bars" :choices="BARS" />
      <TextField
        v-if="form.bars === 'engaged'"
        v-model="form.restore"
        class="w-56"
        label="Share of the front's loss given back"
        inputmode="decimal"
        :message="work.fields.value.restore"
      />
    </div>
    <Refusal :message="general || (Object.keys(work.fields.value).length ? '' : work.message.value)" />

    <div v-if="answered" :class="{ stale: work.stale.value }">
      <Banner v-if="answered.weigh_again" class="mt-4">
        {{
          say({
            text: '{0} put aboard is {1} of what was weighed: weigh it again once it is so.',
            values: [
              { kind: 'mass', value: answered.added_kg, toward: 'nearest' },
              { kind: 'share', value: answered.added_share!, toward: 'nearest' },
            ],
          })
        }}
      </Banner>
      <p v-for="(n, k) in answered.notes" :key="k" class="mt-2 text-sm">{{ say(n) }}</p>
      <template v-for="v in all" :key="v.rig">
        <h2 v-if="all.length > 1" class="mt-6 text-lg">{{ v.name }}</h2>
        <div class="relative overflow-x-auto">
          <table class="plain mt-2">
            <thead>
              <tr>
                <th>Axle</th>
                <th class="figure">Left</th>
                <th class="figure">Right</th>
                <th class="figure">Axle</th>
                <th class="figure">Change</th>
                <th class="min-w-40">Nearest limit</th>
                <th v-if="sheet.targets" class="figure">Pressure</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="a in v.axles" :key="a.number">
                <td class="font-semibold">{{ a.name }}</td>
                <td class="figure">{{ a.left_kg === null ? '–' : show('mass', a.left_kg) }}</td>
                <td class="figure">{{ a.right_kg === null ? '–' : show('mass', a.right_kg) }}</td>
                <td class="figure text-lg font-bold">
                  {{ a.total_kg === null ? 'unknown' : show('mass', a.total_kg) }}
                </td>
                <td class="figure">{{ signed(change(v.rig, a.number)) }}</td>
                <td>
                  <LoadBar
                    v-for="c in [...a.checks].sort((p, q) => q.share - p.share).slice(0, 1)"
                    :key="c.what"
                    :check="c"
                  />
                </td>
                <td v-if="sheet.targets" class="figure whitespace-nowrap">
                  <template v-if="pressure(v.rig, a.number)">
                    <span v-if="pressure(v.rig, a.number)!.then_kpa === null" class="text-rust">{{
                      say(pressure(v.rig, a.number)!.words)
                    }}</span>
                    <template v-else>
                      {{ show('pressure', pressure(v.rig, a.number)!.then_kpa!, 'up') }}
                      <span
                        v-if="
                          pressure(v.rig, a.number)!.now_kpa !== null &&
                          pressure(v.rig, a.number)!.then_kpa !== pressure(v.rig, a.number)!.now_kpa
                        "
                        class="block text-sm text-soft"
                        >now {{ show('pressure', pressure(v.rig, a.number)!.now_kpa!, 'up') }}</span
                      >
                    </template>
                  </template>
                </td>
              </tr>
            </tbody>
          </table>
        </div>
        <GrossLoads
          name="Gross"
          :loads="v"
          :combined="v.rig === id ? answered.loads.combined_kg : undefined"
        />
      </template>
    </div>

    <form
      v-if="may('weigh') && (complete.length || form.bars !== (sheet.weighing.bars ?? ''))"
      class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5"
      novalidate
      @submit.prevent="saving.save()"
    >
      <TextField
        v-model="name"
        class="w-64"
        label="Keep as load state"
        hint="Marked: worked out, not weighed"
        :message="saving.fields.value.load_state"
      />
      <button class="button mb-6" :disabled="saving.busy.value || !name.trim() || !answered">Keep it</button>
      <Refusal :message="saving.fields.value.load_state ? '' : saving.message.value" />
    </form>
  </template>
</template>
