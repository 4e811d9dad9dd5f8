<script setup lang="ts">
/** Water, fuel, people, cargo put somewhere: every axle's load, every margin, and what may still go there. */
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Overloads from '@/shared/Overloads.vue'
import Refusal from '@/shared/Refusal.vue'
import RigDrawing from '@/shared/RigDrawing.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { inField, say, show, spokenDay } from '@/shared/units'
import { useDrag } from '@/shared/useDrag'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AboardItem from './AboardItem.vue'
import AboardLoads from './AboardLoads.vue'
import { useAboard, useCargo, type Item } from './useAboard'
import WeighPages from './WeighPages.vue'
import { BARS } from './words'

const { id, sheet } = useFrame()
const router = useRouter()
const rig = computed(() => sheet.value.rig)
const vehicles = computed(() =>
  rig.value.head === null ? sheet.value.train : sheet.value.train.filter((t) => t.id === id.value),
)
const { session, may } = useSession()
const { what, isLiquid } = useCargo()
const { items, chosen, item, gone, x, y, add, remove, bringBack, moveTo, onKey, into, reach } = useAboard(
  id,
  vehicles,
  isLiquid,
)
const drawing = ref<InstanceType<typeof RigDrawing>>()
const { take, drag, drop } = useDrag<Item>((e) => drawing.value!.meters(e))
const form = reactive({
  bars: sheet.value.weighing?.bars as Schemas['SaveWhatIfIn']['bars'],
  restore: String(session.value?.bars_restore ?? ''),
})
form.bars ??= ''

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
const massOf = (i: Item) => {
  const at = complete.value.indexOf(i)
  return at < 0 ? null : (answered.value?.masses_kg[at] ?? null)
}
const index = computed(() => complete.value.indexOf(item.value!))
const no = (field: string) => (index.value >= 0 ? work.fields.value[`placed.${index.value}.${field}`] : undefined)
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
    <RouterLink :to="{ name: 'weighing', params: { id } }" class="button button-next ml-2">Weigh it</RouterLink>
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

    <AboardItem
      v-if="item"
      id="put"
      v-model:x="x"
      v-model:y="y"
      v-model:item="item"
      :number="chosen + 1"
      :reach="reach(item)"
      :vehicles="vehicles"
      :answered="answered"
      :stale="work.stale.value"
      :no="no"
      @into="into"
      @remove="remove(chosen)"
    />
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
      <AboardLoads :answered="answered" :pressures="pressures.answer.value ?? []" />
    </div>

    <EntryForm
      v-if="may('weigh') && (complete.length || form.bars !== (sheet.weighing.bars ?? ''))"
      :refused="saving.fields.value"
      class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5"
      @submit="saving.save()"
    >
      <TextField
        v-model="name"
        class="w-64"
        label="Keep as load state"
        hint="Marked: worked out, not weighed"
        name="load_state"
      />
      <button class="button mb-6" :disabled="saving.busy.value || !name.trim() || !answered">Keep it</button>
      <Refusal :message="saving.fields.value.load_state ? '' : saving.message.value" />
    </EntryForm>
  </template>
</template>
