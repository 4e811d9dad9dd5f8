<script setup lang="ts">
/** From a scale ticket to the load on each tire, answered while it is typed. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, reactive, ref, watch } from 'vue'
import { useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, system, unitOf, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import type { WheelState } from '@/shared/scale'
import Working from '@/shared/Working.vue'
import LoadBar from './LoadBar.vue'

const { id, sheet, states, caption } = useFrame()
const { may } = useSession()
const rig = computed(() => sheet.value.rig)

const today = () => new Date().toLocaleDateString('en-CA')
const blank = () =>
  rig.value.axles.map(() => ({ whole_kg: null as Entry, left_kg: null as Entry, right_kg: null as Entry }))
const form = reactive({
  load_state: sheet.value.load_states[0] ?? 'trip-ready',
  weighed_on: today(),
  scale: sheet.value.weighing?.scale ?? '',
  resolution_kg: (sheet.value.weighing?.resolution_kg ?? null) as Entry,
  note: '',
  amends: null as number | null,
  axles: blank(),
})
const weighings = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () =>
    answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})

const typed = computed(() =>
  form.axles.some((a) => a.whole_kg !== null || a.left_kg !== null || a.right_kg !== null),
)
const inputs = computed(() =>
  typed.value
    ? { rig: id.value, resolution_kg: form.resolution_kg, axles: form.axles.map((a) => ({ ...a })) }
    : null,
)
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/weighing', { body })))
const loads = computed(() => (typed.value ? work.answer.value : (sheet.value.weighing?.loads ?? null)))
const loadOf = (number: number) => loads.value?.axles.find((a) => a.number === number)

watch(
  [loads, system],
  () => {
    const found: Record<string, WheelState> = {}
    for (const wheel of rig.value.wheels) {
      const axle = wheel.axle ? loadOf(wheel.axle) : undefined
      const across = rig.value.axles.find((a) => a.number === wheel.axle)?.wheels ?? 2
      const end = wheel.side === 'L' ? axle?.left_kg : wheel.side === 'R' ? axle?.right_kg : axle?.total_kg
      const own = end === null || end === undefined ? undefined : across === 4 ? end / 2 : end
      const load = own ?? axle?.per_tire_kg
      found[wheel.code] = {
        floor: null,
        target: null,
        ceiling: null,
        level: null,
        word: 'not_checked',
        words:
          load === null || load === undefined
            ? wheel.axle
              ? 'unknown'
              : 'no load'
            : own === undefined
              ? 'assumed'
              : unitOf('mass'),
        ...(load === null || load === undefined ? {} : { text: figure('mass', load).replace(',', '') }),
      }
    }
    states.value = found
    caption.value = typed.value
      ? 'load on each tire, as typed'
      : loads.value
        ? 'load on each tire'
        : 'not weighed yet'
  },
  { immediate: true },
)

const { save, busy, fields, message } = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/weighings', {
      params: { path: { rig_id: id.value } },
      body: { ...form, axles: form.axles.map((a) => ({ ...a })) },
    }),
  )
  await refreshRig(id.value)
  Object.assign(form, { axles: blank(), note: '', amends: null })
})
async function submit() {
  await save()
  await work.settled()
  await nextTick()
  document.querySelector<HTMLElement>('form [aria-invalid="true"]')?.focus()
}
const no = (field: string) => fields.value[field] ?? (typed.value ? work.fields.value[field] : undefined)

const amending = ref<Schemas['WeighingOut'] | null>(null)
function amend(w: Schemas['WeighingOut']) {
  amending.value = w
  Object.assign(form, {
    load_state: w.load_state,
    weighed_on: w.weighed_on,
    scale: w.scale,
    resolution_kg: w.resolution_kg,
    note: w.note,
    amends: w.id,
    axles: rig.value.axles.map((_, i) => ({
      whole_kg: w.typed[i]?.whole_kg ?? null,
      left_kg: w.typed[i]?.left_kg ?? null,
      right_kg: w.typed[i]?.right_kg ?? null,
    })),
  })
  window.scrollTo({ top: 0 })
}
function stopAmending() {
  amending.value = null
  Object.assign(form, { axles: blank(), amends: null, note: '', weighed_on: today() })
}
const day = (iso: string) =>
  new Date(`${iso}T12:00`).toLocaleDateString('en-US', { day: 'numeric', month: 'short', year: 'numeric' })
const saved = computed(() => !typed.value && sheet.value.weighing)
</script>

<template>
  <h1>What each tire carries</h1>
  <p class="text-soft">
    Weigh it as it travels: tanks, people and load where they ride. Two of left, right and whole are enough;
    the ends show a heavy corner.
  </p>
  <Overloads v-if="loads" class="mt-4" :over="loads.over" :caution="loads.caution" />
  <Banner v-if="amending" class="mt-4">
    Amending the ticket of {{ day(amending.weighed_on) }}. The old one stays readable.
    <button type="button" class="link" @click="stopAmending">Leave it as it was</button>
  </Banner>

  <form class="mt-5" novalidate @submit.prevent="submit">
    <div v-if="may('weigh')" class="grid grid-cols-2 gap-4 lg:grid-cols-4">
      <TextField
        v-model="form.load_state"
        label="Load state"
        :suggest="sheet.load_states"
        :message="no('load_state')"
      />
      <TextField v-model="form.weighed_on" label="Weighed on" type="date" :message="no('weighed_on')" />
      <TextField v-model="form.scale" label="Scale" :message="no('scale')" />
      <QuantityField
        v-model="form.resolution_kg"
        label="Scale's step"
        kind="mass"
        :message="no('resolution_kg')"
      />
    </div>

    <section v-for="(a, i) in rig.axles" :key="a.number" class="mt-6 border-t border-hairline pt-4">
      <div
        class="flex flex-wrap items-end justify-between gap-x-6 gap-y-2"
        :class="{ stale: typed && work.stale.value }"
      >
        <h2>{{ a.name }}</h2>
        <p class="text-soft">
          <template v-if="loadOf(a.number)?.heavier">heavier end {{ loadOf(a.number)!.heavier }}</template>
          <template v-if="loadOf(a.number)?.assumed">heavier end assumed</template>
          <span class="ml-3 text-3xl font-bold text-ink">{{
            loadOf(a.number)?.per_tire_kg == null ? '–' : figure('mass', loadOf(a.number)!.per_tire_kg!)
          }}</span>
          {{ unitOf('mass') }} each tire
        </p>
      </div>
      <div v-if="may('weigh')" class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
        <QuantityField
          v-if="a.wheels > 1"
          v-model="form.axles[i]!.left_kg"
          :label="`${a.name} left end`"
          kind="mass"
          :message="no(`axles.${i}.left_kg`)"
        />
        <QuantityField
          v-if="a.wheels > 1"
          v-model="form.axles[i]!.right_kg"
          :label="`${a.name} right end`"
          kind="mass"
          :message="no(`axles.${i}.right_kg`)"
        />
        <QuantityField
          v-model="form.axles[i]!.whole_kg"
          :label="`${a.name} whole axle`"
          kind="mass"
          :message="no(`axles.${i}.whole_kg`)"
        />
      </div>
      <div
        v-if="loadOf(a.number)"
        class="mt-3 grid gap-x-8 gap-y-3 sm:grid-cols-3"
        :class="{ stale: typed && work.stale.value }"
      >
        <LoadBar v-for="c in loadOf(a.number)!.checks" :key="c.what" :check="c" />
      </div>
      <ul v-if="loadOf(a.number)" class="mt-2">
        <li v-for="(n, k) in loadOf(a.number)!.notes" :key="k" class="text-sm">{{ say(n) }}</li>
      </ul>
      <Opening v-if="loadOf(a.number)?.working.length" label="Working" class="mt-1 max-w-xl text-sm">
        <Working :lines="loadOf(a.number)!.working" />
      </Opening>
    </section>

    <section
      v-if="loads"
      class="mt-6 border-t border-hairline pt-4"
      :class="{ stale: typed && work.stale.value }"
    >
      <div class="flex flex-wrap items-end justify-between gap-4">
        <h2>Gross</h2>
        <p class="text-soft">
          <span class="text-3xl font-bold text-ink">{{
            loads.total_kg === null ? 'unknown' : figure('mass', loads.total_kg)
          }}</span>
          {{ loads.total_kg === null ? '' : unitOf('mass') }}
        </p>
      </div>
      <div class="mt-2 grid gap-4 sm:grid-cols-3">
        <LoadBar v-for="c in loads.checks" :key="c.what" :check="c" />
      </div>
      <p v-for="(n, k) in loads.notes" :key="k" class="mt-2 text-sm">{{ say(n) }}</p>
    </section>

    <div class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5">
      <template v-if="may('weigh')">
        <TextField
          v-model="form.note"
          class="w-full"
          label="Note: tanks, people, what is aboard"
          :message="no('note')"
        />
        <button class="button" :class="{ 'button-next': typed }" :disabled="busy || !typed">
          {{ amending ? 'Save the amendment' : 'Save the weighing' }}
        </button>
        <RouterLink
          v-if="saved && may('targets')"
          :to="{ name: 'targets', params: { id } }"
          class="button"
          :class="{ 'button-next': !sheet.targets || sheet.targets.out_of_date.length }"
          >Then the target</RouterLink
        >
      </template>
      <p v-else class="text-soft">You may look, not weigh.</p>
      <Refusal
        :message="message || (typed && !Object.keys(work.fields.value).length ? work.message.value : '')"
      />
    </div>
  </form>

  <section v-if="weighings.data.value?.length" class="mt-8">
    <h2>Tickets</h2>
    <div class="relative overflow-x-auto">
      <table class="plain mt-1">
        <thead>
          <tr>
            <th>Weighed</th>
            <th>Load state</th>
            <th>Scale</th>
            <th class="figure">Gross</th>
            <th>Who</th>
            <th><span class="sr-only">Amend</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in weighings.data.value" :key="w.id" :class="{ 'text-soft line-through': w.amended }">
            <td class="whitespace-nowrap">{{ day(w.weighed_on) }}</td>
            <td>{{ w.load_state }}</td>
            <td>
              {{ w.scale }}<span v-if="w.note" class="block text-sm text-soft">{{ w.note }}</span>
            </td>
            <td class="figure whitespace-nowrap">
              {{ w.loads.total_kg === null ? 'unknown' : show('mass', w.loads.total_kg) }}
            </td>
            <td>{{ w.by }}</td>
            <td class="text-right">
              <button v-if="may('weigh') && !w.amended" type="button" class="link text-sm" @click="amend(w)">
                Amend
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>
