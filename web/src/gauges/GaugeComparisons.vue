<script setup lang="ts">
/** The comparisons of a gauge, newest first, with their pairs and what moved since the one before. */
import type { Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { figure, spokenDay, signed, unitOf } from '@/shared/units'

defineProps<{ comparisons: Schemas['GaugeSheetOut']['calibrations'] }>()
</script>

<template>
  <section class="mt-6">
    <h2>Comparisons</h2>
    <div v-for="(c, i) in comparisons" :key="c.id" class="border-t border-hairline py-2.5">
      <p>
        <b>{{ spokenDay(c.compared_on) }}</b> with {{ c.reference }}, by {{ c.by
        }}<span class="text-soft"
          >{{ c.certificate ? `; certificate ${c.certificate}` : ''
          }}{{ c.certificate_until ? `, valid until ${spokenDay(c.certificate_until)}` : ''
          }}{{ c.note ? `; ${c.note}` : '' }}</span
        >
      </p>
      <p v-if="c.drift_kpa !== null" class="text-sm text-soft">
        Moved by {{ signed('pressure', c.drift_kpa) }} {{ unitOf('pressure') }} at the most since the one before.
      </p>
      <Opening label="Its pairs" :open="i === 0">
        <div v-scrolls class="overflow-x-auto">
          <table class="text-sm">
            <tbody>
              <tr>
                <th class="pr-4 text-left font-normal text-soft" scope="row">True, {{ unitOf('pressure') }}</th>
                <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2">
                  {{ figure('pressure', p.reference_kpa) }}
                </td>
              </tr>
              <tr>
                <th class="pr-4 text-left font-normal text-soft" scope="row">Reads off by</th>
                <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2 font-semibold">
                  {{ signed('pressure', p.reading_kpa - p.reference_kpa) }}
                </td>
              </tr>
              <tr v-if="c.pairs.some((p) => p.direction)">
                <th class="pr-4 text-left font-normal text-soft" scope="row">Way</th>
                <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2 text-soft">{{ p.direction }}</td>
              </tr>
            </tbody>
          </table>
        </div>
      </Opening>
    </div>
  </section>
</template>
