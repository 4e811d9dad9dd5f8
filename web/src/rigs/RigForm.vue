<script setup lang="ts">
/** A rig from its labels and sidewalls, drawn while it is described. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Field from '@/shared/Field.vue'
import Refusal from '@/shared/Refusal.vue'
import RigPlan from '@/shared/RigPlan.vue'
import { metersOf, say } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import AxleEditor from './AxleEditor.vue'
import AxleFields from './AxleFields.vue'
import LabelFields from './LabelFields.vue'
import { refreshRig } from './queries'
import { blankRig, outline, rigBody, rigValue, spare, tireOf, type AxleForm } from './rigForm'
import SpareFields from './SpareFields.vue'

const props = defineProps<{ id?: number; copy?: number }>()
const source = computed(() => props.id ?? props.copy)
const router = useRouter()
const { kinds, may } = useSession()

const form = ref(blankRig())
const touchedAxles = ref(false)
const removed = ref<{ at: number; axle: AxleForm } | null>(null)

const { data: stored } = useQuery({
  queryKey: ['rig', source],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}', { params: { path: { rig_id: source.value! } } })),
  enabled: computed(() => source.value !== undefined),
})
let filled = false
/** What the form was filled from: somebody may change it meanwhile. */
let seen = ''
watch(
  stored,
  (rig) => {
    if (!rig || filled) return
    filled = true
    seen = rig.version
    touchedAxles.value = true
    form.value = rigValue(rig, props.copy !== undefined)
  },
  { immediate: true },
)

function chooseKind() {
  if (!touchedAxles.value) form.value.axles = outline(form.value.kind)
}
watch(() => form.value.kind, chooseKind)

function addAxle(behind = form.value.axles.length - 1) {
  touchedAxles.value = true
  const last = form.value.axles[behind]!
  const at = typeof last.position_m === 'number' ? last.position_m + 1.3 : null
  form.value.axles.splice(behind + 1, 0, { ...last, position_m: at, gawr_kg: null, lift: false, role: '' })
  // What stood behind it makes room.
  for (const a of form.value.axles.slice(behind + 2))
    if (typeof a.position_m === 'number' && at !== null && a.position_m < at + 1.2)
      a.position_m = Math.round((a.position_m + 1.3) * 100) / 100
}
function moveAxle(i: number, position: number) {
  touchedAxles.value = true
  form.value.axles[i]!.position_m = position
  if (form.value.axles.length === 2 && form.value.wheelbase_m !== null) form.value.wheelbase_m = position
}
function toggleDual(i: number) {
  touchedAxles.value = true
  const a = form.value.axles[i]!
  a.wheels = a.wheels === 4 ? 2 : 4
}
function removeAxle(i: number) {
  if (form.value.axles.length === 1) return
  touchedAxles.value = true
  removed.value = { at: i, axle: form.value.axles[i]! }
  form.value.axles.splice(i, 1)
  if (i === 0 && form.value.axles[0]) form.value.axles[0].position_m = 0
}
function undoRemove() {
  if (!removed.value) return
  form.value.axles.splice(removed.value.at, 0, removed.value.axle)
  removed.value = null
}
function addSpare() {
  const { tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa } = form.value.axles.at(-1)!
  form.value.spares.push({ ...spare(), tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa })
}
function sameAsFirst(i: number) {
  Object.assign(form.value.axles[i]!, tireOf(form.value.axles[0]!))
}

const kind = computed(() => kinds.value.find((k) => k.key === form.value.kind))
const trailer = computed(() => kind.value?.trailer ?? false)
const pulled = computed(() => kind.value?.pulled ?? false)

const body = computed(() => rigBody(form.value, trailer.value))
// A stored rig is asked about only once it has filled the form.
const inputs = computed(() => (source.value === undefined || stored.value ? body.value : null))
const work = useWork(inputs, (data) => answer(api.POST('/api/v1/work/rigs', { body: data })))

const { save, busy, fields, message, newer } = useSave(async () => {
  const saved = props.id
    ? await answer(
        api.PUT('/api/v1/rigs/{rig_id}', {
          params: { path: { rig_id: props.id } },
          body: rigBody(form.value, trailer.value, newer.value || seen),
        }),
      )
    : await answer(api.POST('/api/v1/rigs', { body: body.value }))
  await refreshRig(saved.id)
  await router.push({ name: props.id ? 'rig' : 'weighing', params: { id: saved.id } })
})
const tried = ref(false)
async function submit() {
  tried.value = true
  await save()
  await work.settled()
  await nextTick()
  document.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus()
}

/** An empty field is refused only once somebody has tried to save; anything else at once. */
function no(field: string): string | undefined {
  const refusal = fields.value[field] ?? work.fields.value[field]
  if (!refusal || tried.value) return refusal
  const value = field.split('.').reduce<unknown>((at, key) => (at as Record<string, unknown>)?.[key], form.value)
  return value === '' || value === null || value === undefined ? undefined : refusal
}
function caution(field: string): string | undefined {
  const doubt = work.answer.value?.cautions.find((c) => c.field === field)
  return doubt && say(doubt.words)
}
const axleName = (i: number) => kind.value?.axles[form.value.axles.length - 1]?.[i] ?? ''
const axles = computed(() =>
  form.value.axles.map((a, i) => ({
    number: i + 1,
    name: axleName(i),
    position_m: metersOf(a.position_m) ?? i * 1.3,
    track_m: metersOf(a.track_m) ?? 1.8,
    wheels: a.wheels,
    lift: a.lift,
  })),
)
const vehicles = computed(() => [
  {
    name: form.value.name,
    trailer: trailer.value,
    axles: axles.value,
    wheels: work.answer.value?.wheels ?? [],
  },
])
</script>

<template>
  <div class="lg:flex">
    <aside
      class="hidden w-[356px] shrink-0 border-r border-hairline px-5 py-6 lg:block"
      aria-label="Plan of the rig as described"
    >
      <h2>{{ form.name || 'New rig' }}</h2>
      <RigPlan
        v-if="vehicles[0]!.wheels.length"
        class="mt-2"
        :vehicles="vehicles"
        :states="{}"
        label="Wheels as described"
      />
      <p v-else class="mt-3 text-soft">The plan appears once the sizes are in.</p>
    </aside>
    <main id="stage" class="min-w-0 flex-1 px-4 py-6 lg:px-7">
      <h1>
        {{ id ? `Change ${stored?.name ?? 'rig'}` : copy ? `A rig like ${stored?.name ?? 'that'}` : 'Add a rig' }}
      </h1>
      <p class="text-soft">
        As its labels and sidewalls say. Leave empty what you do not know: unknown is never taken for zero.
      </p>
      <EntryForm :refused="no" class="mt-5 max-w-4xl" @submit="submit">
        <LabelFields v-model="form" :trailer="trailer" :pulled="pulled" :caution="caution" />

        <section class="mt-6 border-t border-hairline pt-4" aria-label="Axles on the plan">
          <AxleEditor
            :axles="axles"
            :trailer="trailer"
            :pulled="pulled"
            :coupler="metersOf(form.coupler_m)"
            :hitch="metersOf(form.hitch_m)"
            :solo="form.kind === 'motorcycle'"
            @move="moveAxle"
            @dual="toggleDual"
            @add="addAxle"
            @remove="removeAxle"
          />
          <p v-if="removed" class="mt-1 text-sm">
            Axle {{ removed.at + 1 }} is off.
            <button type="button" class="link" @click="undoRemove">Bring it back</button>
          </p>
        </section>

        <AxleFields
          v-for="(_, i) in form.axles"
          :key="i"
          v-model="form.axles[i]!"
          :at="i"
          :count="form.axles.length"
          :name="axleName(i)"
          :group="work.answer.value?.groups[i] ?? ''"
          :size="work.answer.value?.sizes[i]"
          :caution="(field) => caution(`axles.${i}.${field}`)"
          @touched="touchedAxles = true"
          @same="sameAsFirst(i)"
          @remove="removeAxle(i)"
        />
        <p class="mt-4 flex flex-wrap gap-4">
          <button v-if="form.axles.length < 9" type="button" class="button" @click="addAxle()">Add an axle</button>
          <button v-if="form.spares.length < 3" type="button" class="button" @click="addSpare">Add a spare</button>
        </p>

        <SpareFields
          v-for="(_, i) in form.spares"
          :key="`s${i}`"
          v-model="form.spares[i]!"
          :at="i"
          :count="form.spares.length"
          :size="work.answer.value?.spares[i]"
          @remove="form.spares.splice(i, 1)"
        />

        <section class="mt-7 border-t border-hairline pt-4">
          <Field
            v-slot="{ id: field, described, invalid }"
            label="Ready to roll: what to see to before it is weighed, a line each"
            hint="Empty: the usual list of its kind"
            :message="no('checklist')"
          >
            <textarea
              :id="field"
              v-model="form.checklist"
              class="input max-w-xl"
              rows="5"
              :aria-describedby="described"
              :aria-invalid="invalid || undefined"
            />
          </Field>
        </section>

        <div class="mt-8 flex flex-wrap items-center gap-4 border-t border-hairline pt-5">
          <button class="button button-next" :disabled="busy || !may('rigs')">
            {{ id ? 'Save the changes' : 'Add it, then weigh' }}
          </button>
          <RouterLink :to="id ? { name: 'rig', params: { id } } : '/'" class="link">Leave without saving</RouterLink>
          <Refusal :message="message" />
        </div>
      </EntryForm>
    </main>
  </div>
</template>
