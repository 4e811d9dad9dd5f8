<script setup lang="ts">
/** Inflators: what each reaches, what its hose loses, and how long it may run. */
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { pairs, queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { show, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import InflatorJob from './InflatorJob.vue'

type Inflator = Schemas['InflatorOut']
const props = defineProps<{ gauges: Schemas['GaugeOut'][] }>()
const { session, may } = useSession()
const { data } = useQuery({ queryKey: ['inflators'], queryFn: () => answer(api.GET('/api/v1/inflators')) })
const editing = ref<number | 'new' | null>(null)
const BLANK = {
  version: '', label: '', supply: 'clamps' as Inflator['supply'], max_kpa: null as Entry, free_l_min: '', hose_loss_kpa: null as Entry,
  settling_kpa: null as Entry, on_min: '', rest_min: '', draws_a: '', socket_a: '', tank_l: null as Entry,
  display: null as number | null, points: '', retired: false,
} // prettier-ignore
const form = reactive({ ...BLANK })
const spell = (n: number | null) => (n === null ? '' : String(n))
function open(i: Inflator | null) {
  editing.value = i ? i.id : 'new'
  Object.assign(
    form,
    i
      ? {
          ...i,
          free_l_min: spell(i.free_l_min),
          on_min: spell(i.on_min),
          rest_min: spell(i.rest_min),
          draws_a: spell(i.draws_a),
          socket_a: spell(i.socket_a),
          points: i.points.map((p) => `${show('pressure', p.pressure_kpa)}: ${p.flow_l_min}`).join('; '),
        }
      : BLANK,
  )
}
const { save, busy, fields, message, newer } = useSave(async () => {
  const plain = (t: string) => (t.trim() ? t : null)
  const points = form.points
    .split(';')
    .map((p) => p.split(':').map((x) => x.trim()))
    .filter((p) => p[0])
    .map(([pressure, flow]) => ({ pressure: pressure!, flow: flow ?? '' }))
  const body = {
    version: newer.value || form.version, label: form.label, supply: form.supply, max_kpa: form.max_kpa, hose_loss_kpa: form.hose_loss_kpa,
    settling_kpa: form.settling_kpa, tank_l: form.tank_l, display: form.display, retired: form.retired, points,
    free_l_min: plain(form.free_l_min), on_min: plain(form.on_min), rest_min: plain(form.rest_min),
    draws_a: plain(form.draws_a), socket_a: plain(form.socket_a),
  } as unknown as Schemas['InflatorIn'] // prettier-ignore
  if (editing.value === 'new') await answer(api.POST('/api/v1/inflators', { body }))
  else
    await answer(
      api.PUT('/api/v1/inflators/{inflator_id}', {
        params: { path: { inflator_id: editing.value as number } },
        body,
      }),
    )
  editing.value = null
  await queries.invalidateQueries({ queryKey: ['inflators'] })
})
const { text, quantity, choice } = entriesOf<typeof form>()
const entries = computed(() => {
  const shown = form.supply !== 'tank'
  return [
    text('label', 'Label'),
    choice('supply', 'Fed by', pairs(session.value?.supplies)),
    quantity('max_kpa', shown ? 'Stalls at' : 'Pressure in it', 'pressure'),
    text('free_l_min', 'Free flow, L/min', { inputmode: 'decimal' }),
    quantity('hose_loss_kpa', 'Lost as the hose comes off', 'pressure'),
    quantity('settling_kpa', 'Settles within minutes', 'pressure'),
    text('on_min', 'Runs, minutes', { shown, inputmode: 'decimal' }),
    text('rest_min', 'Then rests, minutes', { shown, inputmode: 'decimal' }),
    text('draws_a', 'Draws, A', { shown, inputmode: 'decimal' }),
    text('socket_a', 'Socket gives, A', { shown: form.supply === 'socket', inputmode: 'decimal' }),
    quantity('tank_l', 'It holds', 'volume', { shown: !shown }),
    choice('display', 'Its own display', [
      { key: null, name: 'Not in the drawer' },
      ...props.gauges.filter((g) => g.kind === 'inflator').map((g) => ({ key: g.id, name: g.label })),
    ]),
  ]
})
</script>

<template>
  <section>
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h2>Inflators</h2>
        <p class="text-soft">
          For a rig it stands on its Round stage which of them is able, what to dial and how long.
        </p>
      </div>
      <button v-if="may('gauges')" type="button" class="button" @click="open(null)">Add an inflator</button>
    </div>
    <div v-if="data?.length" v-scrolls class="mt-2 overflow-x-auto">
      <table class="plain">
        <thead>
          <tr>
            <th>Inflator</th>
            <th class="figure">Stalls at</th>
            <th class="figure">Free flow</th>
            <th class="figure">Hose and settling</th>
            <th>Runs</th>
            <th class="max-sm:hidden">Display</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="i in data" :key="i.id" :class="{ 'text-soft': i.retired }">
            <td>
              <button v-if="may('gauges')" type="button" class="link text-left font-bold" @click="open(i)">
                {{ i.label }}
              </button>
              <b v-else>{{ i.label }}</b>
              <span class="block text-sm text-soft"
                >{{ i.supply_name.toLowerCase() }}{{ i.retired ? ', retired' : '' }}</span
              >
            </td>
            <td class="figure text-lg font-bold">{{ show('pressure', i.max_kpa, 'down') }}</td>
            <td class="figure">
              {{ i.points.length ? `${i.points.length} points` : i.free_l_min ? `${i.free_l_min} L/min` : 'unknown' }}
            </td>
            <td class="figure">{{ show('pressure', i.hose_loss_kpa + i.settling_kpa) }}</td>
            <td>{{ i.on_min ? `${i.on_min} min, rests ${i.rest_min}` : 'without rests' }}</td>
            <td class="max-sm:hidden">{{ i.display_label || '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-else-if="data && editing === null" class="mt-2 text-soft">None yet. Add the one you carry.</p>
    <EntryForm v-if="editing !== null" :refused="fields" class="mt-4 border-l-4 border-teal pl-4" @submit="save()">
      <div class="grid grid-cols-2 gap-4 sm:grid-cols-4">
        <EntryFields v-model="form" :entries="entries" />
        <TextField
          v-model="form.points"
          class="col-span-2"
          label="Maker's points instead of free flow"
          hint="0 psi: 60; 45 psi: 30, in L/min"
          :message="fields.points ?? Object.entries(fields).find(([k]) => k.startsWith('points'))?.[1]"
        />
      </div>
      <label class="mt-3 flex items-center gap-2"
        ><input v-model="form.retired" type="checkbox" class="size-5 accent-teal" /> Retired</label
      >
      <div class="mt-3 flex items-center gap-4">
        <button class="button button-next" :disabled="busy">Save</button>
        <button type="button" class="link" @click="editing = null">Leave it</button>
        <Refusal :message="message" />
      </div>
    </EntryForm>
    <InflatorJob v-if="data?.some((i) => !i.retired)" :inflators="data" class="mt-8" />
  </section>
</template>
