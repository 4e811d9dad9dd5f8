<script setup lang="ts">
/** The right gauge for each axle, and what each inflator makes of what this rig needs now. */
import { useQuery } from '@tanstack/vue-query'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { tenths, say, show, toward } from '@/shared/units'
import Working from '@/shared/Working.vue'

const { id } = useFrame()
const { data } = useQuery({
  queryKey: ['rig', id, 'equipment'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/equipment', { params: { path: { rig_id: id.value } } })),
  staleTime: 0,
})
const best = (a: Schemas['SuitedAxleOut']) => a.gauges.find((g) => g.best)
</script>

<template>
  <div v-if="data" class="grid gap-6 lg:grid-cols-2">
    <section>
      <h2>The right gauge</h2>
      <div v-for="a in data.axles" :key="a.name" class="border-t border-hairline py-2">
        <p>
          <b>{{ a.name }}</b>
          <span class="text-soft">{{ show('pressure', a.target_kpa, toward(a.target_kpa, a.ceiling_kpa)) }}</span>
        </p>
        <p v-if="best(a)">
          <b class="text-green">{{ best(a)!.label }}</b>
          <span v-if="best(a)!.uncertainty_kpa != null" class="text-soft"
            >, sure within {{ show('pressure', best(a)!.uncertainty_kpa!, 'up') }}</span
          >
          <span v-for="(n, i) in best(a)!.notes" :key="i" class="block text-sm text-rust">{{ say(n) }}</span>
        </p>
        <p v-else class="font-medium text-rust">None of the drawer suits it.</p>
        <Opening v-if="a.gauges.length > 1 || !best(a)" label="Why not the others" class="text-sm">
          <p v-for="g in a.gauges.filter((x) => !x.best)" :key="g.gauge" :class="{ 'text-soft': !g.able }">
            <b>{{ g.label }}</b>{{ g.able ? '' : ': no'
            }}{{
              g.able && g.uncertainty_kpa != null ? `, sure within ${show('pressure', g.uncertainty_kpa, 'up')}` : ''
            }}. {{ g.notes.map(say).join(' ') }}
          </p>
        </Opening>
      </div>
      <p v-if="!data.axles.length" class="text-soft">No target is in force to hold a gauge against.</p>
    </section>
    <section>
      <h2>The right inflator</h2>
      <p class="text-soft">
        {{
          {
            round: 'For the tires that this round found low.',
            prediction: 'For the tires that are likely low this morning.',
            none: 'Nothing is known yet of what needs air.',
          }[data.basis]
        }}
      </p>
      <div v-for="j in data.jobs" :key="j.inflator" class="border-t border-hairline py-2">
        <p>
          <b>{{ j.label }}</b>: {{ say(j.words) }}
        </p>
        <ol v-if="j.fills.length" class="text-sm">
          <li v-for="(f, i) in j.fills" :key="f.name" :class="{ 'text-soft': !f.able }">
            {{ i + 1 }}. {{ f.name }}:
            <template v-if="f.able"
              >dial <b>{{ show('pressure', f.dial_kpa, 'up') }}</b>{{
                f.minutes === null ? '' : `, about ${tenths(f.minutes)} min`
              }}</template
            ><template v-else>{{ say(f.words) }}</template>
            <Opening v-if="f.able" label="Working"><Working :lines="f.working" /></Opening>
          </li>
        </ol>
      </div>
    </section>
  </div>
</template>
