<script setup lang="ts">
/** Every wheel of a round in walking order, as it stands with what is still on its way. */
import Answer from '@/shared/Answer.vue'
import type { Schemas } from '@/shared/api/client'
import { figure, inField, system, toward, type Entry } from '@/shared/units'

type Wheel = Schemas['RoundWheelOut']
defineProps<{
  wheels: Wheel[]
  current: string
  /** What was typed and is not on the server yet. */
  waiting: (code: string) => Entry | undefined
  answer: (wheel: Wheel) => Schemas['AnswerOut']
}>()
const emit = defineEmits<{ pick: [code: string] }>()
</script>

<template>
  <div v-scrolls class="overflow-x-auto contain-content">
    <table class="plain">
      <thead>
        <tr>
          <th>Wheel</th>
          <th class="figure">Gauge</th>
          <th class="figure">True</th>
          <th class="figure">Target here</th>
          <th class="pl-5!">Answer</th>
          <th class="figure">After</th>
        </tr>
      </thead>
      <tbody>
        <tr
          v-for="w in wheels"
          :key="w.code"
          v-memo="[w, w.code === current, waiting(w.code), answer(w), system]"
          :class="{ 'bg-tealwash': w.code === current }"
        >
          <td>
            <button type="button" class="cursor-pointer text-left hover:underline" @click="emit('pick', w.code)">
              {{ w.name }} <span class="text-soft">{{ w.code }}</span>
            </button>
          </td>
          <td class="figure">
            <template v-if="waiting(w.code) !== undefined"
              >{{ inField('pressure', waiting(w.code)!) }} <span class="text-sm text-rust">unsent</span></template
            >
            <template v-else>{{ w.before ? figure('pressure', w.before.raw_kpa) : '–' }}</template>
          </td>
          <td class="figure font-bold">
            {{ w.before ? figure('pressure', w.before.corrected_kpa) : '–' }}
          </td>
          <td class="figure text-soft">
            {{ w.here_kpa === null ? '–' : figure('pressure', w.here_kpa, toward(w.here_kpa, w.ceiling_kpa)) }}
          </td>
          <td class="pl-5!">
            <Answer :answer="answer(w)" :target="w.here_kpa" />
            <span v-if="w.seen.skipped" class="block text-sm text-soft">skipped: {{ w.seen.skipped }}</span>
          </td>
          <td class="figure">{{ w.after ? figure('pressure', w.after.corrected_kpa) : '–' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
