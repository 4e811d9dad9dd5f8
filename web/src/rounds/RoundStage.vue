<script setup lang="ts">
/** The check itself: digits, Enter, next. Every reading is kept the moment it is entered. */
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { queries, useSession } from '@/shared/session'
import { useFrame } from '@/rigs/frame'
import { openRound, refreshRig } from '@/rigs/queries'
import Answer from '@/shared/Answer.vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import { enter, onStored, unsent, withdraw } from '@/shared/outbox'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import SampleStamp from '@/shared/SampleStamp.vue'
import TextField from '@/shared/TextField.vue'
import { figure, inField, say, shortly, show, spelled, system, unitOf, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import type { WheelState } from '@/shared/scale'
import type { Word } from '@/shared/words'
import Working from '@/shared/Working.vue'
import Keypad from './Keypad.vue'
import RoundConditions from './RoundConditions.vue'

type Wheel = Schemas['RoundWheelOut']
const { id, sheet, states, caption, picked, whole } = useFrame()
whole.value = true
const { may } = useSession()
const router = useRouter()
const roundId = computed(() => sheet.value.open_round)
const { data: round } = useQuery(openRound(roundId))
const take = (now: Schemas['RoundOut']) => queries.setQueryData(['round', now.id], now)

// -- opening, mending, putting away ------------------------------------------------------------
async function begin(body: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  try {
    take(
      await answer(
        api.POST('/api/v1/rigs/{rig_id}/rounds', { params: { path: { rig_id: id.value } }, body }),
      ),
    )
    await refreshRig(id.value)
    done()
  } catch (error) {
    done(error)
  }
}
const mending = ref(false)
async function mend(body: Schemas['ConditionsIn'], done: (error?: unknown) => void) {
  try {
    take(
      await answer(
        api.PUT('/api/v1/rounds/{round_id}', { params: { path: { round_id: roundId.value! } }, body }),
      ),
    )
    mending.value = false
    done()
  } catch (error) {
    done(error)
  }
}
const { save: abandon, message: abandonMessage } = useSave(async () => {
  await answer(api.DELETE('/api/v1/rounds/{round_id}', { params: { path: { round_id: roundId.value! } } }))
  await refreshRig(id.value)
})

// -- wheel by wheel ----------------------------------------------------------------------------
const entry = ref<Entry>(null)
const notRolled = ref(false)
const rereading = ref(false)
const lastSaid = ref<{ name: string; wheel: string } | null>(null)
const field = ref<InstanceType<typeof QuantityField>>()
const touch = useMediaQuery('(pointer: coarse)')

const waiting = computed(() => unsent.value.filter((u) => u.round === roundId.value))
const waitingFor = (code: string) => waiting.value.find((u) => u.reading.wheel === code && !u.refused)
/** Refused after the walk went on: shown until it is taken back. */
const turnedAway = computed(() => waiting.value.filter((u) => u.refused))
const wheels = computed(() => round.value?.wheels ?? [])
const wheel = computed(() => wheels.value.find((w) => w.code === picked.value))
const isRead = (w: Wheel) => w.before !== null || Boolean(waitingFor(w.code))
const standing = (w: Wheel) => w.after_answer ?? w.answer
const asksForAir = (word: Word) => ['add', 'let_out', 'stop'].includes(word)
const wantsAfter = (w: Wheel) =>
  w.before !== null && w.after === null && !w.locked && asksForAir(w.answer.word)
/** What the next entry on this wheel will be: a second reading once air was asked for. */
const after = computed(() =>
  Boolean(
    wheel.value && !rereading.value && wheel.value.before && (wantsAfter(wheel.value) || wheel.value.after),
  ),
)
const unread = computed(() => wheels.value.filter((w) => !isRead(w)))

const inputs = computed(() =>
  entry.value !== null && wheel.value && roundId.value
    ? {
        round: roundId.value,
        wheel: wheel.value.code,
        after: after.value,
        pressure: entry.value,
        not_rolled: notRolled.value,
      }
    : null,
)
const work = useWork(inputs, (body) => answer(api.POST('/api/v1/work/rounds', { body })))
/** The answer in large: of what is being typed, else of what stands. */
const shown = computed(() => {
  if (entry.value !== null) return work.answer.value
  return wheel.value && wheel.value.before && !rereading.value ? standing(wheel.value) : null
})

watch(
  [wheels, () => picked.value],
  () => {
    if (wheels.value.length && !wheel.value) picked.value = (unread.value[0] ?? wheels.value[0])!.code
  },
  { immediate: true },
)
watch(
  () => picked.value,
  () => {
    entry.value = null
    notRolled.value = Boolean(wheel.value?.before?.not_rolled)
    rereading.value = false
    void nextTick(() => field.value?.focus())
  },
)
onMounted(() => field.value?.focus())
watch(
  () => Boolean(round.value),
  () => nextTick(() => field.value?.focus()),
)

function step(by: number) {
  const at = wheels.value.findIndex((w) => w.code === picked.value)
  const next = wheels.value[Math.min(wheels.value.length - 1, Math.max(0, at + by))]
  if (next) picked.value = next.code
}
/** On to the next wheel that is not read, going round; stays when all are. */
function onward() {
  const at = wheels.value.findIndex((w) => w.code === picked.value)
  const order = [...wheels.value.slice(at + 1), ...wheels.value.slice(0, at)]
  const next = order.find((w) => !isRead(w)) ?? wheels.value[at + 1]
  if (next) picked.value = next.code
}

async function keep() {
  const now = wheel.value
  if (!now || !roundId.value) return
  if (entry.value === null) {
    onward()
    return
  }
  if (!work.stale.value && work.fields.value.pressure) return
  const second = after.value
  const reading: Schemas['ReadingIn'] = {
    wheel: now.code,
    after: second,
    pressure: entry.value,
    not_rolled: notRolled.value,
  }
  const foretold = work.stale.value ? null : work.answer.value
  lastSaid.value = { name: now.name, wheel: now.code }
  entry.value = null
  rereading.value = false
  const entered = enter(roundId.value, reading)
  // Where what is typed was answered already, and asks for no air, the walk goes on at once.
  if (second || (foretold && !asksForAir(foretold.word))) {
    onward()
    return
  }
  // Else it waits a moment for the answer; without one the walk goes on.
  const left = await Promise.race([entered, new Promise<undefined>((done) => setTimeout(done, 1500))])
  if (left?.refused) {
    entry.value = reading.pressure as Entry
    refusal.value = left.refused
    await withdraw(left.uuid)
    return
  }
  const answered = wheels.value.find((w) => w.code === now.code)
  if (answered && !waitingFor(now.code) && asksForAir(answered.answer.word)) {
    void nextTick(() => field.value?.focus())
    return
  }
  onward()
}
const refusal = ref('')
watch(entry, (now, before) => {
  if (before !== null && now !== before) refusal.value = ''
})

/** Says again how the first reading is meant: it goes in once more, with what was said of it. */
async function sayNotRolled() {
  notRolled.value = !notRolled.value
  const now = wheel.value
  if (now?.before && entry.value === null && roundId.value) {
    await enter(roundId.value, {
      wheel: now.code,
      after: false,
      pressure: now.before.typed,
      not_rolled: notRolled.value,
    })
    field.value?.focus()
  }
}
function readAgain() {
  rereading.value = true
  entry.value = null
  field.value?.focus()
}

function onKey(event: KeyboardEvent) {
  if (event.key === 'ArrowUp' || event.key === 'ArrowDown') {
    event.preventDefault()
    step(event.key === 'ArrowUp' ? -1 : 1)
  } else if (event.altKey && event.code === 'KeyN') {
    event.preventDefault()
    void sayNotRolled()
  } else if (event.altKey && event.code === 'KeyR') {
    event.preventDefault()
    readAgain()
  }
}
function press(key: string) {
  const text = inField('pressure', entry.value)
  entry.value = spelled('pressure', key === 'back' ? text.slice(0, -1) : text + key)
}

onUnmounted(onStored((now) => now.id === roundId.value && take(now)))

// -- the plan ----------------------------------------------------------------------------------
watch(
  [wheels, waiting, system],
  () => {
    if (!round.value) {
      states.value = null
      caption.value = ''
      return
    }
    const found: Record<string, WheelState> = {}
    for (const w of wheels.value) {
      const said = standing(w)
      const pending = waitingFor(w.code)
      found[w.code] = {
        floor: w.floor_kpa,
        target: w.here_kpa,
        ceiling: w.ceiling_kpa,
        level: said.cold_kpa,
        word: said.word,
        words: pending ? 'unsent' : shortly(said),
        change: said.change_kpa,
        estimate: said.estimate,
        ...(pending ? { text: inField('pressure', pending.reading.pressure as Entry) } : {}),
      }
    }
    states.value = found
    caption.value = `${wheels.value.length - unread.value.length} of ${wheels.value.length} read`
  },
  { immediate: true, deep: true },
)

// -- sealing -----------------------------------------------------------------------------------
const reason = ref('')
const sealing = ref(false)
const {
  save: seal,
  busy,
  fields,
  message,
} = useSave(async () => {
  await answer(
    api.POST('/api/v1/rounds/{round_id}/seal', {
      params: { path: { round_id: roundId.value! } },
      body: { unread_reason: reason.value },
    }),
  )
  await router.push({ name: 'lookback', params: { id: id.value } })
  await refreshRig(id.value)
})
function trySeal() {
  if (unread.value.length && !sealing.value) sealing.value = true
  else void seal()
}
const clock = (iso: string) =>
  new Date(iso).toLocaleTimeString('en-US', { hour: 'numeric', minute: '2-digit' })
const lastStored = computed(() =>
  wheels.value
    .flatMap((w) => [w.before, w.after])
    .filter((r) => r !== null)
    .map((r) => r.at)
    .sort()
    .at(-1),
)
const lastAnswer = computed(() => {
  const last = lastSaid.value && wheels.value.find((w) => w.code === lastSaid.value!.wheel)
  return last && last.code !== wheel.value?.code && last.before
    ? { name: last.name, answer: standing(last), target: last.here_kpa }
    : null
})
</script>

<template>
  <template v-if="!roundId">
    <h1>Open a round</h1>
    <p class="max-w-2xl text-soft">
      Every tire, the spares too, with one gauge, before the sun or the road has warmed them. Park level,
      brake on, wheels chocked.
    </p>
    <Banner v-if="!sheet.targets" class="mt-4">
      No target is in force: readings are kept, answers are not possible.
      <RouterLink v-if="may('targets')" :to="{ name: 'targets', params: { id } }"
        >Go to the target</RouterLink
      >
    </Banner>
    <Banner v-else-if="sheet.targets.out_of_date.length" loud class="mt-4">
      The target is out of date: {{ sheet.targets.out_of_date.join(', ') }}. Put it in force again first: what
      held then may not carry the load now.
      <RouterLink v-if="may('targets')" :to="{ name: 'targets', params: { id } }"
        >Go to the target</RouterLink
      >
    </Banner>
    <RoundConditions
      v-if="may('rounds')"
      :key="id"
      class="mt-5"
      :air="sheet.air.air"
      :light="sheet.rig.light"
      action="Open the round"
      @save="begin"
    />
    <p v-else class="mt-5 text-soft">You may look, not do rounds.</p>
  </template>

  <template v-else-if="round && wheel">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h1 aria-live="polite" class="text-2xl">
        {{ wheel.name }} <span class="font-normal text-soft">· {{ wheel.code }}</span>
      </h1>
      <p class="text-soft">
        {{ round.cold ? 'cold' : 'warm, an estimate' }}
        <template v-if="wheel.here_kpa !== null">
          · target here <b class="text-ink">{{ figure('pressure', wheel.here_kpa, 'up') }}</b> ·
          {{ round.gauge_label }} should show
          <b class="text-ink">{{ figure('pressure', wheel.shows_kpa!, 'up') }}</b>
        </template>
      </p>
    </div>
    <Banner v-if="sheet.targets?.out_of_date.length" loud class="mt-2 text-sm">
      The targets of this round are out of date: {{ sheet.targets.out_of_date.join(', ') }}. What holds here
      may not carry the load now.
    </Banner>
    <Banner v-if="round.gauge_condition" class="mt-2 text-sm"
      >{{ round.gauge_label }}: {{ say(round.gauge_condition) }}</Banner
    >

    <div class="mt-3 gap-7 sm:flex sm:min-h-36">
      <form class="w-full shrink-0 sm:w-64" novalidate @submit.prevent="keep" @keydown="onKey">
        <QuantityField
          ref="field"
          v-model="entry"
          large
          kind="pressure"
          :label="
            after
              ? `After the air, on ${round.gauge_label}`
              : rereading
                ? `Read again on ${round.gauge_label}`
                : `Reading on ${round.gauge_label}`
          "
          :inputmode="touch ? 'none' : 'decimal'"
          enterkeyhint="next"
          :disabled="!may('rounds')"
          :message="entry !== null ? (work.fields.value.pressure ?? refusal) : undefined"
        />
        <button class="sr-only" tabindex="-1" type="submit">Keep</button>
      </form>
      <div
        class="mt-3 min-w-0 flex-1 sm:mt-6"
        :class="{ stale: entry !== null && work.stale.value }"
        aria-live="polite"
      >
        <template v-if="shown">
          <Answer :answer="shown" :target="wheel.here_kpa" size="large" />
          <p v-if="shown.word === 'add' && wheel.shows_kpa !== null" class="mt-1">
            Fill until {{ round.gauge_label }} shows <b>{{ show('pressure', wheel.shows_kpa, 'up') }}</b>: its
            error is in that.
            <template v-if="!after && entry === null">Then read again.</template>
          </p>
          <p v-if="shown.cold_kpa !== null" class="text-soft">
            True {{ show('pressure', shown.cold_kpa) }} ± {{ show('pressure', shown.uncertainty_kpa!, 'up')
            }}{{ shown.estimate ? ', as if cold: an estimate' : '' }}
          </p>
          <p
            v-for="(n, i) in shown.notes"
            :key="i"
            class="text-sm"
            :class="{ 'font-semibold text-rust': shown.word === 'stop' }"
          >
            {{ say(n) }}
          </p>
        </template>
        <template v-else-if="lastAnswer">
          <p class="text-soft">{{ lastAnswer.name }}</p>
          <Answer :answer="lastAnswer.answer" :target="lastAnswer.target" />
        </template>
        <p v-else class="text-soft">Cap off, gauge on, digits, Enter.</p>
      </div>
    </div>

    <Keypad
      v-if="touch"
      class="mt-3 lg:hidden"
      :keep="entry === null ? (after ? 'No second reading' : 'Next') : 'Keep'"
      @key="press"
      @keep="keep"
    />
    <div class="mt-3 flex flex-wrap gap-2.5">
      <button
        type="button"
        class="button"
        :class="{ 'button-next': unread.length || entry !== null, 'max-lg:hidden': touch }"
        @click="keep"
      >
        {{ entry === null ? (after ? 'No second reading, next' : 'Next wheel') : 'Keep, next wheel' }}
        <span aria-hidden="true">↵</span>
      </button>
      <button
        v-if="!wheel.spare"
        type="button"
        class="button"
        :aria-pressed="notRolled"
        :class="{ 'bg-tealwash': notRolled }"
        title="Alt+N"
        @click="sayNotRolled"
      >
        {{ notRolled ? '✓ ' : '' }}Has not rolled like this
      </button>
      <button v-if="wheel.before" type="button" class="button" title="Alt+R" @click="readAgain">
        Read again
      </button>
      <button
        v-if="may('rounds')"
        type="button"
        class="button sm:ml-auto"
        :class="{ 'button-next': !unread.length && entry === null }"
        :disabled="busy || Boolean(waiting.length)"
        @click="trySeal"
      >
        Seal the round
      </button>
    </div>
    <form
      v-if="sealing && unread.length"
      class="mt-3 flex max-w-2xl flex-wrap items-end gap-3"
      novalidate
      @submit.prevent="seal()"
    >
      <TextField
        v-model="reason"
        class="min-w-60 flex-1"
        :label="`Not read: ${unread.map((w) => w.name).join(', ')}. Why?`"
        :message="fields.unread_reason"
      />
      <button class="button" :disabled="!reason.trim()">Seal without them</button>
      <button type="button" class="link min-h-10" @click="sealing = false">Go on reading</button>
    </form>
    <Refusal v-if="!fields.unread_reason" :message="message || abandonMessage" />

    <Band
      v-if="wheel.here_kpa !== null"
      class="mt-3"
      :label="wheel.name"
      :floor="wheel.floor_kpa"
      :target="wheel.here_kpa"
      :ceiling="wheel.ceiling_kpa"
      :level="shown?.cold_kpa ?? null"
      :flags="shown?.cold_kpa ? [{ name: 'now', kpa: shown.cold_kpa }] : []"
    />
    <p v-for="(n, i) in wheel.target_notes" :key="i" class="text-sm">{{ say(n) }}</p>

    <ul v-if="turnedAway.length" class="mt-3">
      <li v-for="u in turnedAway" :key="u.uuid" class="text-rust">
        {{ u.reading.wheel }}, {{ u.reading.pressure }}: {{ u.refused }}
        <button type="button" class="link" @click="((picked = u.reading.wheel), withdraw(u.uuid))">
          Read it again
        </button>
      </li>
    </ul>
    <ul v-if="round.findings.length" class="mt-3">
      <li v-for="f in round.findings" :key="f" class="font-semibold text-rust">{{ f }}</li>
    </ul>

    <div class="mt-4 overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th>Wheel</th>
            <th class="figure">Gauge</th>
            <th class="figure">True</th>
            <th class="figure">Target here</th>
            <th>Answer</th>
            <th class="figure">After</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in wheels" :key="w.code" :class="{ 'bg-tealwash': w.code === wheel.code }">
            <td>
              <button type="button" class="cursor-pointer text-left hover:underline" @click="picked = w.code">
                {{ w.name }} <span class="text-soft">{{ w.code }}</span>
              </button>
            </td>
            <td class="figure">
              <template v-if="waitingFor(w.code)"
                >{{ inField('pressure', waitingFor(w.code)!.reading.pressure as Entry) }}
                <span class="text-sm text-rust">unsent</span></template
              >
              <template v-else>{{ w.before ? figure('pressure', w.before.raw_kpa) : '–' }}</template>
            </td>
            <td class="figure font-bold">
              {{ w.before ? figure('pressure', w.before.corrected_kpa) : '–' }}
            </td>
            <td class="figure text-soft">
              {{ w.here_kpa === null ? '–' : figure('pressure', w.here_kpa, 'up') }}
            </td>
            <td><Answer :answer="w.answer" :target="w.here_kpa" /></td>
            <td class="figure">{{ w.after ? figure('pressure', w.after.corrected_kpa) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="mt-2 text-sm" :class="waiting.length ? 'font-semibold text-rust' : 'text-soft'" role="status">
      <template v-if="waiting.length">
        {{ waiting.length }} {{ waiting.length === 1 ? 'reading is' : 'readings are' }} kept here and not yet
        on the server. Sent as soon as it answers.
      </template>
      <template v-else-if="lastStored"
        >Kept on the server, {{ clock(lastStored) }}. Pressures in {{ unitOf('pressure') }}.</template
      >
      <template v-else>Nothing read yet.</template>
    </p>

    <div class="mt-4 flex flex-wrap gap-x-8 gap-y-2 border-t border-hairline pt-3">
      <Opening v-if="shown" label="Working of the answer" class="min-w-64 flex-1"
        ><Working :lines="[...wheel.target_working, ...shown.working]"
      /></Opening>
      <button type="button" class="link self-start py-1" :aria-expanded="mending" @click="mending = !mending">
        {{ round.place || 'Air by hand' }}, {{ show('temperature', round.outside_c) }}, stood
        {{ round.standing_h }} h: mend
      </button>
      <button v-if="may('rounds')" type="button" class="link self-start py-1" @click="abandon()">
        Abandon the round
      </button>
      <SampleStamp v-if="round.samples" class="ml-auto self-start" />
      <p v-if="round.unchecked" class="text-sm font-medium text-rust">
        Its targets come from a table that nobody checked a second time.
      </p>
    </div>
    <RoundConditions
      v-if="mending"
      class="mt-4"
      :air="sheet.air.air"
      :light="sheet.rig.light"
      :round="round"
      action="Mend, answer again"
      @save="mend"
    >
      <button type="button" class="link" @click="mending = false">Leave as it is</button>
    </RoundConditions>
  </template>
  <p v-else class="text-soft">Fetching the round …</p>
</template>
