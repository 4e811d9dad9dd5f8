<script setup lang="ts">
/** A rig as its label says: what it is, and what it may weigh, carry and tow. */
import QuantityField from '@/shared/QuantityField.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import { pairs, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import type { RigValue } from './rigForm'

const form = defineModel<RigValue>({ required: true })
defineProps<{
  trailer: boolean
  pulled: boolean
  caution: (field: string) => string | undefined
}>()
const { kinds } = useSession()
</script>

<template>
  <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
    <ChoiceField v-model="form.kind" label="Kind" :choices="pairs<RigValue['kind']>(kinds)" name="kind" />
    <TextField v-model="form.name" label="Name" name="name" />
    <TextField v-model="form.fleet_number" label="Fleet number" hint="If it has one" name="fleet_number" />
    <QuantityField
      v-model="form.gvwr_kg"
      label="GVWR"
      kind="mass"
      name="gvwr_kg"
      :hint="caution('gvwr_kg') ?? 'Gross rating, from the label'"
    />
    <QuantityField
      v-if="!trailer"
      v-model="form.gcwr_kg"
      label="GCWR"
      kind="mass"
      name="gcwr_kg"
      hint="With a trailer, if it tows"
    />
    <QuantityField
      v-model="form.hitch_max_kg"
      :label="trailer ? 'Coupling or pin limit' : 'Hitch limit'"
      kind="mass"
      name="hitch_max_kg"
      hint="What it may carry, bars slack"
    />
    <QuantityField
      v-model="form.cargo_kg"
      label="Cargo carrying capacity"
      kind="mass"
      name="cargo_kg"
      hint="As its label says"
    />
    <QuantityField
      v-if="pulled"
      v-model="form.coupler_m"
      label="Coupling ahead of axle 1"
      kind="length"
      name="coupler_m"
      hint="Ball, pin or eye to first axle"
    />
    <QuantityField
      v-model="form.hitch_m"
      label="Hitch behind axle 1"
      kind="length"
      name="hitch_m"
      hint="If something hangs on it"
    />
    <QuantityField
      v-if="form.axles.length > 1"
      v-model="form.wheelbase_m"
      label="Wheelbase"
      kind="length"
      name="wheelbase_m"
      hint="Checked against the axles"
    />
    <QuantityField
      v-model="form.top_speed_kmh"
      label="Driven at most at"
      kind="speed"
      name="top_speed_kmh"
      hint="Held against the speed symbols"
    />
    <TextField
      v-model="form.replace_years"
      label="Replace tires at, years"
      inputmode="numeric"
      :hint="trailer ? 'Empty: 10; many replace a trailer\'s at 6' : 'Empty: 10'"
      name="replace_years"
    />
    <TextField v-model="form.note" class="sm:col-span-2" label="Note" name="note" />
  </div>
</template>
