<script setup lang="ts">
/** The coming dawns and highs, and what every axle set here and now reads at them. */
import type { Schemas } from '@/shared/api/client'
import { figure, show, unitOf } from '@/shared/units'

const props = defineProps<{ answer: Schemas['AirAnswerOut']; many: boolean }>()
const day = (d: Schemas['DayAhead']) =>
  d.date
    ? new Date(`${d.date}T12:00`).toLocaleDateString('en-US', { weekday: 'short', day: 'numeric' })
    : 'The coming one'
const clock = (iso: string | null) =>
  iso
    ? new Date(iso).toLocaleTimeString('en-US', {
        hour: 'numeric',
        timeZone: props.answer.air.time_zone,
      })
    : ''
const out = (d: Schemas['AxleDay'] | undefined) => d?.above_floor === false || d?.below_ceiling === false
</script>

<template>
  <div v-scrolls class="overflow-x-auto">
    <table class="plain">
      <caption class="sr-only">
        What each axle reads at the coming dawns and highs
      </caption>
      <thead>
        <tr>
          <th scope="col">Dawn, {{ unitOf('pressure') }}</th>
          <th
            v-for="(d, i) in answer.air.week"
            :key="i"
            scope="col"
            class="figure whitespace-nowrap"
            :class="{ 'text-ink': d.judged }"
          >
            {{ day(d) }}<br />
            <span v-if="d.dawn_c !== null" :title="clock(d.dawn_at)">{{ show('temperature', d.dawn_c) }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="a in answer.axles" :key="`${a.rig}-${a.number}`">
          <th scope="row" class="font-semibold whitespace-nowrap">
            {{ many ? `${a.rig_name}, ${a.name.toLowerCase()}` : a.name }}
          </th>
          <td v-for="(d, i) in a.days" :key="i" class="figure" :class="{ 'text-soft': !answer.air.week[i]?.judged }">
            <template v-if="d.dawn_kpa !== null"
              ><b :class="{ 'text-rust': out(d) }">{{ figure('pressure', d.dawn_kpa) }}</b
              ><span v-if="out(d)" class="block text-xs text-rust">{{
                d.above_floor === false ? 'below floor' : 'above ceiling'
              }}</span></template
            ><template v-else>–</template>
          </td>
        </tr>
        <tr>
          <th scope="row">High</th>
          <td v-for="(d, i) in answer.air.week" :key="i" class="figure whitespace-nowrap text-soft">
            {{ d.high_c === null ? '–' : show('temperature', d.high_c) }}
          </td>
        </tr>
        <tr v-for="a in answer.axles" :key="`h${a.rig}-${a.number}`">
          <th scope="row" class="whitespace-nowrap">
            {{ many ? `${a.rig_name}, ${a.name.toLowerCase()}` : a.name }} at the high
          </th>
          <td v-for="(d, i) in a.days" :key="i" class="figure whitespace-nowrap text-soft">
            {{ d.high_kpa === null ? '–' : figure('pressure', d.high_kpa) }}
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p class="mt-1 text-sm text-soft">
    Dawns until the next check are judged; what a sound tire may lose until then is taken off. Highs warm a standing
    tire too: shown, not judged.
  </p>
</template>
