<script setup lang="ts">
/** A wheel of an open plan: what the gauge must show, the timer, the reading after, and ways to pass it by. */
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import Keypad from '@/shared/Keypad.vue'
import Presses from '@/shared/Presses.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { figure, pressureOf, say, show, unitOf, type Entry } from '@/shared/units'
import type { useVoice } from '@/shared/voice'
import type { Goal, Ground, OpenPlan } from './queries'
import type { OnGround } from './useGround'

const props = defineProps<{
  wheel: OpenPlan['wheels'][number]
  plan: OpenPlan
  ground: Ground
  here: OnGround
  voice: ReturnType<typeof useVoice>
  count: number
  of: number
}>()
const emit = defineEmits<{ done: [] }>()
const KEPT_WARMTH = 'ground warmth'
const warmth = ref(sessionStorage.getItem(KEPT_WARMTH) ?? 'highway')
const stands = computed(() => props.ground.warmths.find((w) => w.key === warmth.value) ?? props.ground.warmths[0]!)
const stretch = computed(() => props.plan.stretches[props.plan.at]!)
/** The goal as data, for how the tires stand. */
const goal = computed<Goal | null>(() => {
  const goals = stretch.value.goals[props.wheel.code]
  return (props.wheel.lets_out ? goals?.out : goals?.up)?.[warmth.value] ?? null
})
const valve = computed(() => props.ground.wheels.find((w) => w.code === props.wheel.code)?.valve)
const entry = ref<Entry>(null)
const message = ref('')
const read = computed(() => pressureOf(entry.value))
const verdict = computed(() => {
  if (read.value === null || !goal.value) return ''
  const says = props.ground.verdicts
  if (read.value < goal.value.low_kpa) return says.below!
  return read.value > goal.value.high_kpa ? says.above! : says.at!
})
/** Without a goal no number is shown: a cold one is none for a warm tire. */
const shows = computed(() => (goal.value ? figure('pressure', goal.value.shows_kpa, 'up') : '?'))
const doing = computed(() => (props.wheel.lets_out ? 'Let out until it shows' : 'Fill until it shows'))
const said = computed(() => verdict.value || (props.wheel.words ? say(props.wheel.words) : 'Read it after'))
function press(key: string) {
  message.value = ''
  const text = entry.value === null ? '' : String(entry.value).split(' ')[0]!
  const now = key === 'back' ? text.slice(0, -1) : text + key
  entry.value = now ? `${now} ${unitOf('pressure')}` : null
}
// -- timed -------------------------------------------------------------------------------------------
const started = ref<number | null>(null)
const stopped = ref<number | null>(null)
const clock = useNow({ interval: 500 })
const seconds = computed(() =>
  started.value === null ? null : Math.max(0, ((stopped.value ?? clock.value.getTime()) - started.value) / 1000),
)
function time() {
  if (started.value === null || stopped.value !== null) [started.value, stopped.value] = [Date.now(), null]
  else stopped.value = Date.now()
}
const timer = computed(() =>
  seconds.value === null ? 'Time it' : `${stopped.value === null ? 'Stop: ' : ''}${Math.floor(seconds.value)} s`,
)
const timed = computed(() => {
  if (seconds.value === null || seconds.value < 6 || !props.wheel.lets_out) return {}
  const before = props.plan.stretches.at(props.wheel.stands_on)
  const from = before?.goals[props.wheel.code]?.up[warmth.value]
  return from ? { minutes: seconds.value / 60, from_pressure: `${from.shows_kpa.toFixed(2)} kPa` } : {}
})
// -- kept, or passed by ------------------------------------------------------------------------------
const passing = ref<'' | 'left' | 'replaced' | 'unreadable'>('')
const reason = ref('')
const WAYS = [
  { key: 'left' as const, name: 'Stays as it is' },
  { key: 'replaced' as const, name: 'Wheel replaced' },
  { key: 'unreadable' as const, name: 'Cannot be read' },
]
const WHY = ['Valve out of reach', 'Core stuck', 'Already low enough']
async function keep() {
  if (!passing.value && entry.value === null)
    return void (message.value = 'Read it after, and enter what the gauge shows.')
  if (passing.value && !reason.value.trim()) return void (message.value = 'A wheel is passed by with its reason only.')
  if (!passing.value && read.value === null) return void (message.value = 'That is no pressure. Enter digits.')
  if (verdict.value) props.voice.utter(verdict.value, true)
  sessionStorage.setItem(KEPT_WARMTH, warmth.value)
  await props.here.put(props.plan.uuid, {
    entry: {
      wheel: props.wheel.code,
      step: props.plan.at,
      done: passing.value || 'set',
      pressure: passing.value ? null : entry.value,
      gauge: props.ground.gauge,
      standing_h: stands.value.standing_h,
      driven: stands.value.driven,
      outside_c: props.ground.outside_c,
      set_in_c: props.ground.set_in_c,
      reason: reason.value,
      done_at: new Date().toISOString(),
      ...(passing.value ? {} : timed.value),
    },
  })
  emit('done')
}
</script>

<template>
  <section :aria-label="wheel.name">
    <div class="max-lg:hidden">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h2 class="text-2xl">
          {{ wheel.name }} <span class="text-soft">{{ wheel.code }}</span>
        </h2>
        <p class="text-soft">{{ count }} of {{ of }} done</p>
      </div>
      <p class="mt-1 flex flex-wrap items-end gap-x-4">
        <span class="basis-full text-sm text-soft">{{ doing }}</span>
        <b class="text-6xl leading-none">{{ shows }}</b>
        <span class="text-soft">{{ unitOf('pressure') }}</span>
        <span class="pb-1 text-soft"
          >its number, cold: <b class="text-ink">{{ show('pressure', wheel.kpa, 'up') }}</b><template
            v-if="ground.gauge_label"
            >, by {{ ground.gauge_label }}</template
          ></span
        >
      </p>
    </div>
    <div class="mt-2 flex flex-wrap gap-1.5">
      <Presses
        v-model="warmth"
        look="chip quiet min-h-11 px-2.5"
        :choices="ground.warmths.map((w) => ({ key: w.key, name: w.name }))"
      />
    </div>
    <p v-if="valve" class="mt-2 font-medium">{{ say(valve) }}</p>
    <p
      class="mt-2 min-h-9 text-2xl font-semibold max-lg:hidden"
      aria-live="polite"
      :class="verdict === ground.verdicts.at ? 'text-green' : verdict ? 'text-rust' : 'text-soft'"
    >
      {{ said }}
    </p>
    <form class="mt-1 flex flex-wrap items-end gap-3 max-lg:hidden" @submit.prevent="keep">
      <QuantityField
        v-model="entry"
        class="w-52"
        :label="`Reading after, ${wheel.name.toLowerCase()}`"
        kind="pressure"
      />
      <button class="button button-next">Keep</button>
      <button v-if="wheel.lets_out" type="button" class="button" @click="time">{{ timer }}</button>
    </form>
    <Refusal class="max-lg:hidden" :message="message" />
    <div class="mt-2">
      <div class="flex flex-wrap gap-1.5">
        <button
          v-for="w in WAYS"
          :key="w.key"
          type="button"
          class="press chip quiet min-h-11 px-2.5"
          :aria-pressed="passing === w.key"
          @click="passing = passing === w.key ? '' : w.key"
        >
          {{ w.name }}
        </button>
      </div>
      <div v-if="passing" class="mt-2 flex flex-wrap items-end gap-2">
        <TextField v-model="reason" class="min-w-56 flex-1" label="Why" :suggest="WHY" />
        <button type="button" class="button button-next" @click="keep">Keep it so</button>
      </div>
    </div>
    <div
      class="bg-paper max-lg:fixed max-lg:inset-x-0 max-lg:bottom-0 max-lg:z-20 max-lg:border-t max-lg:border-hairline max-lg:p-2 max-lg:beside:left-1/2 max-lg:beside:border-l lg:hidden"
    >
      <div class="flex items-baseline justify-between gap-3">
        <h2 class="truncate text-xl">
          {{ wheel.name }} <span class="text-soft">{{ wheel.code }}</span>
        </h2>
        <p class="shrink-0 text-sm text-soft">
          {{ count }} of {{ of
          }}<b v-if="plan.speed_kmh !== null" class="text-ink">
            · {{ show('speed', plan.speed_kmh, 'down') }} at most</b
          >
        </p>
      </div>
      <div class="flex items-end justify-between gap-3">
        <p class="leading-tight">
          <span class="block text-sm text-soft">{{ doing }}</span>
          <b class="text-5xl leading-none">{{ shows }}</b>
          <span class="ml-1 text-soft">{{ unitOf('pressure') }}</span>
        </p>
        <output
          class="min-w-24 border-b-2 border-soft text-right text-4xl leading-none font-bold"
          :aria-label="`Reading after, ${wheel.name.toLowerCase()}`"
          >{{ entry === null ? '–' : String(entry).split(' ')[0] }}</output
        >
      </div>
      <div class="my-1.5 flex h-11 items-center justify-between gap-3">
        <p
          class="leading-tight font-semibold"
          aria-live="polite"
          :class="verdict === ground.verdicts.at ? 'text-green' : verdict || message ? 'text-rust' : 'text-soft'"
        >
          {{ message || said }}
        </p>
        <button v-if="wheel.lets_out" type="button" class="button min-h-11 shrink-0" @click="time">{{ timer }}</button>
      </div>
      <Keypad keep="Keep" @key="press" @keep="keep" />
    </div>
    <div class="max-lg:h-96 lg:hidden" />
  </section>
</template>
