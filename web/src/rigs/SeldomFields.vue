<script setup lang="ts">
/** What few axles need: the wheel and its rim, a second placard, the lamp, the kind of axle. Open where anything of it is known. */
import { entriesOf } from '@/shared/entries'
import EntryFields from '@/shared/EntryFields.vue'
import { computed } from 'vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { useRefusals } from '@/shared/refusals'
import { pairs, useSession } from '@/shared/session'
import type { AxleForm } from './rigForm'

const a = defineModel<AxleForm>({ required: true })
const no = useRefusals()
const props = defineProps<{
  count: number
  caution: (field: string) => string | undefined
}>()
const { session } = useSession()
const roles = computed(() => pairs<AxleForm['role']>(session.value?.roles))
const SELDOM = [
  'wheel_max_load_kg',
  'rim_width_in',
  'placard_light_kpa',
  'placard_size',
  'lamp_kpa',
  'role',
  'share',
  'lift',
] as const satisfies (keyof AxleForm)[]
const seldom = computed(() => SELDOM.some((key) => Boolean(a.value[key]) || Boolean(no(key))))
const { text, quantity, choice } = entriesOf<AxleForm>()
const entries = computed(() => [
  quantity('wheel_max_load_kg', "Wheel's rated load", 'mass'),
  text('rim_width_in', 'Rim width, inches', { inputmode: 'decimal', hint: props.caution('rim_width_in') }),
  text('rim_low_in', 'Approved rim from', { inputmode: 'decimal' }),
  text('rim_high_in', 'Approved rim to', { inputmode: 'decimal' }),
  quantity('placard_light_kpa', 'Placard, light load', 'pressure', { hint: 'Where the label gives two' }),
  text('placard_size', "Placard's size", { upper: true, hint: 'Where it is for another than is fitted' }),
  quantity('lamp_kpa', 'Lamp lights below', 'pressure', {
    hint: "The vehicle's own warning, where its threshold is known or was changed",
  }),
  choice('role', 'Kind of axle', roles.value, { shown: props.count > 2 }),
  text('share', 'Its share of the group', { inputmode: 'decimal', hint: 'Empty: shared equally; 0.3 is 30 %' }),
])
</script>

<template>
  <Opening class="mt-2 text-sm" label="Wheel, rim, second placard, kind of axle" :open="seldom">
    <div class="grid gap-4 text-base sm:grid-cols-2 lg:grid-cols-4">
      <EntryFields v-model="a" :entries="entries" />
      <div v-if="count > 1">
        <label class="flex min-h-10 items-center gap-2 sm:mt-6">
          <input v-model="a.lift" type="checkbox" class="size-5 accent-teal" /> Lift axle
        </label>
        <Refusal name="lift" />
      </div>
    </div>
  </Opening>
</template>
