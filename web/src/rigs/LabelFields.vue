<script setup lang="ts">
/** A rig as its label says: what it is, and what it may weigh, carry and tow. */
import { computed } from 'vue'
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { pairs, useSession } from '@/shared/session'
import type { RigValue } from './rigForm'

const form = defineModel<RigValue>({ required: true })
const props = defineProps<{
  trailer: boolean
  pulled: boolean
  caution: (field: string) => string | undefined
}>()
const { kinds } = useSession()
const { text, quantity, choice } = entriesOf<RigValue>()
const entries = computed(() => [
  choice('kind', 'Kind', pairs<RigValue['kind']>(kinds.value)),
  text('name', 'Name'),
  text('fleet_number', 'Fleet number', { hint: 'If it has one' }),
  quantity('gvwr_kg', 'GVWR', 'mass', { hint: props.caution('gvwr_kg') ?? 'Gross rating, from the label' }),
  quantity('gcwr_kg', 'GCWR', 'mass', { hint: 'With a trailer, if it tows', shown: !props.trailer }),
  quantity('hitch_max_kg', props.trailer ? 'Coupling or pin limit' : 'Hitch limit', 'mass', {
    hint: 'What it may carry, bars slack',
  }),
  quantity('cargo_kg', 'Cargo carrying capacity', 'mass', { hint: 'As its label says' }),
  quantity('coupler_m', 'Coupling ahead of axle 1', 'length', {
    hint: 'Ball, pin or eye to first axle',
    shown: props.pulled,
  }),
  quantity('hitch_m', 'Hitch behind axle 1', 'length', { hint: 'If something hangs on it' }),
  quantity('wheelbase_m', 'Wheelbase', 'length', {
    hint: 'Checked against the axles',
    shown: form.value.axles.length > 1,
  }),
  quantity('top_speed_kmh', 'Driven at most at', 'speed', { hint: 'Held against the speed symbols' }),
  text('replace_years', 'Replace tires at, years', {
    inputmode: 'numeric',
    hint: props.trailer ? "Empty: 10; many replace a trailer's at 6" : 'Empty: 10',
  }),
  text('note', 'Note', { class: 'sm:col-span-2' }),
])
</script>

<template>
  <div class="grid gap-4 sm:grid-cols-2 lg:grid-cols-4">
    <EntryFields v-model="form" :entries="entries" />
  </div>
</template>
