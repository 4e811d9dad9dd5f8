<script setup lang="ts">
/** Every tread of a rig: its least depth, what it loses, how it wears, when it is at its limit. */
import type { Schemas } from '@/shared/api/client'
import { depthShown, rateShown, say, spokenDay } from '@/shared/units'

defineProps<{ wheels: Schemas['WheelWearOut'][]; picked: string | null }>()
const emit = defineEmits<{ pick: [code: string] }>()
</script>

<template>
  <div v-scrolls class="relative overflow-x-auto">
    <table class="plain mt-1 w-full">
      <thead>
        <tr>
          <th>Wheel</th>
          <th class="figure">Least tread</th>
          <th class="max-sm:hidden">Measured</th>
          <th class="figure max-sm:hidden">Loses</th>
          <th>What it says</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in wheels" :key="w.code" :class="{ 'bg-tealwash': w.code === picked }">
          <td class="whitespace-nowrap">
            <button type="button" class="link" @click="emit('pick', w.code)">{{ w.code }}</button>
            <span class="ml-2 text-sm text-soft max-sm:hidden">{{ w.casing || w.name }}</span>
          </td>
          <template v-if="w.wear">
            <td class="figure text-xl font-bold whitespace-nowrap" :class="{ 'text-rust': w.wear.at_limit }">
              {{ w.wear.least_mm === null ? '–' : depthShown(w.wear.least_mm) }}
            </td>
            <td class="text-sm whitespace-nowrap text-soft max-sm:hidden">
              {{ w.wear.on ? spokenDay(w.wear.on) : 'never' }}
            </td>
            <td class="figure whitespace-nowrap max-sm:hidden">
              {{ w.wear.fastest_mm === null ? '–' : rateShown(w.wear.fastest_mm) }}
            </td>
            <td class="text-sm sm:min-w-64" :class="{ 'font-semibold text-rust': w.wear.at_limit }">
              <template v-if="w.wear.points.length">{{ say(w.wear.limit) }}</template>
              <span v-if="w.wear.on" class="block font-normal text-soft sm:hidden"
                >{{ spokenDay(w.wear.on)
                }}{{ w.wear.fastest_mm === null ? '' : `, ${rateShown(w.wear.fastest_mm)}` }}</span
              >
              <span v-if="w.wear.points.length && w.wear.shape !== 'unknown'" class="block font-normal text-ink">{{
                say(w.wear.words)
              }}</span>
              <template v-if="!w.wear.points.length"
                >Its tread was not measured yet: a round takes it, in three grooves.</template
              >
            </td>
          </template>
          <td v-else colspan="4" class="text-sm text-soft">No tire is entered here.</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
