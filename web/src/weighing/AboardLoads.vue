<script setup lang="ts">
/** Every axle with what is put aboard: its load, what changed, its nearest limit, the pressure it asks for. */
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import type { Schemas } from '@/shared/api/client'
import { say, show, signedAmount } from '@/shared/units'
import GrossLoads from './GrossLoads.vue'
import LoadBar from './LoadBar.vue'

const props = defineProps<{ answered: Schemas['WhatIfOut']; pressures: Schemas['Needed'][] }>()
const { id, sheet } = useFrame()
const pressure = (vehicle: number, number: number) =>
  props.pressures.find((p) => p.rig === vehicle && p.number === number)
const moved = (vehicle: number, number: number) => {
  const change = props.answered.changes.find((c) => c.rig === vehicle && c.number === number)
  return change ? change.left_kg + change.right_kg : 0
}
const all = computed(() => [props.answered.loads, ...props.answered.loads.others])
</script>

<template>
  <div>
    <template v-for="v in all" :key="v.rig">
      <h2 v-if="all.length > 1" class="mt-6 text-lg">{{ v.name }}</h2>
      <div v-scrolls class="relative overflow-x-auto">
        <table class="plain mt-2">
          <thead>
            <tr>
              <th>Axle</th>
              <th class="figure">Left</th>
              <th class="figure">Right</th>
              <th class="figure">Axle</th>
              <th class="figure">Change</th>
              <th class="min-w-40">Nearest limit</th>
              <th v-if="sheet.targets" class="figure">Pressure</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="a in v.axles" :key="a.number">
              <td class="font-semibold">{{ a.name }}</td>
              <td class="figure">{{ a.left_kg === null ? '–' : show('mass', a.left_kg) }}</td>
              <td class="figure">{{ a.right_kg === null ? '–' : show('mass', a.right_kg) }}</td>
              <td class="figure text-lg font-bold">
                {{ a.total_kg === null ? 'unknown' : show('mass', a.total_kg) }}
              </td>
              <td class="figure">{{ signedAmount('mass', moved(v.rig, a.number)) }}</td>
              <td>
                <LoadBar
                  v-for="c in [...a.checks].sort((p, q) => q.share - p.share).slice(0, 1)"
                  :key="c.what"
                  :check="c"
                />
              </td>
              <td v-if="sheet.targets" class="figure whitespace-nowrap">
                <template v-if="pressure(v.rig, a.number)">
                  <span v-if="pressure(v.rig, a.number)!.then_kpa === null" class="text-rust">{{
                    say(pressure(v.rig, a.number)!.words)
                  }}</span>
                  <template v-else>
                    {{ show('pressure', pressure(v.rig, a.number)!.then_kpa!, 'up') }}
                    <span
                      v-if="
                        pressure(v.rig, a.number)!.now_kpa !== null &&
                        pressure(v.rig, a.number)!.then_kpa !== pressure(v.rig, a.number)!.now_kpa
                      "
                      class="block text-sm text-soft"
                      >now {{ show('pressure', pressure(v.rig, a.number)!.now_kpa!, 'up') }}</span
                    >
                  </template>
                </template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <GrossLoads name="Gross" :loads="v" :combined="v.rig === id ? answered.loads.combined_kg : undefined" />
    </template>
  </div>
</template>
