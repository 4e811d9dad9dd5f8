<script setup lang="ts">
/** Readings of one wheel that did not know of each other: one of them is right, or it is read once more. */
import type { Schemas } from '@/shared/api/client'
import { clock, show } from '@/shared/units'
import type { Wheel } from './useRound'

defineProps<{ wheel: Wheel }>()
const emit = defineEmits<{ right: [reading: Schemas['ReadingOut']] }>()
</script>

<template>
  <div v-if="wheel.others.length" class="mt-3 border-l-4 border-rust pl-3">
    <p class="font-bold text-rust">
      Read twice, neither knowing of the other. Both are kept: read it once more, or keep the one that is right.
    </p>
    <p v-for="r in [wheel.before!, ...wheel.others]" :key="r.uuid">
      {{ r.by }}, {{ clock(r.at) }}: <b>{{ r.typed }}</b> on {{ r.gauge }}, true
      {{ show('pressure', r.corrected_kpa) }}
      <button type="button" class="link ml-2" @click="emit('right', r)">This one is right</button>
    </p>
  </div>
</template>
