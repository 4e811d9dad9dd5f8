<script setup lang="ts">
/** A plan as a chain of surfaces: what it asks of every wheel, the way back, and opening it. */
import { v4 as uuid } from 'uuid'
import { computed, reactive, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Presses from '@/shared/Presses.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import TickField from '@/shared/TickField.vue'
import { coarse, say, system } from '@/shared/units'
import { inPlace, useDraft } from '@/shared/useDraft'
import { useWork } from '@/shared/useWork'
import AxlesAsked from './AxlesAsked.vue'
import ChainEdit from './ChainEdit.vue'
import LandSection from './LandSection.vue'
import PlanChoices from './PlanChoices.vue'
import type { Ground } from './queries'
import StepTable from './StepTable.vue'
import { stretchSaid } from './stretch'
import type { OnGround } from './useGround'

const props = defineProps<{ here: OnGround; ground: Ground }>()
const { sheet, states, caption } = useFrame()
const { may } = useSession()
const form = reactive({
  chain: [] as string[],
  place: '',
  warmth: 'highway',
  nights: 2,
  gauge: props.ground.gauge,
  deflators: null as number | null,
  left_out: {} as Record<number, string>,
  recovery_reason: '',
  no_way_back: false,
})
const draft = useDraft(() => `ground ${props.here.head}`, inPlace(form))
const warmth = computed(() => props.ground.warmths.find((w) => w.key === form.warmth) ?? props.ground.warmths[0]!)
const asked = computed(() => ({
  chain: form.chain,
  left_out: Object.entries(form.left_out).map(([rig, reason]) => ({ rig: Number(rig), reason })),
  recovery_reason: form.recovery_reason,
  standing_h: warmth.value.standing_h,
  driven: warmth.value.driven,
  nights: form.nights,
  gauge: form.gauge,
  deflators: form.deflators,
}))
const work = useWork(
  computed(() => (form.chain.length && !props.ground.refused ? asked.value : null)),
  (body) => answer(api.POST('/api/v1/work/ground', { body: { rig: props.here.head, ...body } })),
)
const found = computed(() => work.answer.value)
const at = ref(0)
watch(
  () => form.chain.length,
  (n) => (at.value = Math.max(0, Math.min(at.value, n - 1))),
)
/** Without a network: the sections are drawn by the numbers that came as data. */
const followed = computed(
  () => props.ground.wheels.find((w) => w.code === followedCode.value) ?? props.ground.wheels[0],
)
const followedCode = ref('')
const stretches = computed(() => {
  const rows = form.chain.map((key) => props.ground.surfaces.find((s) => s.key === key)!).filter(Boolean)
  const road = props.ground.surfaces[0]!
  return (rows.at(-1)?.road ? rows : [...rows, road]).map((s) => ({
    ...s,
    kpa: followed.value?.numbers.find((n) => n.surface === s.key)?.kpa ?? null,
  }))
})
const step = computed(() => found.value?.steps[at.value] ?? null)
watch(
  [step, () => props.ground, system],
  () => {
    const on = form.chain.length ? stretches.value[at.value] : undefined
    caption.value = on ? stretchSaid(on) : 'the road target of each tire'
    states.value = Object.fromEntries(
      props.ground.wheels.map((w) => {
        const n = on ? w.numbers.find((one) => one.surface === on.key) : w.numbers[0]
        return [
          w.code,
          {
            floor: n?.floor_kpa ?? null,
            target: n?.kpa ?? null,
            ceiling: w.ceiling_kpa,
            level: null,
            word: 'not_checked' as const,
            words: n ? w.own : 'none',
            ...(n ? { text: coarse('pressure', n.kpa, 'up') } : {}),
          },
        ]
      }),
    )
  },
  { immediate: true },
)
const place = computed(() => props.ground.places.find((p) => p.place.toLowerCase() === form.place.trim().toLowerCase()))
const recovery = computed(() => form.chain.some((k) => props.ground.surfaces.find((s) => s.key === k)?.recovery))
const no = (name: string) =>
  work.fields.value[name] ??
  (name === 'chain' ? Object.entries(work.fields.value).find(([f]) => f.startsWith('chain'))?.[1] : undefined)
const blocked = computed(() =>
  found.value && !found.value.back && !form.no_way_back ? 'Say that you know there is no way back aboard.' : '',
)
const message = ref('')
async function open() {
  message.value = blocked.value
  if (message.value || !form.chain.length) return
  const id = uuid()
  await props.here.put(id, {
    open: {
      uuid: id,
      place: form.place,
      opened_at: new Date().toISOString(),
      no_way_back: form.no_way_back,
      ...asked.value,
    },
  })
  draft.saved()
}
</script>

<template>
  <AxlesAsked :here="here" :ground="ground" />
  <template v-if="!ground.refused">
    <template v-if="form.chain.length">
      <Banner class="mt-4" :class="{ stale: work.stale.value }" :loud="found !== null && !found.back">
        <b class="text-lg text-ink">{{ found ? say(found.back_words) : 'The way back is asked of the server.' }}</b>
      </Banner>
      <LandSection
        class="mt-4"
        :stretches="stretches"
        :at="at"
        :of="followed?.name ?? ''"
        :road="followed?.road_kpa ?? null"
        @pick="at = $event"
      />
      <StepTable
        v-if="step"
        class="mt-3"
        :class="{ stale: work.stale.value }"
        :step="step"
        :ground="ground"
        :warmth="warmth"
        @follow="followedCode = $event"
      />
      <ul v-if="found" class="mt-3 max-w-3xl text-sm">
        <li v-for="(n, i) in found.notes" :key="`n${i}`">{{ say(n) }}</li>
        <li v-for="(c, i) in found.cautions" :key="`c${i}`" class="font-medium">{{ say(c) }}</li>
        <li v-for="(l, i) in ground.lacks" :key="`l${i}`">{{ say(l) }}</li>
      </ul>
    </template>
    <p v-else class="mt-2 max-w-2xl text-soft">
      Choose the surfaces in the order you meet them. Each has its number, its speed and its way back before anything is
      let out. {{ ground.practice }}
    </p>
    <fieldset :disabled="!may('rounds')" class="min-w-0">
      <EntryForm :refused="no" class="mt-5 max-w-3xl" @submit="open">
        <ChainEdit v-model="form.chain" v-model:at="at" :surfaces="ground.surfaces" :message="no('chain')" />
        <div class="mt-4">
          <span class="label">How the tires stand now</span>
          <div class="flex flex-wrap gap-1.5">
            <Presses
              v-model="form.warmth"
              look="chip min-h-11 px-3"
              :choices="ground.warmths.map((w) => ({ key: w.key, name: w.name }))"
            />
          </div>
        </div>
        <div class="mt-4 grid gap-4 sm:grid-cols-2">
          <TextField v-model="form.place" label="Where" name="place" :suggest="ground.places.map((p) => p.place)" />
          <TextField
            v-if="recovery"
            v-model="form.recovery_reason"
            label="What is stuck, and where"
            name="recovery_reason"
            required
          />
        </div>
        <p v-if="place" class="mt-1 text-sm">
          {{ say(place.words) }}
          <button
            v-if="place.surface && !form.chain.includes(place.surface)"
            type="button"
            class="link"
            @click="form.chain = [...form.chain, place.surface]"
          >
            Take it as there
          </button>
        </p>
        <PlanChoices v-model="form" :train="sheet.train" :refused="no" />
        <TickField
          v-if="found && !found.back"
          v-model="form.no_way_back"
          label="I know that nothing aboard brings it back to road pressure"
          name="no_way_back"
        />
        <div v-if="form.chain.length" class="mt-5 flex flex-wrap items-center gap-x-5 gap-y-2">
          <button class="button button-next text-lg">Open the plan</button>
          <span class="text-sm text-soft">It closes only by a sealed cold round at road numbers.</span>
        </div>
        <Refusal
          :message="
            message || (Object.keys(work.fields.value).length ? '' : work.unreachable.value ? '' : work.message.value)
          "
        />
      </EntryForm>
    </fieldset>
  </template>
</template>
