<script setup lang="ts">
/** An open plan on the ground: the next wheel, its number, a timer, read after, kept; then the next stretch, and the way back. */
import { computed, nextTick, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import Banner from '@/shared/Banner.vue'
import { useSession } from '@/shared/session'
import { say, show } from '@/shared/units'
import { useVoice } from '@/shared/voice'
import LandSection from './LandSection.vue'
import PlanEnds from './PlanEnds.vue'
import type { Ground, OpenPlan } from './queries'
import WalkWheel from './WalkWheel.vue'
import { stretchSaid } from './stretch'
import type { OnGround } from './useGround'

const props = defineProps<{ here: OnGround; ground: Ground; plan: OpenPlan }>()
const { picked, states, caption, sheet } = useFrame()
const { may } = useSession()
const voice = useVoice()
const { aloud } = voice
const BESIDE = { below: 'add', at: 'hold', above: 'let_out' } as const
/** In walking order, the inner of two duals first. */
const wheels = computed(() => {
  const order = props.ground.wheels.map((w) => w.code)
  return [...props.plan.wheels].sort((a, b) => order.indexOf(a.code) - order.indexOf(b.code))
})
const stretch = computed(() => props.plan.stretches[props.plan.at]!)
const wheel = computed(() => wheels.value.find((w) => w.code === picked.value))
const next = computed(() => wheels.value.find((w) => w.waiting))
watch(
  () => [props.plan.uuid, props.plan.at],
  () => (picked.value = next.value?.code ?? null),
  { immediate: true },
)
watch(
  () => props.plan.wheels,
  () => {
    // The speed of the softest tire counts until it is up again.
    caption.value = stretchSaid({ name: stretch.value.name, speed_kmh: props.plan.speed_kmh })
    states.value = Object.fromEntries(
      wheels.value.map((w) => {
        const of = props.ground.wheels.find((g) => g.code === w.code)
        const set = w.done?.done === 'set' ? w.done.kpa : null
        return [
          w.code,
          {
            floor: of?.numbers.find((n) => n.surface === stretch.value.key)?.floor_kpa ?? null,
            target: w.kpa,
            ceiling: of?.ceiling_kpa ?? null,
            level: set,
            word: w.waiting || w.beside === null ? ('not_checked' as const) : BESIDE[w.beside],
            words: w.waiting ? 'Next' : 'Done',
          },
        ]
      }),
    )
  },
  { immediate: true },
)
watch(
  () => wheel.value?.code,
  () => wheel.value && voice.utter(`${wheel.value.name}, ${show('pressure', wheel.value.kpa, 'up')}`, false),
)
const followed = computed(() => wheel.value ?? wheels.value[0])
const drawn = computed(() =>
  props.plan.stretches.map((s) => ({ ...s, kpa: followed.value ? (s.numbers[followed.value.code] ?? null) : null })),
)
const back = computed(() => props.plan.at === props.plan.stretches.length - 1)
async function go(step: number) {
  await props.here.put(props.plan.uuid, { step: { step } })
  await nextTick()
  picked.value = next.value?.code ?? null
}
async function entered() {
  await nextTick()
  picked.value = next.value?.code ?? null
}
const count = computed(() => wheels.value.filter((w) => !w.waiting).length)
</script>

<template>
  <div class="flex flex-wrap items-baseline justify-between gap-x-6">
    <h1 class="max-sm:text-xl">
      {{ stretch.name }}<template v-if="plan.place"> · {{ plan.place }}</template>
    </h1>
    <p v-if="plan.speed_kmh !== null" class="text-3xl font-bold">at most {{ show('speed', plan.speed_kmh, 'down') }}</p>
  </div>
  <Banner v-if="plan.loud.length || plan.no_way_back" class="mt-2" loud>
    <p v-for="(l, i) in plan.loud" :key="i" class="font-semibold first-letter:uppercase">{{ say(l) }}.</p>
    <p v-if="plan.no_way_back">{{ say(plan.back_words) }}</p>
  </Banner>
  <template v-if="may('rounds')">
    <WalkWheel
      v-if="wheel && stretch"
      :key="`${plan.at} ${wheel.code}`"
      class="mt-3"
      :wheel="wheel"
      :plan="plan"
      :ground="ground"
      :here="here"
      :voice="voice"
      :count="count"
      :of="wheels.length"
      @done="entered"
    />
    <div v-else class="mt-4 flex flex-wrap items-center gap-x-5 gap-y-3">
      <p class="text-xl font-semibold">
        {{ back ? 'Every tire is filled for the road.' : 'Every tire is at its number here.' }}
      </p>
      <button v-if="!back" type="button" class="button button-next text-lg" @click="go(plan.at + 1)">
        Then {{ plan.stretches[plan.at + 1]!.name.toLowerCase() }}
      </button>
      <RouterLink v-else class="button button-next text-lg" :to="{ name: 'rounds', params: { id: here.head } }">
        {{ sheet.open_round ? 'Go on with the round' : 'Open the cold round that closes it' }}
      </RouterLink>
    </div>
  </template>
  <p v-for="(w, i) in plan.why_open" :key="`w${i}`" class="mt-2 font-medium text-rust">
    The last round left the plan open: {{ say(w) }}.
  </p>
  <LandSection
    class="mt-5 max-lg:hidden"
    :stretches="drawn"
    :at="plan.at"
    :of="followed?.name ?? ''"
    :road="plan.stretches.at(-1)!.numbers[followed?.code ?? ''] ?? null"
    @pick="() => {}"
  />
  <label v-if="voice.canSpeak && may('rounds')" class="mt-3 flex min-h-11 items-center gap-2">
    <input v-model="aloud" type="checkbox" class="size-5 accent-teal" /> Aloud
  </label>
  <PlanEnds class="mt-4" :here="here" :plan="plan" :wheels="wheels" @go="go" @pick="picked = $event" />
</template>
