<script setup lang="ts">
/** From a scale to the load on each tire: as a ticket says, or pass by pass with the guide. */
import { computed, nextTick, reactive, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDay, today } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AxleLoads from './AxleLoads.vue'
import GrossLoads from './GrossLoads.vue'
import PassGuide from './PassGuide.vue'
import TicketHead from './TicketHead.vue'
import TicketSource from './TicketSource.vue'
import { blankAxles, ticketForm, wheelsAt, type Way } from './ticketForm'
import { useLoadsOnPlan } from './useLoadsOnPlan'
import { useGuide } from './useGuide'
import { useScale } from './useScale'
import WeighingTickets from './WeighingTickets.vue'
import WeighPages from './WeighPages.vue'

const { id, sheet, standing } = useFrame()
const { may } = useSession()
const rig = computed(() => sheet.value.rig)
const train = computed(() => sheet.value.train)
const tows = computed(() => train.value.length > 1 && rig.value.head === null)

const form = ref(ticketForm(sheet.value))
const { passes, brought } = useGuide(form)
const guided = computed(() => form.value.way !== 'ticket')

const typed = computed(() =>
  guided.value
    ? passes.value.some((p) => p.kg !== null)
    : form.value.axles.some((a) => a.whole_kg !== null || a.left_kg !== null || a.right_kg !== null || a.lifted),
)
const reading = computed(() => ({
  way: form.value.way,
  with_trailers: guided.value && form.value.with_trailers,
  resolution_kg: form.value.resolution_kg,
  bars: form.value.bars,
  hitch_kg: form.value.hitch_kg,
  axles: guided.value ? [] : form.value.axles.map((a) => ({ ...a })),
  passes: guided.value
    ? passes.value.filter((p) => p.kg !== null).map((p) => ({ words: p.words, on: p.on, apart: p.apart, kg: p.kg! }))
    : [],
}))
const inputs = computed(() => (typed.value ? { rig: id.value, ...reading.value } : null))
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/weighing', { body })))
const loads = computed(() => (typed.value ? work.answer.value : (sheet.value.weighing?.loads ?? null)))
const loadOf = (number: number) => loads.value?.axles.find((a) => a.number === number)
const stale = computed(() => typed.value && work.stale.value)

useLoadsOnPlan(loads, typed)

const scale = useScale(form.value)
// What to check of a ticket before it is saved.
const remarks = ref<string[]>([])
const bring = reactive(
  useSave(async (file: Schemas['FileIn']) => {
    const ticket = await answer(api.POST('/api/v1/work/weighing/ticket', { body: { ...file, rig: id.value } }))
    take(ticket, ticket.passes)
    remarks.value = ticket.notes
    Object.assign(form.value, {
      scale: ticket.scale,
      made_up: ticket.made_up,
      resolution_kg: ticket.resolution_kg,
      weighed_on: ticket.weighed_on,
    })
  }),
)
function take(from: { way: string; with_trailers: boolean }, given: Schemas['PassOut'][]) {
  brought.value = true
  form.value.way = from.way as Way
  form.value.with_trailers = from.with_trailers
  passes.value = given.map((p) => ({ ...p, kg: p.typed, wheels: wheelsAt(train.value, p.on) }))
}
function leaveTicket() {
  brought.value = false
  remarks.value = []
  passes.value = []
  form.value.way = 'ticket'
  form.value.made_up = false
}

// -- saving -----------------------------------------------------------------------------------------
const once = useOnce()
const { save, busy, fields, message } = useSave(async () => {
  const ticket = {
    ...reading.value,
    load_state: form.value.load_state,
    weighed_on: form.value.weighed_on,
    scale: form.value.scale,
    made_up: form.value.made_up,
    odometer: form.value.odometer,
    ready: form.value.ready,
    note: form.value.note,
    amends: form.value.amends,
  }
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/weighings', {
      params: { path: { rig_id: id.value } },
      body: { ...ticket, uuid: once.idOf(ticket) },
    }),
  )
  once.stored()
  await refreshAll()
  clear()
})
function clear() {
  amending.value = null
  brought.value = false
  standing.value = []
  passes.value = passes.value.map((p) => ({ ...p, kg: null }))
  Object.assign(form.value, {
    axles: blankAxles(rig.value.axles.length),
    note: '',
    amends: null,
    ready: [],
    odometer: null,
    hitch_kg: null,
  })
}
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
  Object.assign(form.value, {
    load_state: w.load_state,
    weighed_on: w.weighed_on,
    scale: w.scale,
    made_up: w.made_up,
    resolution_kg: w.resolution_kg,
    odometer: w.odometer_km,
    bars: w.bars,
    hitch_kg: w.hitch_typed || null,
    ready: [...w.ready],
    note: w.note,
    amends: w.id,
    way: 'ticket',
    axles: rig.value.axles.map((_, i) => ({
      whole_kg: w.typed[i]?.whole_kg ?? null,
      left_kg: w.typed[i]?.left_kg ?? null,
      right_kg: w.typed[i]?.right_kg ?? null,
      lifted: w.lifted[i] ?? false,
    })),
  })
  if (w.passes.length)
    take({ way: w.way, with_trailers: w.passes.some((p) => p.on.some((s) => !s.startsWith('0:'))) }, w.passes)
  window.scrollTo({ top: 0 })
}
function stopAmending() {
  clear()
  leaveTicket()
  form.value.weighed_on = today()
}
const saved = computed(() => !typed.value && sheet.value.weighing)
</script>

<template>
  <WeighPages />
  <h1>What each tire carries</h1>
  <p class="text-soft">
    Weigh it as it travels: tanks, people and load where they ride. The ends of an axle show a heavy corner.
  </p>
  <Overloads v-if="loads" class="mt-4" :over="loads.over" :caution="loads.caution" />
  <Banner v-if="amending" class="mt-4">
    Amending the ticket of {{ spokenDay(amending.weighed_on) }}. The old one stays readable.
    <button type="button" class="link" @click="stopAmending">Leave it as it was</button>
  </Banner>

  <EntryForm :refused="no" class="mt-5" @submit="submit">
    <template v-if="may('weigh')">
      <Opening class="mb-4" :label="`Ready to roll: ${form.ready.length} of ${rig.checklist.length} seen to`">
        <ul class="grid gap-x-6 gap-y-1 sm:grid-cols-2">
          <li v-for="c in rig.checklist" :key="c">
            <label class="flex min-h-9 items-center gap-2.5">
              <input v-model="form.ready" type="checkbox" :value="c" class="size-5 shrink-0 accent-teal" />
              {{ c }}
            </label>
          </li>
        </ul>
        <RouterLink v-if="may('rigs')" :to="{ name: 'rig-edit', params: { id } }" class="text-sm"
          >Change this list</RouterLink
        >
      </Opening>
      <TicketHead
        v-model="form"
        :tows="tows"
        :guided="guided"
        :brought="brought"
        :remarks="remarks"
        :simulated="Boolean(form.made_up || (saved && sheet.weighing?.made_up))"
        @afresh="leaveTicket"
      />
      <TicketSource :guided="guided" :scale="scale" :bring="bring" />
      <PassGuide
        v-if="guided"
        v-model="passes"
        class="mt-4"
        :ticket="typed ? (loads?.ticket ?? null) : null"
        :stale="stale"
        :ask="scale.connected ? scale.ask : undefined"
        :remark="scale.remark"
        :message="no"
        @stand="standing = $event"
      />
    </template>

    <AxleLoads v-for="(a, i) in rig.axles" :key="a.number" :name="a.name" :axle="loadOf(a.number)" :stale="stale">
      <div v-if="may('weigh') && !guided" class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
        <template v-if="!form.axles[i]!.lifted">
          <QuantityField
            v-if="a.wheels > 1"
            v-model="form.axles[i]!.left_kg"
            :label="`${a.name} left end`"
            kind="mass"
            :name="`axles.${i}.left_kg`"
          />
          <QuantityField
            v-if="a.wheels > 1"
            v-model="form.axles[i]!.right_kg"
            :label="`${a.name} right end`"
            kind="mass"
            :name="`axles.${i}.right_kg`"
          />
          <QuantityField
            v-model="form.axles[i]!.whole_kg"
            :label="`${a.name} whole axle`"
            kind="mass"
            :name="`axles.${i}.whole_kg`"
          />
        </template>
        <label v-if="a.lift" class="flex min-h-10 items-center gap-2.5 self-end">
          <input v-model="form.axles[i]!.lifted" type="checkbox" class="size-5 accent-teal" /> It was up
        </label>
        <Refusal :message="no(`axles.${i}.lifted`)" />
      </div>
    </AxleLoads>
    <GrossLoads v-if="loads" name="Gross" :loads="loads" :combined="loads.combined_kg" :stale="stale" />
    <template v-for="o in loads?.others ?? []" :key="o.rig">
      <h2 class="mt-8 text-lg">{{ o.name }}</h2>
      <AxleLoads v-for="a in o.axles" :key="a.number" :name="a.name" :axle="a" :stale="stale" />
      <GrossLoads name="Gross, with its load on the hitch" :loads="o" :stale="stale" />
    </template>

    <div class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5">
      <template v-if="may('weigh')">
        <TextField v-model="form.note" class="w-full" label="Note: tanks, people, what is aboard" name="note" />
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
      <Refusal :message="message || (typed && !Object.keys(work.fields.value).length ? work.message.value : '')" />
    </div>
  </EntryForm>
  <WeighingTickets class="mt-8" @amend="amend" />
</template>
