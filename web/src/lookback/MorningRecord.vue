<script setup lang="ts">
/** How good predictions have been: the next round measures each. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { figure, show } from '@/shared/units'

const { record } = defineProps<{ record: Schemas['PredictionRecordOut'] }>()
const lean = computed(() => {
  const off = Math.abs(record.lean_kpa ?? 0)
  if (Number(figure('pressure', off)) === 0) return 'neither way'
  return `${show('pressure', off)} ${record.lean_kpa! < 0 ? 'high' : 'low'}`
})
</script>

<template>
  <p v-if="record.measured" class="border-t border-hairline pt-3 text-soft">
    How good it has been: of {{ record.measured.toLocaleString('en-US') }} predictions that a round measured in the last
    90 days, <b class="text-ink">{{ show('share', record.inside!) }}</b> lay inside their range; half were within
    <b class="text-ink">{{ show('pressure', record.typical_kpa!) }}</b>, leaning {{ lean }}.
  </p>
  <p v-else class="border-t border-hairline pt-3 text-soft">
    No prediction was measured yet: the next round of a tire measures the first.
  </p>
</template>
