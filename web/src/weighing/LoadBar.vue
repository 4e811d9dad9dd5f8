<script setup lang="ts">
/** A load as a share of its limit: the bar ends at the limit's line, and past it when over. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { show } from '@/shared/units'

const props = defineProps<{ check: Schemas['CheckOut'] }>()
// The limit stands at four fifths of the width, so that over has somewhere to be seen.
const LIMIT = 80
const share = computed(() => Math.min(100, props.check.share * LIMIT))
</script>

<template>
  <div class="grid grid-cols-[1fr_auto] items-baseline gap-x-4">
    <span class="text-sm text-soft">{{ check.name }}</span>
    <span class="figure text-sm" :class="check.over ? 'font-bold text-rust' : ''">
      {{ check.over ? `over by ${show('mass', -check.margin_kg)}` : `${show('mass', check.margin_kg)} left` }}
      <span class="font-normal text-soft">{{ Math.round(check.share * 100) }} %</span>
    </span>
    <svg class="col-span-2 h-2.5 w-full" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
      <rect width="100" height="10" class="fill-hairline" opacity="0.45" />
      <rect :width="share" height="10" :class="check.over ? 'fill-rust' : 'fill-teal'" />
      <rect :x="LIMIT - 0.3" width="0.7" height="10" class="fill-ink" />
    </svg>
  </div>
</template>
