<script setup lang="ts">
/** The verdict in large, the number that is asked back, or what to do next. */
import Answer from '@/shared/Answer.vue'
import { figure, inField, say, show } from '@/shared/units'
import type { Typing } from './useEntry'
import type { Wheel } from './useRound'

defineProps<{ typing: Typing; wheel: Wheel; gauge: string; touch: boolean }>()
</script>

<template>
  <template v-if="typing.asking">
    <p class="text-3xl font-bold text-rust">
      {{ inField('pressure', typing.entry) }}? Expected {{ figure('pressure', wheel.expected_kpa!) }}
    </p>
    <p class="mt-1">Keep it once more if {{ gauge }} really shows that.</p>
  </template>
  <template v-else-if="typing.shown">
    <Answer :answer="typing.shown" :target="wheel.here_kpa" size="large" />
    <p v-if="typing.shown.word === 'add' && typing.dial !== null" class="mt-1">
      Fill until {{ gauge }} shows <b>{{ show('pressure', typing.dial, 'nearest') }}</b>: its error is in that<template
        v-if="typing.shown.estimate"
        >, and the warmth of the tire</template
      >.
      <template v-if="!typing.after && typing.entry === null">Then read again.</template>
    </p>
    <p v-if="typing.shown.cold_kpa !== null" class="text-soft">
      True {{ show('pressure', typing.shown.cold_kpa) }} ± {{ show('pressure', typing.shown.uncertainty_kpa!, 'up')
      }}{{ typing.shown.estimate ? ', as if cold: an estimate' : '' }}
    </p>
    <p
      v-for="(n, i) in typing.shown.notes"
      :key="i"
      class="text-sm"
      :class="{ 'font-semibold text-rust': typing.shown.word === 'stop' }"
    >
      {{ say(n) }}
    </p>
  </template>
  <p v-else class="text-soft">Cap off, gauge on, digits, {{ touch ? 'Keep' : 'Enter' }}.</p>
</template>
