<script setup lang="ts">
/** What stands over a ticket: load state, day, scale, and how it is weighed. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { loadStates } from './queries'
import type { TicketForm, Way } from './ticketForm'
import { BARS } from './words'

const form = defineModel<TicketForm>({ required: true })
defineProps<{
  tows: boolean
  guided: boolean
  /** Its passes came from a file, or from an older ticket. */
  brought: boolean
  remarks: string[]
  simulated: boolean
}>()
const emit = defineEmits<{ afresh: [] }>()
const { id, sheet } = useFrame()
const { session } = useSession()
const rig = computed(() => sheet.value.rig)
const train = computed(() => sheet.value.train)
const { data: known } = useQuery(loadStates(id))
const suggested = computed(() => [
  ...new Set([...(known.value ?? []).map((s) => s.name), ...(session.value?.load_states ?? [])]),
])
const WAYS: { key: Way; name: string; note: string }[] = [
  { key: 'ticket', name: 'As on a ticket', note: 'Axles, by ends or as a whole' },
  { key: 'passes', name: 'Platform scale', note: 'Roll on axle by axle; the differences are done for you' },
  { key: 'axles', name: 'Axle scale', note: 'One axle at a time' },
  { key: 'left', name: 'Platform, then left wheels', note: 'The ends of each axle from a public scale' },
  { key: 'pads', name: 'Wheel pads', note: 'Every end by itself' },
]
</script>

<template>
  <div class="grid grid-cols-2 gap-4 lg:grid-cols-4">
    <TextField v-model="form.load_state" label="Load state" :suggest="suggested" name="load_state" />
    <TextField v-model="form.weighed_on" label="Weighed on" type="date" name="weighed_on" />
    <TextField v-model="form.scale" label="Scale" hint="If you know its name" name="scale" />
    <QuantityField v-model="form.resolution_kg" label="Scale's step" kind="mass" name="resolution_kg" />
    <ChoiceField v-model="form.way" label="How it is weighed" :choices="WAYS" name="way" />
    <QuantityField v-model="form.odometer" label="Odometer" kind="distance" name="odometer" />
    <ChoiceField
      v-if="tows || rig.pulled"
      v-model="form.bars"
      label="Weight-distribution bars"
      :choices="BARS"
      name="bars"
    />
    <QuantityField
      v-if="!form.with_trailers && (rig.pulled || rig.hitch_max_kg !== null)"
      v-model="form.hitch_kg"
      :label="rig.pulled ? 'Its load on the hitch' : 'Load on its hitch'"
      kind="mass"
      hint="If you weighed it; a scale finds it"
      name="hitch_kg"
    />
  </div>
  <div class="mt-3 flex flex-wrap items-center gap-x-6 gap-y-2">
    <label v-if="tows && !brought" class="flex min-h-9 items-center gap-2.5">
      <input v-model="form.with_trailers" type="checkbox" class="size-5 accent-teal" />
      With
      {{
        train
          .slice(1)
          .map((t) => t.name)
          .join(' and ')
      }}{{ guided ? ', hitched and alone' : ', hitched' }}
    </label>
    <p v-if="brought" class="text-soft">
      Passes as the ticket has them.
      <button type="button" class="link" @click="emit('afresh')">Start afresh</button>
    </p>
    <p v-for="n in remarks" :key="n" role="status" class="w-full font-semibold text-rust">{{ n }}</p>
    <p v-if="simulated" class="stamp">Simulated scale: made up, not for the road</p>
    <Refusal name="with_trailers" />
  </div>
</template>
