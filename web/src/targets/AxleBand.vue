<script setup lang="ts">
/** One axle's answer: the figure, the band with every school on it, what speaks for and against, the working. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, unitOf, type Entry, toward } from '@/shared/units'
import Working from '@/shared/Working.vue'

const props = defineProps<{
  rig: number
  /** Whether this person puts targets in force: else what is chosen is told, not offered. */
  editing: boolean
  target: Schemas['AxleTargetOut']
  weighed: boolean
  size: string
  level: number | null
  tables: { key: number | null; name: string; note?: string }[]
  tableMessage?: string | undefined
  ownMessage?: string | undefined
  trialMessage?: string | undefined
  rangeMessage?: string | undefined
}>()
const table = defineModel<number | null>('table', { required: true })
const own = defineModel<Entry>('own', { required: true })
const trial = defineModel<string>('trial', { required: true })
const range = defineModel<{ to: Entry; feel: string }>('range', { required: true })
const choosing = ref(own.value !== null)
const widening = ref(range.value.to !== null)
function narrow() {
  range.value.to = null
  range.value.feel = ''
  widening.value = false
}
// Typed before and back after a reload.
watch([own, () => range.value.to], ([one, other]) => {
  choosing.value ||= one !== null
  widening.value ||= other !== null
})

const without = computed(() => ['beyond tires', 'floor above ceiling'].includes(props.target.state))
const has = computed(() => props.target.target_kpa !== null)
const flags = computed(() =>
  props.target.flags.map((f) => ({
    ...f,
    toward: f.school === 'sidewall' ? ('down' as const) : ('nearest' as const),
  })),
)
const FLOOR = {
  load: 'the table',
  'first column': "the table's first column",
  proportion: 'the sidewall, an estimate',
  ground: 'the surface',
  road: 'the least for the road, an estimate',
}
const FEELS = ['economy', 'ride', 'grip', 'harsh', 'wanders']
const WORDS: Record<string, string> = { 'no table': 'No table', 'not weighed': 'Not weighed' }
</script>

<template>
  <section class="mt-6 border-t border-hairline pt-4" :aria-label="target.name">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>
        {{ target.name }} <span class="font-normal text-soft">{{ size }}</span>
      </h2>
      <p v-if="has" class="text-soft">
        <span v-if="target.state === 'provisional'" class="mr-3 font-semibold text-rust">provisional</span>
        <span v-if="target.trial" class="mr-3 font-semibold text-rust">on trial</span>
        <template v-if="target.reserve_left !== null">{{ show('share', target.reserve_left) }} over the load</template>
        <span class="ml-3 text-4xl font-bold text-ink">{{
          figure('pressure', target.target_kpa!, toward(target.target_kpa!, target.ceiling_kpa))
        }}</span>
        {{ unitOf('pressure') }}
        <span v-if="target.range_kpa !== null" class="block text-right"
          >or {{ target.range_kpa > target.target_kpa! ? 'up' : 'down' }} to
          {{ show('pressure', target.range_kpa, toward(target.range_kpa, target.ceiling_kpa)) }}</span
        >
      </p>
      <p v-else class="text-xl font-bold" :class="without ? 'text-rust' : 'text-soft'">
        {{ WORDS[target.state] ?? 'No pressure' }}
      </p>
    </div>
    <p v-if="target.state !== 'target'" :class="{ 'font-semibold text-rust': without }">
      {{ say(target.words) }}
    </p>
    <Band
      v-if="target.floor_kpa !== null || target.ceiling_kpa !== null"
      class="mt-1"
      :label="target.name"
      :band="target"
      :level="level"
      :flags="flags"
    />
    <p v-if="target.ceiling_kpa !== null" class="text-sm text-soft">
      Ceiling by the {{ target.ceiling_from
      }}<template v-if="target.floor_kpa !== null"
        >; {{ target.at_least.length ? 'floor at least, by' : 'floor by' }} {{ FLOOR[target.floor_from] }}</template
      >.
    </p>
    <p v-if="target.lacks.length" class="mt-1 text-sm">
      It would help to know:
      <template v-for="(m, k) in target.lacks" :key="m.name"
        ><RouterLink :to="{ name: 'rig-edit', params: { id: rig }, query: { at: m.place } }">{{ m.name }}</RouterLink
        ><span class="text-soft"> ({{ m.gives }})</span>{{ k + 1 < target.lacks.length ? ', ' : '.' }}
      </template>
    </p>
    <slot name="voice" />
    <ul v-if="target.notes.length" class="mt-1">
      <li v-for="(n, k) in target.notes" :key="k" class="text-sm font-medium">{{ say(n) }}</li>
    </ul>
    <div class="mt-1 grid grid-cols-1 gap-x-8 gap-y-2 lg:grid-cols-[minmax(0,1fr)_20rem]">
      <div class="min-w-0">
        <Opening v-if="target.working.length" label="Working"><Working :lines="target.working" /></Opening>
        <Opening v-if="target.flags.length" label="What each school says">
          <ul>
            <li v-for="f in target.flags" :key="f.school" class="border-t border-hairline py-1.5">
              <p class="flex justify-between gap-4">
                <span :class="{ 'font-semibold': f.school === target.school }"
                  >{{ f.name }}{{ f.school === target.school ? ', chosen' : '' }}</span
                >
                <span class="figure">{{ show('pressure', f.kpa) }}</span>
              </p>
              <p v-if="f.objection" class="text-sm text-soft">{{ say(f.objection) }}</p>
              <Opening v-if="f.working.length" label="How it comes to it" class="text-sm"
                ><Working :lines="f.working"
              /></Opening>
            </li>
          </ul>
        </Opening>
        <button v-if="editing && !choosing && !without" type="button" class="link py-1" @click="choosing = true">
          A pressure of my own
        </button>
        <div v-if="editing && choosing" class="mt-1 flex max-w-md items-end gap-3">
          <QuantityField
            v-model="own"
            :label="`A pressure of my own, ${target.name.toLowerCase()}`"
            kind="pressure"
            :hint="weighed ? 'Between floor and ceiling' : 'As you drive it; it is kept inside what is known'"
            :message="ownMessage"
          />
          <button type="button" class="link pb-2.5" @click="((own = null), (choosing = false))">Leave it</button>
        </div>
        <button v-if="editing && !widening && has" type="button" class="link block py-1" @click="widening = true">
          Keep it as a range
        </button>
        <div v-if="editing && widening" class="mt-2 flex max-w-xl flex-wrap items-start gap-x-3 gap-y-2">
          <QuantityField
            v-model="range.to"
            class="w-44"
            :label="`Hold up or down to, ${target.name.toLowerCase()}`"
            kind="pressure"
            :message="rangeMessage"
          />
          <TextField v-model="range.feel" class="min-w-40 flex-1" label="How it felt" :suggest="FEELS" />
          <button type="button" class="link mt-7" @click="narrow">One number again</button>
          <p class="w-full text-sm text-soft">
            A round fills to
            {{
              has ? show('pressure', target.target_kpa!, toward(target.target_kpa!, target.ceiling_kpa)) : 'its number'
            }}
            and leaves alone what lies between; never outside floor and ceiling.
          </p>
        </div>
      </div>
      <div>
        <TextField
          v-if="editing && target.below_placard"
          v-model="trial"
          class="mb-3"
          :label="`Reason to go below the placard, ${target.name.toLowerCase()}`"
          hint="As a trial of this axle alone. Without it the placard stays a second floor."
          :message="trialMessage"
        />
        <ChoiceField
          v-if="editing && tables.length"
          v-model="table"
          :label="`Load-inflation table, ${target.name.toLowerCase()}`"
          :choices="tables"
          :message="tableMessage"
        />
        <p v-else-if="tables.length" class="text-sm text-soft">
          By {{ tables.find((t) => t.key === table)?.name ?? 'no table' }}
        </p>
        <slot v-else />
      </div>
    </div>
  </section>
</template>
