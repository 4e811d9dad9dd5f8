<script setup lang="ts">
/** The rows of one vehicle as its ticket prints them: every axle, by its ends or as a whole, or several as one number. */
import type { Schemas } from '@/shared/api/client'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { refusalsUnder } from '@/shared/refusals'
import AxleLoads from './AxleLoads.vue'
import { asOne, type RowsForm } from './ticketForm'

const rows = defineModel<RowsForm>({ required: true })
const props = defineProps<{
  vehicle: { name: string; axles: Schemas['AxleOut'][] }
  /** Behind another its rows stand further in ("behind.0"), and it is named. */
  behind: number | null
  loads: Schemas['VehicleLoadsOut'] | null
  /** Typed here; else the loads alone are shown. */
  editing: boolean
  stale: boolean
}>()
if (props.behind !== null) refusalsUnder(() => `behind.${props.behind}`)
const loadOf = (number: number) => props.loads?.axles.find((a) => a.number === number)
const under = (name: string) => (props.behind === null ? name : `${props.vehicle.name}, ${name.toLowerCase()}`)
</script>

<template>
  <div>
    <div
      v-if="editing && rows.together.length"
      class="mt-5 grid grid-cols-2 gap-4 border-t border-hairline pt-4 sm:grid-cols-3"
    >
      <QuantityField
        v-for="(g, k) in rows.together"
        :key="g.axles.join()"
        v-model="g.kg"
        :label="`${under(g.name)}, one number`"
        kind="mass"
        :hint="k === 0 ? 'Where the ticket prints these axles together' : undefined"
        :name="`together.${rows.together.filter((t) => t.kg !== null).indexOf(g)}.kg`"
      />
    </div>
    <AxleLoads
      v-for="(a, i) in vehicle.axles"
      :key="a.number"
      :name="under(a.name)"
      :axle="loadOf(a.number)"
      :stale="stale"
    >
      <div v-if="editing && !asOne(rows, a.number)" class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
        <template v-if="!rows.axles[i]!.lifted">
          <template v-if="a.wheels > 1">
            <QuantityField
              v-for="end in ['left', 'right'] as const"
              :key="end"
              v-model="rows.axles[i]![`${end}_kg`]"
              :label="under(`${a.name} ${end} end`)"
              kind="mass"
              :name="`axles.${i}.${end}_kg`"
            />
          </template>
          <QuantityField
            v-model="rows.axles[i]!.whole_kg"
            :label="under(`${a.name} whole axle`)"
            kind="mass"
            :name="`axles.${i}.whole_kg`"
          />
        </template>
        <label v-if="a.lift" class="flex min-h-10 items-center gap-2.5 self-end">
          <input v-model="rows.axles[i]!.lifted" type="checkbox" class="size-5 accent-teal" /> It was up
        </label>
        <Refusal :name="`axles.${i}.lifted`" />
      </div>
    </AxleLoads>
  </div>
</template>
