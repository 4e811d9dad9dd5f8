<script setup lang="ts">
/** What each tire loses, and when it would come to its limit. */
import type { Schemas } from '@/shared/api/client'
import { figure, spokenDay, system, unitOf } from '@/shared/units'

type Series = Schemas['Series']
defineProps<{ tires: Series[]; shown: string }>()
const picked = defineModel<string | null>({ required: true })
const month = (t: Series) => (t.rate_kpa_month === null ? '–' : figure('pressure', t.rate_kpa_month, 'nearest', 1))
const range = (t: Series) => {
  void system.value
  return t.rate_low_kpa_month === null || t.rate_high_kpa_month === null
    ? ''
    : `± ${figure('pressure', (t.rate_high_kpa_month - t.rate_low_kpa_month) / 2, 'up', 1)}`
}
</script>

<template>
  <div v-scrolls class="overflow-x-auto">
    <table class="plain">
      <thead>
        <tr>
          <th>Wheel</th>
          <th class="figure">{{ unitOf('pressure') }} a month</th>
          <th class="figure">95 %</th>
          <th>In words</th>
          <th class="figure">At its limit, earliest</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in tires" :key="t.code" :class="{ 'bg-tealwash': t.code === shown }">
          <td class="whitespace-nowrap">
            <button type="button" class="cursor-pointer text-left hover:underline" @click="picked = t.code">
              {{ t.name }} <span class="text-soft">{{ t.code }}</span>
            </button>
          </td>
          <td class="figure font-bold">{{ month(t) }}</td>
          <td class="figure whitespace-nowrap text-soft">{{ range(t) }}</td>
          <td class="whitespace-nowrap" :class="{ 'font-bold text-rust': t.named }">
            {{ t.named ? 'leaks' : t.measured ? 'usual, or not proven' : 'too few rounds' }}
          </td>
          <td class="figure whitespace-nowrap">{{ t.low_soonest ? spokenDay(t.low_soonest) : '–' }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
