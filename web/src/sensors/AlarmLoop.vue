<script setup lang="ts">
/** The loop of an axle's alarm: it sets at one number and clears at a higher one, and each wheel stands where it was read. */
import { computed } from 'vue'
import { show } from '@/shared/units'
import type { AxleAlarms } from './queries'

const props = defineProps<{ axle: AxleAlarms }>()
const range = computed(() => {
  const a = props.axle
  const read = a.wheels.map((w) => w.cold_kpa).filter((v): v is number => v !== null)
  const from = Math.min((a.very_low_kpa ?? 0) * 0.94, ...read)
  return { from, to: Math.max((a.high_kpa ?? (a.target_kpa ?? 0) * 1.3) * 1.03, ...read) }
})
const at = (kpa: number) => `${((kpa - range.value.from) / (range.value.to - range.value.from)) * 100}%`
const wide = (from: number, to: number) => ({ left: at(from), right: `calc(100% - ${at(to)})` })
const zones = computed(() => {
  const a = props.axle
  const { from, to } = range.value
  if (a.low_kpa === null || a.low_clears_kpa === null) return []
  return [
    { name: 'low', look: 'bg-rust/25', ...wide(from, a.low_kpa) },
    { name: 'between', look: 'between', ...wide(a.low_kpa, a.low_clears_kpa) },
    { name: 'clear', look: 'bg-tealwash', ...wide(a.low_clears_kpa, a.high_kpa ?? to) },
    ...(a.high_kpa === null ? [] : [{ name: 'high', look: 'bg-rust/25', ...wide(a.high_kpa, to) }]),
  ]
})
/** Neighbors stand above and below in turn, so that what reads nearly alike is not written over. */
const marks = computed(() =>
  props.axle.wheels.filter((w) => w.cold_kpa !== null).sort((v, w) => v.cold_kpa! - w.cold_kpa!),
)
</script>

<template>
  <div class="relative h-16" role="img" :aria-label="`${axle.name}: where its alarm sets and clears, and its wheels`">
    <div v-for="z in zones" :key="z.name" class="absolute top-6 h-4" :class="z.look" :style="z" />
    <div
      v-if="axle.target_kpa !== null"
      class="absolute top-5 h-6 w-0.5 bg-ink"
      :style="{ left: at(axle.target_kpa) }"
    />
    <span
      v-for="(w, i) in marks"
      :key="w.code"
      class="absolute flex -translate-x-1/2 flex-col items-center text-xs font-semibold"
      :class="[w.old ? 'text-soft' : w.loud ? 'text-rust' : 'text-green', i % 2 ? 'top-10 flex-col-reverse' : 'top-1']"
      :style="{ left: at(w.cold_kpa!) }"
      :title="show('pressure', w.cold_kpa!)"
      >{{ w.code }}<i class="block h-2 w-px bg-current"
    /></span>
  </div>
</template>

<style scoped>
.between {
  background: repeating-linear-gradient(-45deg, var(--color-hairline) 0 3px, transparent 3px 7px);
}
</style>
