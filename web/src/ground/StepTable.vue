<script setup lang="ts">
/** A stretch axle by axle: from what to what, what the gauge shows now, and what of the tire lies on the ground. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Working from '@/shared/Working.vue'
import Opening from '@/shared/Opening.vue'
import { figure, say, show, tenths, unitOf } from '@/shared/units'
import Footprint from './Footprint.vue'
import type { Ground } from './queries'

const props = defineProps<{ step: Schemas['PlannedStep']; ground: Ground; warmth: Schemas['Warmth'] }>()
const emit = defineEmits<{ follow: [code: string] }>()
/** Wheels of one axle that are brought to the same number stand in one row. */
const rows = computed(() => {
  const made: { key: string; name: string; codes: string[]; job: Schemas['JobAt']; wheel: Ground['wheels'][number] }[] =
    []
  for (const job of props.step.jobs) {
    const wheel = props.ground.wheels.find((w) => w.code === job.code)!
    const axle = props.ground.axles.find((a) => a.rig === wheel.rig && a.number === wheel.axle)
    const key = `${wheel.rig} ${wheel.axle} ${job.kpa} ${job.from_kpa}`
    const row = made.find((r) => r.key === key)
    if (row) row.codes.push(job.code)
    else
      made.push({
        key,
        name: `${axle?.rig_name ?? ''}, ${axle?.name.toLowerCase() ?? ''}`,
        codes: [job.code],
        job,
        wheel,
      })
  }
  return made
})
const onSurface = (w: Ground['wheels'][number]) => w.numbers.find((n) => n.surface === props.step.surface)
</script>

<template>
  <section>
    <h2 class="text-xl">
      {{ step.name
      }}<template v-if="step.speed_kmh !== null">: at most {{ show('speed', step.speed_kmh, 'down') }}</template>
      <span class="ml-3 font-normal text-soft">{{ say(step.words) }}</span>
      <span v-if="step.down_min !== null" class="ml-3 font-normal text-soft"
        >{{ step.down_at_least ? 'at least' : 'about' }} {{ tenths(step.down_min) }} min to let out</span
      >
    </h2>
    <div v-scrolls class="overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th scope="col">Axle</th>
            <th scope="col" class="figure">from</th>
            <th scope="col" class="figure">to, cold</th>
            <th scope="col" class="figure">the gauge shows, {{ warmth.name.toLowerCase() }}</th>
            <th scope="col" class="w-52">on its band, from where it stands</th>
            <th scope="col">on the ground</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in rows" :key="r.key">
            <th scope="row" class="text-ink">
              <button type="button" class="link text-left font-semibold" @click="emit('follow', r.codes[0]!)">
                {{ r.name }}
              </button>
              <span class="block text-sm font-normal text-soft">{{ r.codes.join(' ') }}</span>
            </th>
            <td class="figure text-soft">{{ figure('pressure', r.job.from_kpa, 'up') }}</td>
            <td class="figure text-3xl font-bold">{{ figure('pressure', r.job.kpa, 'up') }}</td>
            <td class="figure text-xl">
              {{ figure('pressure', r.job.goal.shows_kpa, 'up') }} {{ unitOf('pressure') }}
            </td>
            <td>
              <Band
                size="row"
                class="min-w-40"
                :label="`${r.name}, ${step.name}`"
                :band="{ floor_kpa: r.job.floor_kpa, target_kpa: r.job.kpa, ceiling_kpa: r.wheel.ceiling_kpa }"
                :level="r.job.from_kpa"
              />
            </td>
            <td>
              <Footprint
                v-if="onSurface(r.wheel)?.footprint && r.wheel.numbers[0]?.footprint"
                :now="onSurface(r.wheel)!.footprint!"
                :road="r.wheel.numbers[0]!.footprint!"
              />
              <p v-if="r.job.kept" class="max-w-64 text-sm">{{ say(r.job.kept) }}</p>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <Opening v-if="rows.some((r) => r.job.working.length)" label="Working">
      <div v-for="r in rows" :key="r.key" class="mb-2">
        <p class="font-semibold">{{ r.name }}</p>
        <Working :lines="r.job.working" />
      </div>
    </Opening>
  </section>
</template>
