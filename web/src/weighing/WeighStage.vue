<script setup lang="ts">
/** From a scale to the load on each tire: as a ticket says, or pass by pass with the guide. */
import { computed, nextTick, reactive, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import NextStep from '@/rigs/NextStep.vue'
import { refreshAll } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import EntryForm from '@/shared/EntryForm.vue'
import { photograph } from '@/shared/outbox'
import Overloads from '@/shared/Overloads.vue'
import Pictures from '@/shared/Pictures.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { spokenDay, today } from '@/shared/units'
import DraftBack from '@/shared/DraftBack.vue'
import { useDraft } from '@/shared/useDraft'
import { useOnce, useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import GrossLoads from './GrossLoads.vue'
import PassGuide from './PassGuide.vue'
import ReadyToRoll from './ReadyToRoll.vue'
import TicketHead from './TicketHead.vue'
import TicketSource from './TicketSource.vue'
import { amendment, anyRow, rowsBody, ticketForm, wheelsAt, type TicketForm, type Way } from './ticketForm'
import TicketRows from './TicketRows.vue'
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

/** On the ticket: its own rows, and those of what is hitched where it stood on the scale too. */
const rows = computed(() => (form.value.with_trailers ? form.value.rows : form.value.rows.slice(0, 1)))
const behind = computed(() => (form.value.with_trailers && tows.value ? train.value.slice(1) : []))
const typed = computed(() =>
  guided.value ? passes.value.some((p) => p.kg !== null) : form.value.gross_kg !== null || rows.value.some(anyRow),
)
const reading = computed(() => ({
  way: form.value.way,
  with_trailers: form.value.with_trailers,
  resolution_kg: form.value.resolution_kg,
  bars: form.value.bars,
  hitch_kg: form.value.hitch_kg,
  ...(guided.value
    ? { axles: [], together: [], behind: [], gross_kg: null }
    : {
        ...rowsBody(rows.value[0]!),
        behind: rows.value.slice(1).map(rowsBody),
        gross_kg: form.value.gross_kg,
      }),
  passes: guided.value
    ? passes.value.filter((p) => p.kg !== null).map((p) => ({ words: p.words, on: p.on, apart: p.apart, kg: p.kg! }))
    : [],
}))
const inputs = computed(() => (typed.value ? { rig: id.value, ...reading.value } : null))
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/weighing', { body })))
const loads = computed(() => (typed.value ? work.answer.value : (sheet.value.weighing?.loads ?? null)))
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

/** The day of the ticket that is being amended. */
const amending = ref<string | null>(null)
/** All that is typed outlasts a reload and Back; nothing typed, nothing is kept. */
const draft = useDraft(
  () => `weighing ${id.value}`,
  computed({
    get: () =>
      typed.value || form.value.note || form.value.ready.length
        ? { form: form.value, passes: passes.value, brought: brought.value, amending: amending.value }
        : {},
    set: (
      now: Partial<{ form: TicketForm; passes: typeof passes.value; brought: boolean; amending: string | null }>,
    ) => {
      if (!now.form) return stopAmending()
      brought.value = now.brought ?? false
      amending.value = now.amending ?? null
      Object.assign(form.value, now.form)
      passes.value = now.passes ?? []
    },
  }),
)
/** Of the ticket that is being typed: they go with it. */
const pictures = ref<Schemas['PictureIn'][]>([])
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
  const stored = await answer(
    api.POST('/api/v1/rigs/{rig_id}/weighings', {
      params: { path: { rig_id: id.value } },
      body: { ...ticket, uuid: once.idOf(ticket) },
    }),
  )
  once.stored()
  draft.saved()
  for (const p of pictures.value) void photograph(id.value, rig.value.name, { ...p, weighing: stored.id })
  pictures.value = []
  await refreshAll()
  clear()
  draft.saved(true)
})
function clear() {
  amending.value = null
  brought.value = false
  standing.value = []
  passes.value = passes.value.map((p) => ({ ...p, kg: null }))
  Object.assign(form.value, {
    rows: ticketForm(sheet.value).rows,
    gross_kg: null,
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

function amend(w: Schemas['WeighingOut']) {
  amending.value = w.weighed_on
  Object.assign(form.value, amendment(sheet.value, w))
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
    Amending the ticket of {{ spokenDay(amending) }}. The old one stays readable.
    <button type="button" class="link" @click="stopAmending">Leave it as it was</button>
  </Banner>

  <DraftBack :taken="draft.taken.value" @away="draft.throwAway()" />
  <EntryForm :refused="no" class="mt-5" @submit="submit">
    <template v-if="may('weigh')">
      <ReadyToRoll v-model="form.ready" class="mb-4" :rig="rig" />
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

    <TicketRows
      v-model="form.rows[0]!"
      :vehicle="rig"
      :behind="null"
      :loads="loads"
      :editing="may('weigh') && !guided"
      :stale="stale"
    />
    <GrossLoads v-if="loads" name="Gross" :loads="loads" :combined="loads.combined_kg" :stale="stale" />
    <template v-for="(v, i) in behind" :key="v.id">
      <h2 class="mt-8 text-lg">{{ v.name }}</h2>
      <TicketRows
        v-model="form.rows[i + 1]!"
        :vehicle="v"
        :behind="i"
        :loads="loads?.others[i] ?? null"
        :editing="may('weigh') && !guided"
        :stale="stale"
      />
      <GrossLoads
        v-if="loads?.others[i]"
        name="Gross, with its load on the hitch"
        :loads="loads.others[i]!"
        :stale="stale"
      />
    </template>
    <div v-if="may('weigh') && !guided" class="mt-6 border-t border-hairline pt-4">
      <QuantityField
        v-model="form.gross_kg"
        class="max-w-72"
        :label="form.with_trailers ? 'Gross, all that stood on the scale' : 'Gross, as printed'"
        kind="mass"
        hint="A check of the rows; alone it is judged as a whole"
        name="gross_kg"
      />
    </div>

    <div class="mt-6 flex flex-wrap items-end gap-4 border-t border-hairline pt-5">
      <template v-if="may('weigh')">
        <Pictures
          v-model:held="pictures"
          class="w-full"
          :rig-name="rig.name"
          :of="{ what: 'ticket' }"
          label="Picture of the ticket"
          may-take
        />
        <TextField v-model="form.note" class="w-full" label="Note: tanks, people, what is aboard" name="note" />
        <button class="button" :class="{ 'button-next': typed }" :disabled="busy || !typed">
          {{ amending ? 'Save the amendment' : 'Save the weighing' }}
        </button>
        <NextStep v-if="saved" after="weighing" :quiet="typed" />
        <RouterLink v-else-if="!typed && !sheet.targets" :to="{ name: 'targets', params: { id } }" class="button"
          >No scale: the target without one</RouterLink
        >
      </template>
      <p v-else class="text-soft">You may look, not weigh.</p>
      <Refusal :message="message || (typed && !Object.keys(work.fields.value).length ? work.message.value : '')" />
    </div>
  </EntryForm>
  <WeighingTickets class="mt-8" @amend="amend" />
</template>
