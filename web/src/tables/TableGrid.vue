<script setup lang="ts">
/** A table as printed, the suspicious cells marked with what their neighbors suggest. */
import type { Schemas } from '@/shared/api/client'
import { show } from '@/shared/units'

defineProps<{ table: Schemas['TableOut'] }>()
function odd(table: Schemas['TableOut'], row: 'single' | 'dual', index: number) {
  return table.suspicions.find((s) => s.row === row && s.index === index)
}
const ROWS = ['single', 'dual'] as const
</script>

<template>
  <div v-scrolls class="overflow-x-auto">
    <table class="text-sm">
      <tbody>
        <tr class="border-b border-hairline">
          <th scope="row" class="pr-4 text-left font-normal text-soft">Cold, {{ table.pressure_unit }}</th>
          <td v-for="(s, i) in table.steps" :key="i" class="figure px-2.5 py-1 font-semibold">{{ s }}</td>
        </tr>
        <template v-for="row in ROWS" :key="row">
          <tr v-if="table[row]">
            <th scope="row" class="pr-4 text-left font-normal text-soft">
              {{ row === 'single' ? 'Single' : 'Dual' }}, {{ table.mass_unit }}
            </th>
            <td
              v-for="(v, i) in table[row]!"
              :key="i"
              class="figure px-2.5 py-1"
              :class="odd(table, row, i) ? 'bg-rustwash font-bold text-rust' : ''"
              :title="
                odd(table, row, i)
                  ? `Its neighbors suggest about ${show('mass', odd(table, row, i)!.suggested_kg)}`
                  : undefined
              "
            >
              {{ v }}
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>
