<script setup lang="ts">
/** The chalk trial, guided: what must hold, a pass drawn on both treads, the decision with its reason, the next pressure. */
import { useQuery } from '@tanstack/vue-query'
import { v4 as uuid } from 'uuid'
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Pictures from '@/shared/Pictures.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, unitOf, type Entry } from '@/shared/units'
import { inPlace, useDraft } from '@/shared/useDraft'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import BeginTrial from './BeginTrial.vue'
import PassSeries from './PassSeries.vue'
import TreadPrint from './TreadPrint.vue'

type Trial = Schemas['TrialOut']
type Ribs = Schemas['KeepChalkPassIn']['left']
const { id, sheet } = useFrame()
const { may } = useSession()
const { data } = useQuery({
  queryKey: ['rig', id, 'trials'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/trials', { params: { path: { rig_id: id.value } } })),
})
function take(now: Schemas['TrialsOut']) {
  queries.setQueryData(['rig', id.value, 'trials'], now)
  void queries.invalidateQueries({ queryKey: ['rig', id.value, 'chalk'] })
  void refreshRig(id.value)
}
const open = computed<Trial | null>(() => data.value?.trials.find((t) => !t.ended) ?? null)
const past = computed(() => data.value?.trials.filter((t) => t.ended) ?? [])
const BLANK = () => ({
  pressure: null as Entry,
  left: ['left', 'left', 'left'] as Ribs,
  right: ['left', 'left', 'left'] as Ribs,
  held: [] as string[],
})
const form = reactive(BLANK())
const draft = useDraft(() => `chalk ${id.value}`, inPlace(form))
const missing = computed(() =>
  (data.value?.preconditions ?? []).map((p) => p.key).filter((k) => !form.held.includes(k)),
)
const work = useWork(
  computed(() =>
    open.value && form.pressure !== null && form.held.length
      ? { trial: open.value.id, pressure: form.pressure, left: form.left, right: form.right, missing: missing.value }
      : null,
  ),
  (body) => answer(api.POST('/api/v1/work/refine/chalk', { body })),
)
const verdict = computed(() => work.answer.value ?? open.value?.verdict ?? null)
watch(
  () => open.value?.passes.length,
  () => Object.assign(form, BLANK()),
)
const keep = useSave(async () => {
  const body = {
    uuid: uuid(),
    pressure: form.pressure ?? '',
    left: form.left,
    right: form.right,
    missing: missing.value,
  }
  take(
    await answer(
      api.POST('/api/v1/trials/{trial_id}/passes', { params: { path: { trial_id: open.value!.id } }, body }),
    ),
  )
  draft.saved(true)
})
const note = ref('')
const end = useSave(async (how: Schemas['EndIn']['how']) => {
  const path = { trial_id: open.value!.id }
  take(await answer(api.POST('/api/v1/trials/{trial_id}/end', { params: { path }, body: { how, note: note.value } })))
  note.value = ''
})
const hold = (key: string, is: boolean) => (form.held = is ? [...form.held, key] : form.held.filter((k) => k !== key))
/** Decisions that lead to another pressure. */
const ASKS = new Set<string>(['lower', 'higher'])
const ENDED: Record<string, string> = {
  even: 'even',
  bound: 'stopped at a bound',
  alignment: 'alignment',
  differ: 'left and right differ',
  feel: 'ended by feel: a note',
  left: 'left',
}
</script>

<template>
  <TargetPages />
  <h1>Chalk across the tread</h1>
  <template v-if="data">
    <BeginTrial v-if="!open" :rig="sheet.rig" @begun="take" />
    <template v-else>
      <p class="text-soft">
        {{ open.name }}, {{ open.load_state }}, by {{ open.gauge_label
        }}{{ open.reason ? `. Below the placard: ${open.reason}` : '' }}
      </p>
      <div
        v-if="verdict"
        class="mt-3 border-l-4 border-buoy bg-paper px-4 py-3"
        :class="{ stale: work.stale.value }"
        aria-live="polite"
      >
        <p class="text-2xl font-semibold">{{ say(verdict.words) }}</p>
        <p v-if="verdict.next_kpa !== null && ASKS.has(verdict.decision)" class="mt-1">
          <span class="text-soft">set both tires, cold, to</span>
          <b class="ml-2 text-5xl">{{ figure('pressure', verdict.next_kpa, 'up') }}</b>
          <span class="text-soft">{{ unitOf('pressure') }}</span>
        </p>
        <p v-for="(n, i) in verdict.notes" :key="i" class="text-sm">{{ say(n) }}</p>
      </div>
      <Band
        class="mt-3"
        :label="open.name"
        :band="{ floor_kpa: open.least_kpa, target_kpa: null, ceiling_kpa: open.most_kpa }"
        :flags="[
          ...open.passes.map((p, i) => ({ name: `pass ${i + 1}`, kpa: p.kpa })),
          ...(verdict?.next_kpa && ASKS.has(verdict.decision) ? [{ name: 'next', kpa: verdict.next_kpa }] : []),
        ]"
      />
      <PassSeries class="mt-3" :passes="open.passes" />
      <EntryForm v-if="may('rounds')" :refused="keep.fields.value" class="mt-5 max-w-3xl" @submit="keep.save()">
        <h2 class="text-xl">Pass {{ open.passes.length + 1 }}</h2>
        <fieldset class="mt-2 grid gap-x-6 sm:grid-cols-2">
          <legend class="label">Does each hold?</legend>
          <label v-for="p in data.preconditions" :key="p.key" class="flex min-h-11 items-center gap-2">
            <input
              type="checkbox"
              class="size-5 accent-teal"
              :checked="form.held.includes(p.key)"
              @change="hold(p.key, ($event.target as HTMLInputElement).checked)"
            />
            {{ p.words }}
          </label>
        </fieldset>
        <QuantityField
          v-model="form.pressure"
          class="mt-3 w-56"
          label="Both tires read, cold"
          kind="pressure"
          name="pressure"
        />
        <p class="label mt-4">What is left of the chalk? Press a rib until it is so.</p>
        <div class="mt-1 flex flex-wrap gap-x-12 gap-y-4">
          <div>
            <TreadPrint v-model="form.left" label="Left tire" />
            <p class="text-center text-sm text-soft">left tire</p>
          </div>
          <div>
            <TreadPrint v-model="form.right" label="Right tire" />
            <p class="text-center text-sm text-soft">right tire</p>
          </div>
        </div>
        <Pictures
          class="mt-4"
          :rig="id"
          :rig-name="sheet.rig.name"
          :of="{ what: 'chalk', place: `axles.${open.number - 1}` }"
          label="Picture of the chalk"
          :may-take="may('rounds')"
        />
        <button class="button button-next mt-4" :disabled="keep.busy.value">Keep the pass</button>
        <Refusal :message="keep.message.value && !Object.keys(keep.fields.value).length ? keep.message.value : ''" />
      </EntryForm>
      <div v-if="may('rounds')" class="mt-6 flex max-w-3xl flex-wrap items-end gap-3 border-t border-hairline pt-4">
        <TextField v-model="note" class="min-w-56 flex-1" label="How it felt" :message="end.fields.value.note" />
        <button type="button" class="button" @click="end.save('feel')">End it by feel</button>
        <button type="button" class="link pb-2" @click="end.save('left')">Leave it</button>
      </div>
    </template>
    <section v-if="past.length" class="mt-8">
      <h2 class="text-xl">Earlier trials</h2>
      <div
        v-for="t in past"
        :key="t.id"
        class="flex flex-wrap items-center gap-x-6 gap-y-2 border-t border-hairline py-2"
      >
        <span
          >{{ t.name }}, {{ t.load_state }}: <b>{{ ENDED[t.ended] ?? t.ended }}</b><template v-if="t.passes.length">
            at {{ show('pressure', t.passes.at(-1)!.kpa) }}</template
          >{{ t.note ? `, ${t.note}` : '' }}</span
        >
        <PassSeries :passes="t.passes" />
        <span v-if="t.again.length" class="font-medium text-rust">Ask again: {{ t.again.join(', ') }}</span>
      </div>
    </section>
  </template>
</template>
