<script setup lang="ts">
/** The check itself: digits, Enter, next. Every reading is kept the moment it is entered. */
import { refDebounced, useActiveElement, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import Answer from '@/shared/Answer.vue'
import Band from '@/shared/Band.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import { withdraw } from '@/shared/outbox'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { say, type Entry } from '@/shared/units'
import EntryKeys from './EntryKeys.vue'
import Equipment from './Equipment.vue'
import HandsFree from './HandsFree.vue'
import OpenRound from './OpenRound.vue'
import RadioReading from './RadioReading.vue'
import ReadTwice from './ReadTwice.vue'
import RoundFoot from './RoundFoot.vue'
import RoundHead from './RoundHead.vue'
import SealRound from './SealRound.vue'
import TakeWheels from './TakeWheels.vue'
import ThumbKeys from './ThumbKeys.vue'
import { useEntry } from './useEntry'
import { useRound, useRoundOnPlan, type Wheel } from './useRound'
import { useSpeech } from './useSpeech'
import Verdict from './Verdict.vue'
import WheelNotes from './WheelNotes.vue'
import WheelTable from './WheelTable.vue'

const { may } = useSession()
const here = useRound()
useRoundOnPlan(here)
const { aloud, canSpeak, speak, refuse } = useSpeech(here)
const round = computed(() => here.round)
const wheel = computed(() => here.wheel)
const field = ref<InstanceType<typeof QuantityField>>()
const notes = ref<InstanceType<typeof WheelNotes>>()
const verdict = ref<HTMLElement>()
const reading = ref<HTMLElement>()
const touch = useMediaQuery('(pointer: coarse)')
/** On its side the phone shows number and answer, and little else. */
const beside = useMediaQuery('(orientation: landscape) and (max-height: 560px)')
const large = ref(false)
const sealing = ref(false)

/** To the field, its verdict in sight above the keypad. */
function focus() {
  field.value?.focus()
  if (touch.value) (beside.value ? reading : verdict).value?.scrollIntoView({ block: beside.value ? 'end' : 'nearest' })
}
const typing = useEntry(here, speak, focus)
watch(
  () => typing.message,
  (message) => message && refuse(message),
)
onMounted(focus)
watch(
  () => Boolean(round.value),
  () => nextTick(focus),
)

const ALT: Record<string, () => unknown> = {
  KeyN: typing.sayNotRolled,
  KeyU: typing.undo,
  KeyR: typing.readAgain,
}
function onKey(event: KeyboardEvent) {
  if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    event.preventDefault()
    here.step(event.key === 'ArrowUp' ? -1 : 1)
  } else if (event.altKey && (ALT[event.code] ?? (() => notes.value?.letter(event.code) ?? false))() !== false)
    event.preventDefault()
}
/** A text is being written: the keys of the phone itself are up. Ours come back only after the press that ended it. */
const active = useActiveElement()
const writing = computed(
  () => touch.value && Boolean(active.value?.matches('textarea, input:not([inputmode="none"]):not([type="checkbox"])')),
)
const written = refDebounced(writing, 350)
const writingElsewhere = computed(() => writing.value || written.value)
/** The keys of our own are up. */
const keys = computed(() => (touch.value || large.value) && may('rounds') && !sealing.value && !writingElsewhere.value)
const notesWaiting = computed(() =>
  here.waiting.flatMap((u) => (u.note && u.note.wheel === wheel.value?.code && !u.refused ? [u.note] : [])),
)
/** What was said of the wheel before this one. */
const lastAnswer = computed(() => {
  const last = here.wheels.find((w) => w.code === typing.lastSaid?.wheel)
  const said = last && (last.before ? here.standing(last) : here.localAnswer(last))
  return last && said && last.code !== wheel.value?.code
    ? { name: last.name, answer: said, target: last.here_kpa }
    : null
})
const label = computed(() => {
  if (typing.after) return `After the air, on ${here.gaugeLabel}`
  return typing.rereading ? `Read again on ${here.gaugeLabel}` : `Reading on ${here.gaugeLabel}`
})
const answerOf = (w: Wheel) => here.localAnswer(w) ?? w.answer
const unsentOf = (code: string) => here.waitingFor(code)?.reading.pressure as Entry | undefined
</script>

<template>
  <OpenRound v-if="!here.roundId" @opened="here.take" />

  <div
    v-else-if="round && wheel"
    :class="{ 'max-lg:beside:mr-[50vw] max-lg:beside:flex max-lg:beside:flex-col': touch && may('rounds') && !sealing }"
  >
    <RoundHead :here="here" :round="round" :wheel="wheel" />
    <HandsFree v-if="large" :name="wheel.name" :answer="typing.shown" :target="wheel.here_kpa" />
    <div
      ref="reading"
      class="mt-3 gap-7 sm:flex sm:min-h-40 max-lg:beside:-order-1 max-lg:beside:mt-1 max-lg:beside:block"
    >
      <EntryForm class="w-full shrink-0 sm:w-64" @submit="typing.keep" @keydown="onKey">
        <QuantityField
          ref="field"
          v-model="typing.entry"
          large
          kind="pressure"
          :label="label"
          :inputmode="touch ? 'none' : 'decimal'"
          enterkeyhint="next"
          :disabled="!may('rounds')"
          :message="typing.message"
        />
        <button class="sr-only" tabindex="-1" type="submit">Keep</button>
      </EntryForm>
      <!-- On a phone of one height, whatever stands in it: nothing under the thumb moves. -->
      <div
        ref="verdict"
        v-scrolls="'The answer'"
        class="mt-2 min-w-0 flex-1 overflow-y-auto max-sm:h-40 max-sm:scroll-mb-72 sm:mt-6 max-lg:beside:mt-1 max-lg:beside:h-32"
        :class="{ stale: typing.dimmed }"
        aria-live="polite"
      >
        <Verdict :typing="typing" :wheel="wheel" :gauge="here.gaugeLabel" :touch="touch" />
      </div>
    </div>
    <p class="flex h-7 items-center gap-2 truncate text-sm text-soft">
      <template v-if="lastAnswer">
        {{ lastAnswer.name }}: <Answer :answer="lastAnswer.answer" :target="lastAnswer.target ?? null" />
      </template>
    </p>
    <ReadTwice :wheel="wheel" @right="typing.settle" />
    <ThumbKeys v-if="keys" :typing="typing" :large="large" :notes="notes" />
    <EntryKeys :here="here" :typing="typing" :wheel="wheel" :touch="touch" @seal="sealing = true" />
    <WheelNotes
      v-if="may('rounds')"
      ref="notes"
      class="mt-3"
      :round="round.id"
      :rig="round.rig_name"
      :rig-id="round.rig"
      :wheel="wheel"
      :pending="notesWaiting"
    />
    <RadioReading
      v-if="may('rounds')"
      class="mt-2"
      :round="round.id"
      :wheel="wheel.code"
      :dial="typing.after || typing.shown?.word === 'add' ? typing.dial : null"
      @heard="typing.heard"
    />
    <SealRound v-if="sealing" class="mt-3" :round="round" :unread="here.unread" @leave="sealing = false" />
    <Refusal :message="typing.undoMessage" />

    <Band
      v-if="wheel.here_kpa !== null"
      class="mt-3"
      :label="wheel.name"
      :band="{ ...wheel, target_kpa: wheel.here_kpa }"
      :level="typing.shown?.cold_kpa ?? null"
      :flags="typing.shown?.cold_kpa ? [{ name: 'now', kpa: typing.shown.cold_kpa }] : []"
    />
    <p v-for="(n, i) in wheel.target_notes" :key="i" class="text-sm">{{ say(n) }}</p>
    <ul v-if="here.turnedAway.length" class="mt-3">
      <li v-for="u in here.turnedAway" :key="u.uuid" class="text-rust">
        {{ u.reading?.wheel ?? u.note?.wheel }}, {{ u.reading?.pressure ?? 'a note' }}: {{ u.refused }}
        <button
          type="button"
          class="link"
          @click="((here.picked = u.reading?.wheel ?? u.note!.wheel), withdraw(u.uuid))"
        >
          {{ u.reading ? 'Read it again' : 'Take it back' }}
        </button>
      </li>
    </ul>
    <ul v-if="round.findings.length" class="mt-3">
      <li v-for="f in round.findings" :key="f" class="font-semibold text-rust">{{ f }}</li>
    </ul>
    <WheelTable
      class="mt-4"
      :wheels="here.wheels"
      :current="wheel.code"
      :waiting="unsentOf"
      :answer="answerOf"
      @pick="here.picked = $event"
    />
    <RoundFoot
      v-model:large="large"
      v-model:aloud="aloud"
      :here="here"
      :typing="typing"
      :round="round"
      :wheel="wheel"
      :can-speak="canSpeak"
    >
      <TakeWheels v-if="may('rounds')" class="mt-4" :round="round" @taken="here.take" />
      <Opening label="The right gauge and inflator" class="mt-2"><Equipment /></Opening>
    </RoundFoot>
  </div>
  <p v-else class="text-soft">Fetching the round …</p>
  <!-- What the pinned keypad covers can be scrolled out from under it. -->
  <div v-if="touch && here.roundId" class="h-80 lg:hidden" aria-hidden="true" />
</template>
