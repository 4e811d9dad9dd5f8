<script setup lang="ts">
/** One pressure for each axle: the band with floor, target and ceiling, every school beside it, the working under it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import Refusal from '@/shared/Refusal.vue'
import type { WheelState } from '@/shared/scale'
import Segments from '@/shared/Segments.vue'
import { pairs, queries, useSession } from '@/shared/session'
import { figure, say, show, spokenDay, system, unitOf, type Entry, toward } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AxleBand from './AxleBand.vue'
import ChalkResults from './ChalkResults.vue'
import EarlierTargets from './EarlierTargets.vue'

const { id, sheet, states, caption } = useFrame()
const { session, may } = useSession()
const rig = computed(() => sheet.value.rig)
const inForce = computed(() => sheet.value.targets)
const fresh = computed(() => Boolean(inForce.value && !inForce.value.out_of_date.length))

const perAxle = <T,>(value: T) => rig.value.axles.map(() => value)
const way = () => {
  const { reserve, edge, step, school, between, spare_over } = sheet.value.way
  return { reserve, edge, step, school, between, spare_over }
}
const form = reactive({
  weighing: fresh.value ? inForce.value!.weighing : null,
  tables: (fresh.value ? [...inForce.value!.tables] : perAxle(null)) as (number | null)[],
  own: (fresh.value ? [...inForce.value!.own] : perAxle(null)) as Entry[],
  trials: inForce.value?.trials.length ? [...inForce.value.trials] : perAxle(''),
  ...way(),
})
const samples = useQuery({ queryKey: ['samples'], queryFn: () => answer(api.GET('/api/v1/tables/samples')) })
const weighings = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () =>
    answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})

const choice = computed(() => ({
  ...form,
  tables: [...form.tables],
  own: [...form.own],
  trials: [...form.trials],
}))
/** Counts what was changed besides the choice: a sample taken, a chalk result. */
const again = ref(0)
const inputs = computed(() => ({ choice: choice.value, again: again.value }))
const work = useWork(inputs, (now) =>
  answer(api.POST('/api/v1/work/targets', { body: { rig: id.value, ...now.choice } })),
)
const found = computed(() => work.answer.value)

watch(
  () => [found.value, system.value],
  () => {
    const drawn: Record<string, WheelState> = {}
    for (const wheel of rig.value.wheels) {
      const axle = found.value?.axles.find((a) => a.number === wheel.axle)
      const spare = wheel.axle === null ? found.value?.spares[Number(wheel.code.slice(1)) - 1] : undefined
      const target = (axle ?? spare)?.target_kpa ?? null
      drawn[wheel.code] = {
        floor: axle?.floor_kpa ?? null,
        target,
        ceiling: (axle ?? spare)?.ceiling_kpa ?? null,
        level: null,
        word: 'not_checked',
        words: target === null ? 'none' : unitOf('pressure'),
        ...(target === null
          ? {}
          : {
              text: figure('pressure', target, toward(target, (axle ?? spare)?.ceiling_kpa ?? null)).replace(
                /\.\d+$/,
                '',
              ),
            }),
      }
    }
    states.value = drawn
    caption.value = 'the target of each tire'
  },
  { immediate: true },
)

const tablesFor = (i: number) =>
  (found.value?.fitting[i] ?? []).map((t) => ({
    key: t.id as number | null,
    name: t.name,
    ...(t.unchecked ? { note: 'not checked by a second person' } : {}),
  }))
const sampleFor = (size: string) => samples.data.value?.find((s) => s.size === size.split(' ')[0] && !s.taken)

const { save: take, message: takeMessage } = useSave(async (key: string) => {
  await answer(api.POST('/api/v1/tables/samples', { body: { key } }))
  again.value++
  await Promise.all(['tables', 'samples'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
})
const once = useOnce()
const {
  save: put,
  busy,
  fields,
  message,
} = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/targets', {
      params: { path: { rig_id: id.value } },
      body: { ...choice.value, uuid: once.idOf(choice.value) },
    }),
  )
  once.stored()
  await refreshRig(id.value)
})
/** The rig follows the workspace's way again. */
const back = useSave(async () => {
  const none = {
    version: back.newer.value || sheet.value.way.version,
    reserve: null,
    edge: null,
    step: null,
    school: null,
    between: null,
    spare_over: null,
  }
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/policy', { params: { path: { rig_id: id.value } }, body: none }),
  )
  await refreshRig(id.value)
  Object.assign(form, way())
})

const PERCENT = (shares: number[]) =>
  shares.map((s) => ({ key: s, name: `${figure('share', s)}${s === shares.at(-1) ? ' %' : ''}` }))
const OWN: Record<string, string> = {
  school: 'where it comes from',
  reserve: 'reserve',
  edge: 'edge allowance',
  between: 'between columns',
  step: 'step',
  spare_over: 'spares',
}
const differs = computed(() => (found.value?.way.own ?? []).flatMap((n) => OWN[n] ?? []))
const chosenTables = computed(() => found.value?.tables ?? form.tables)
const same = computed(() => {
  const now = found.value?.axles.map((a) => a.target_kpa)
  const then = inForce.value?.axles.map((a) => a.target_kpa)
  const s = inForce.value
  return Boolean(
    now &&
    s &&
    fresh.value &&
    JSON.stringify(now) === JSON.stringify(then) &&
    JSON.stringify(found.value!.tables) === JSON.stringify(s.tables) &&
    JSON.stringify(found.value!.spares.map((p) => p.target_kpa)) ===
      JSON.stringify(s.spares.map((p) => p.target_kpa)) &&
    (['reserve', 'step', 'edge', 'school', 'between'] as const).every((n) => form[n] === s[n]) &&
    found.value!.axles.every((a, i) => !a.below_placard || (form.trials[i] ?? '') === (s.trials[i] ?? '')),
  )
})
/** Also that no pressure carries it is put in force: an older one must not stay that carries less. */
const any = computed(() => found.value?.axles.some((a) => !['not weighed', 'no table'].includes(a.state)))
const lastLevel = (number: number) => {
  const wheels = rig.value.wheels.filter((w) => w.axle === number).map((w) => w.code)
  const levels = (sheet.value.last_round?.tires ?? [])
    .filter((t) => wheels.includes(t.code) && t.kpa !== null)
    .map((t) => t.kpa!)
  return levels.length ? Math.min(...levels) : null
}
const no = (field: string) => fields.value[field] ?? work.fields.value[field]
const elsewhere = computed(() => {
  const beside = /^(own|tables|trials)\.\d+$|^weighing$/
  return Object.entries({ ...work.fields.value, ...fields.value }).find(([f]) => !beside.test(f))?.[1]
})
type Way = Schemas['WayOut']
</script>

<template>
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>One pressure for each axle</h1>
      <p v-if="inForce" class="text-soft">
        In force since {{ spokenDay(inForce.put_at) }}, by {{ inForce.put_by }},
        {{
          inForce.weighed_on ? `from the weighing of ${spokenDay(inForce.weighed_on)}` : 'without a weighing'
        }}, {{ inForce.load_state }}
      </p>
      <p v-else class="text-soft">
        The load gives a floor, tire and wheel give a ceiling, the target lies between.
      </p>
    </div>
    <div class="flex flex-wrap items-center gap-4">
      <RouterLink v-if="inForce" :to="{ name: 'card', params: { id } }">Pressure card</RouterLink>
      <button
        v-if="may('targets')"
        type="button"
        class="button"
        :class="{ 'button-next': any && !same }"
        :disabled="busy || !any || same || work.stale.value"
        @click="put()"
      >
        {{ same ? 'In force' : 'Put in force' }}
      </button>
    </div>
  </div>
  <Refusal :message="message && !Object.keys(fields).length ? message : elsewhere" />
  <Banner v-if="inForce?.out_of_date.length" class="mt-4"
    >Out of date: {{ inForce.out_of_date.join(', ') }}. Look at it again, then put it in force.</Banner
  >
  <Overloads v-if="found" class="mt-4" :over="found.over" :caution="found.caution" />

  <section v-if="!sheet.weighing" class="mt-6 max-w-xl">
    <h2>Not weighed yet</h2>
    <p class="mt-1 text-soft">
      A target hangs on the load: weigh the rig, by its ends if you can. Until then the placard's pressures
      may stand in, said to be provisional.
    </p>
    <RouterLink :to="{ name: 'weighing', params: { id } }" class="button button-next mt-4"
      >Weigh it</RouterLink
    >
  </section>

  <!-- On a phone the answer comes before the choices. -->
  <div class="flex flex-col">
    <div class="max-sm:order-last">
      <div class="mt-5 grid grid-cols-1 gap-x-5 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
        <ChoiceField
          v-if="sheet.weighing"
          v-model="form.weighing"
          label="From the weighing"
          :choices="[
            { key: null as number | null, name: 'The newest' },
            ...(weighings.data.value ?? [])
              .filter((w) => !w.amended)
              .map((w) => ({
                key: w.id as number | null,
                name: `${spokenDay(w.weighed_on)}, ${w.load_state}`,
              })),
          ]"
          :message="no('weighing')"
        />
        <ChoiceField
          v-model="form.school"
          label="Where the target comes from"
          :choices="pairs<Way['school']>(session?.schools)"
        />
        <ChoiceField
          v-model="form.between"
          label="Between two columns"
          :choices="pairs<Way['between']>(session?.between)"
        />
        <Segments
          v-model="form.reserve"
          label="Reserve on the load"
          :choices="PERCENT(session?.reserves ?? [])"
        />
        <Segments
          v-model="form.edge"
          label="Next column when less is left"
          :choices="PERCENT(session?.edges ?? [])"
        />
        <ChoiceField
          v-model="form.step"
          label="Practical step"
          :choices="(session?.steps ?? []).map((s) => ({ key: s as Way['step'], name: s }))"
        />
      </div>
      <p v-if="differs.length && may('targets')" class="mt-2 text-sm text-soft">
        Other than in the workspace: {{ differs.join(', ') }}.
        <button type="button" class="link" @click="back.save()">Back to the workspace's way</button>
      </p>
    </div>
    <div>
      <Refusal :message="takeMessage || back.message.value" />
      <div v-if="found" class="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
        <template v-for="s in found.stamps" :key="s">
          <p v-if="!inForce?.stamps.includes(s)" class="stamp">{{ s }}</p>
        </template>
        <p v-for="u in found.unchecked" :key="u" class="text-sm font-medium text-rust">
          Not checked by a second person: {{ u }}. <RouterLink to="/tables">Tables</RouterLink>
        </p>
      </div>
      <ul v-if="found?.notes.length" class="mt-2">
        <li v-for="(n, k) in found.notes" :key="k" class="font-medium text-rust">{{ say(n) }}</li>
      </ul>

      <div :class="{ stale: work.stale.value }">
        <AxleBand
          v-for="(t, i) in found?.axles ?? []"
          :key="t.number"
          v-model:own="form.own[i]!"
          v-model:trial="form.trials[i]!"
          :table="chosenTables[i] ?? null"
          :target="t"
          :size="rig.axles[i]?.tire_size.split(' ')[0] ?? ''"
          :level="lastLevel(t.number)"
          :tables="tablesFor(i)"
          :table-message="no(`tables.${i}`)"
          :own-message="no(`own.${i}`)"
          :trial-message="no(`trials.${i}`)"
          @update:table="form.tables[i] = $event"
        >
          <template v-if="may('tables')">
            <p class="text-sm text-soft">
              No table for {{ rig.axles[i]?.tire_size.split(' ')[0] }} here yet.
            </p>
            <div class="mt-1 flex flex-wrap gap-2">
              <RouterLink
                :to="{ name: 'table-new', query: { size: rig.axles[i]?.tire_size, rig: id } }"
                class="button"
                >Enter its table</RouterLink
              >
              <button
                v-if="sampleFor(rig.axles[i]!.tire_size)"
                type="button"
                class="button"
                @click="take(sampleFor(rig.axles[i]!.tire_size)!.key)"
              >
                Take the sample
              </button>
            </div>
          </template>
        </AxleBand>
        <section v-if="found?.spares.length" class="mt-6 border-t border-hairline pt-4" aria-label="Spares">
          <div
            v-for="s in found.spares"
            :key="s.number"
            class="flex flex-wrap items-baseline justify-between gap-x-6"
          >
            <h2>{{ s.name }}</h2>
            <p v-if="s.target_kpa !== null" class="text-soft">
              its own pressure
              <span class="ml-3 text-4xl font-bold text-ink">{{
                figure('pressure', s.target_kpa, toward(s.target_kpa, s.ceiling_kpa))
              }}</span>
              {{ unitOf('pressure') }}
            </p>
            <p v-else class="font-semibold text-rust">{{ say(s.words) }}</p>
            <p v-if="s.offered_kpa !== null" class="w-full text-sm text-soft">
              Up to 5 % more, so that it still has its pressure when it is needed:
              {{ show('pressure', s.offered_kpa) }}.
            </p>
          </div>
          <label
            v-if="found.spares.some((s) => s.offered_kpa !== null)"
            class="mt-1 flex min-h-10 items-center gap-2"
          >
            <input v-model="form.spare_over" type="checkbox" class="size-5 accent-teal" /> Keep spares 5 %
            over, under their ceiling
          </label>
        </section>
      </div>
    </div>
  </div>
  <section class="mt-8 border-t border-hairline pt-4">
    <ChalkResults @changed="again++" />
    <Opening label="Earlier targets"><EarlierTargets /></Opening>
  </section>
  <Banner class="mt-8 text-sm">
    Pressures come from the tire's and vehicle's makers and local law; where there is doubt a licensed tire
    service decides. The sidewall's maximum is a ceiling, never advice.
  </Banner>
</template>
