<script setup lang="ts">
/** One pressure for each axle: the band with floor, target and ceiling, every school beside it, the working under it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Banner from '@/shared/Banner.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import Overloads from '@/shared/Overloads.vue'
import Refusal from '@/shared/Refusal.vue'
import SampleStamp from '@/shared/SampleStamp.vue'
import { figure, say, show, system, unitOf, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import type { WheelState } from '@/shared/scale'
import Working from '@/shared/Working.vue'
import { queries } from '@/shared/session'

const { id, sheet, states, caption } = useFrame()
const { session, may } = useSession()
const rig = computed(() => sheet.value.rig)
const inForce = computed(() => sheet.value.targets)

const form = reactive({
  weighing: inForce.value && !inForce.value.out_of_date.length ? inForce.value.weighing : null,
  tables: (inForce.value?.tables ?? rig.value.axles.map(() => null)) as (number | null)[],
  reserve: inForce.value?.reserve ?? session.value?.workspace?.reserve ?? 0.08,
  step: (inForce.value?.step ?? session.value?.workspace?.step ?? '1 psi') as Schemas['TargetsIn']['step'],
})
const tables = useQuery({ queryKey: ['tables'], queryFn: () => answer(api.GET('/api/v1/tables')) })
const samples = useQuery({ queryKey: ['samples'], queryFn: () => answer(api.GET('/api/v1/tables/samples')) })
const weighings = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () =>
    answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})

const choice = computed(() => ({
  weighing: form.weighing,
  tables: form.tables.map((t) => t),
  reserve: form.reserve,
  step: form.step,
  edge: 0.02,
}))
// A table that was entered or taken since may be the one that is wanted, so it asks again.
const inputs = computed(() => ({ choice: choice.value, tables: tables.data.value?.length ?? 0 }))
const work = useWork(inputs, (now) =>
  answer(api.POST('/api/v1/work/targets', { body: { rig: id.value, ...now.choice } })),
)

watch(
  () => [work.answer.value, system.value],
  () => {
    const found: Record<string, WheelState> = {}
    for (const wheel of rig.value.wheels) {
      const axle = work.answer.value?.axles.find((a) => a.number === wheel.axle)
      const spare = wheel.axle === null ? rig.value.spares[Number(wheel.code.slice(1)) - 1] : undefined
      const target = axle ? axle.target_kpa : (spare?.required_kpa ?? null)
      found[wheel.code] = {
        floor: axle?.floor_kpa ?? null,
        target,
        ceiling: axle ? axle.ceiling_kpa : (spare?.sidewall_max_kpa ?? null),
        level: null,
        word: 'not_checked',
        words: target === null ? 'none' : unitOf('pressure'),
        ...(target === null ? {} : { text: figure('pressure', target, 'up').replace(/\.\d+$/, '') }),
      }
    }
    states.value = found
    caption.value = 'the target of each tire'
  },
  { immediate: true },
)

const fits = (size: string, dual: boolean) =>
  (tables.data.value ?? [])
    .filter((t) => size.split(' ')[0] === t.size && (!dual || t.dual) && !t.replaced)
    .map((t) => ({ key: t.id as number | null, name: `${t.line || t.size} · ${t.source}`, note: t.size }))
const sampleFor = (size: string) => samples.data.value?.find((s) => s.size === size.split(' ')[0] && !s.taken)

const { save: take, message: takeMessage } = useSave(async (key: string) => {
  await answer(api.POST('/api/v1/tables/samples', { body: { key } }))
  await Promise.all([
    queries.invalidateQueries({ queryKey: ['tables'] }),
    queries.invalidateQueries({ queryKey: ['samples'] }),
  ])
})
const {
  save: put,
  busy,
  fields,
  message,
} = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/targets', { params: { path: { rig_id: id.value } }, body: choice.value }),
  )
  await refreshRig(id.value)
})

const RESERVES = [0, 0.05, 0.08, 0.1]
const steps = computed(() =>
  (session.value?.steps ?? []).map((s) => ({ key: s as typeof form.step, name: s })),
)
const chosenTables = computed(() => work.answer.value?.tables ?? form.tables)
function chooseTable(i: number, table: number | null) {
  form.tables = rig.value.axles.map((_, k) => (k === i ? table : (form.tables[k] ?? null)))
}
const same = computed(() => {
  const now = work.answer.value?.axles.map((a) => a.target_kpa)
  const then = inForce.value?.axles.map((a) => a.target_kpa)
  return Boolean(
    now &&
    then &&
    !inForce.value!.out_of_date.length &&
    JSON.stringify(now) === JSON.stringify(then) &&
    form.reserve === inForce.value!.reserve &&
    form.step === inForce.value!.step,
  )
})
/** Also that no pressure carries it is put in force: an older one must not stay that carries less. */
const any = computed(() =>
  work.answer.value?.axles.some((a) => !['not weighed', 'no table'].includes(a.state)),
)
const lastLevel = (number: number) => {
  const wheels = rig.value.wheels.filter((w) => w.axle === number).map((w) => w.code)
  const levels = (sheet.value.last_round?.tires ?? [])
    .filter((t) => wheels.includes(t.code) && t.kpa !== null)
    .map((t) => t.kpa!)
  return levels.length ? Math.min(...levels) : null
}
</script>

<template>
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>One pressure for each axle</h1>
      <p v-if="inForce" class="text-soft">
        In force since {{ spokenDay(inForce.put_at) }}, by {{ inForce.put_by }}, from the weighing of
        {{ spokenDay(inForce.weighed_on) }}, {{ inForce.load_state }}
      </p>
      <p v-else class="text-soft">
        The load gives a floor, tire and wheel give a ceiling, the target lies between.
      </p>
    </div>
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
  <Refusal :message="message && !Object.keys(fields).length ? message : Object.values(fields)[0]" />
  <Banner v-if="inForce?.out_of_date.length" class="mt-4"
    >Out of date: {{ inForce.out_of_date.join(', ') }}. Look at it again, then put it in force.</Banner
  >
  <Overloads
    v-if="work.answer.value"
    class="mt-4"
    :over="work.answer.value.over"
    :caution="work.answer.value.caution"
  />

  <section v-if="!sheet.weighing" class="mt-8 max-w-md">
    <h2>Not weighed yet</h2>
    <p class="mt-1 text-soft">A target hangs on the load. Weigh the rig first, by its ends if you can.</p>
    <RouterLink :to="{ name: 'weighing', params: { id } }" class="button button-next mt-4"
      >Weigh it</RouterLink
    >
  </section>

  <template v-else>
    <div class="mt-5 flex flex-wrap items-end gap-4">
      <ChoiceField
        v-model="form.weighing"
        class="w-64"
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
        :message="work.fields.value.weighing"
      />
      <div role="group" aria-label="Reserve on the load">
        <span class="label">Reserve on the load</span>
        <div class="flex rounded-md border border-soft">
          <button
            v-for="r in RESERVES"
            :key="r"
            type="button"
            class="min-h-9.5 cursor-pointer px-3"
            :class="form.reserve === r ? 'bg-tealwash font-bold text-teal' : ''"
            :aria-pressed="form.reserve === r"
            @click="form.reserve = r"
          >
            {{ figure('share', r) }}{{ r === 0.1 ? ' %' : '' }}
          </button>
        </div>
      </div>
      <ChoiceField v-model="form.step" class="w-32" label="Practical step" :choices="steps" />
      <SampleStamp v-if="work.answer.value?.samples" class="mb-2 ml-auto" />
    </div>
    <Refusal :message="takeMessage" />

    <section
      v-for="(t, i) in work.answer.value?.axles ?? []"
      :key="t.number"
      class="mt-6 border-t border-hairline pt-4"
      :class="{ stale: work.stale.value }"
    >
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2>
          {{ t.name }} <span class="font-normal text-soft">{{ rig.axles[i]?.tire_size.split(' ')[0] }}</span>
        </h2>
        <p v-if="t.state === 'target'" class="text-soft">
          <template v-if="t.reserve_left !== null"
            >{{ show('share', t.reserve_left) }} over the load</template
          >
          <span class="ml-3 text-4xl font-bold text-ink">{{ figure('pressure', t.target_kpa!, 'up') }}</span>
          {{ unitOf('pressure') }}
        </p>
        <p
          v-else
          class="text-xl font-bold"
          :class="t.state === 'not weighed' || t.state === 'no table' ? 'text-soft' : 'text-rust'"
        >
          {{
            t.state === 'no table' ? 'No table' : t.state === 'not weighed' ? 'Not weighed' : 'No pressure'
          }}
        </p>
      </div>
      <p
        v-if="t.state !== 'target'"
        :class="
          t.state === 'beyond tires' || t.state === 'floor above ceiling' ? 'font-semibold text-rust' : ''
        "
      >
        {{ say(t.words) }}
      </p>
      <Band
        v-if="t.floor_kpa !== null || t.ceiling_kpa !== null"
        class="mt-1"
        :label="t.name"
        :floor="t.floor_kpa"
        :target="t.target_kpa"
        :ceiling="t.ceiling_kpa"
        :level="lastLevel(t.number)"
        :flags="t.flags"
      />
      <div class="mt-1 grid grid-cols-1 gap-x-8 gap-y-2 lg:grid-cols-[minmax(0,1fr)_20rem]">
        <div>
          <ul v-if="t.notes.length" class="mb-1">
            <li v-for="(n, k) in t.notes" :key="k" class="text-sm font-medium">{{ say(n) }}</li>
          </ul>
          <div class="flex flex-wrap gap-x-6">
            <Opening v-if="t.working.length" label="Working" class="min-w-0 flex-1"
              ><Working :lines="t.working"
            /></Opening>
            <Opening v-if="t.flags.length" label="What each school says" class="min-w-0 flex-1">
              <dl>
                <div v-for="f in t.flags" :key="f.school" class="border-t border-hairline py-1.5">
                  <div class="flex justify-between gap-4">
                    <dt>{{ f.name }}</dt>
                    <dd class="figure">{{ show('pressure', f.kpa) }}</dd>
                  </div>
                  <dd v-if="f.objection" class="text-sm text-soft">{{ say(f.objection) }}</dd>
                </div>
              </dl>
            </Opening>
          </div>
        </div>
        <div>
          <ChoiceField
            v-if="fits(rig.axles[i]!.tire_size, rig.axles[i]!.wheels === 4).length"
            :model-value="chosenTables[i] ?? null"
            :label="`Load-inflation table, ${t.name.toLowerCase()}`"
            :choices="fits(rig.axles[i]!.tire_size, rig.axles[i]!.wheels === 4)"
            :message="work.fields.value[`tables.${i}`]"
            @update:model-value="chooseTable(i, $event)"
          />
          <template v-else-if="may('tables')">
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
        </div>
      </div>
    </section>
    <Banner class="mt-8 text-sm">
      Pressures come from the tire's and vehicle's makers and local law; where there is doubt a licensed tire
      service decides. The sidewall's maximum is a ceiling, never advice.
    </Banner>
  </template>
</template>
