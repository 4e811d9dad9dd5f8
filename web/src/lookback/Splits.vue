<script setup lang="ts">
/** A round taken apart, tire by tire: weather, the usual loss, what all share, what one did alone. */
import type { Schemas } from '@/shared/api/client'
import { signed, unitOf } from '@/shared/units'

defineProps<{ parts: Schemas['Part'][] }>()
</script>

<template>
  <div v-scrolls class="overflow-x-auto">
    <table class="plain">
      <thead>
        <tr>
          <th>Wheel</th>
          <th class="figure">Its own, {{ unitOf('pressure') }}</th>
          <th class="figure">Changed</th>
          <th class="figure">Weather</th>
          <th class="figure">Usual loss</th>
          <th class="figure">Shared by all</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in parts" :key="p.name">
          <td class="min-w-24">{{ p.name }}</td>
          <td class="figure font-bold" :class="{ 'text-rust': p.stands_out }">
            {{ signed('pressure', p.own_kpa) }}{{ p.stands_out ? ' stands out' : '' }}
          </td>
          <td class="figure">{{ signed('pressure', p.changed_kpa) }}</td>
          <td class="figure">{{ signed('pressure', p.weather_kpa) }}</td>
          <td class="figure">{{ signed('pressure', p.usual_kpa) }}</td>
          <td class="figure">{{ signed('pressure', p.shared_kpa) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
