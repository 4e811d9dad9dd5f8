<script setup lang="ts">
/** How good predictions have been: the next round measures each. */
import type { Schemas } from '@/shared/api/client'
import { show } from '@/shared/units'

defineProps<{ record: Schemas['PredictionRecordOut'] }>()
</script>

<template>
  <p v-if="record.measured" class="border-t border-hairline pt-3 text-soft">
    How good it has been: of {{ record.measured.toLocaleString('en-US') }} predictions that a round measured
    in the last 90 days, <b class="text-ink">{{ show('share', record.inside!) }}</b> lay inside their range;
    half were within <b class="text-ink">{{ show('pressure', record.typical_kpa!) }}</b>, leaning
    {{ show('pressure', Math.abs(record.lean_kpa!)) }} {{ record.lean_kpa! < 0 ? 'high' : 'low' }}.
  </p>
  <p v-else class="border-t border-hairline pt-3 text-soft">
    No prediction was measured yet: the next round of a tire measures the first.
  </p>
</template>
