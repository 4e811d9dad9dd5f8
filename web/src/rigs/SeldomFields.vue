<script setup lang="ts">
/** What few axles need: the wheel and its rim, a second placard, the lamp, the kind of axle. Open where anything of it is known. */
import { computed } from 'vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { useRefusals } from '@/shared/refusals'
import { pairs, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import type { AxleForm } from './rigForm'

const a = defineModel<AxleForm>({ required: true })
const no = useRefusals()
defineProps<{
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
</script>

<template>
  <Opening class="mt-2 text-sm" label="Wheel, rim, second placard, kind of axle" :open="seldom">
    <div class="grid gap-4 text-base sm:grid-cols-2 lg:grid-cols-4">
      <QuantityField v-model="a.wheel_max_load_kg" label="Wheel's rated load" kind="mass" name="wheel_max_load_kg" />
      <TextField
        v-model="a.rim_width_in"
        label="Rim width, inches"
        inputmode="decimal"
        name="rim_width_in"
        :hint="caution('rim_width_in')"
      />
      <TextField v-model="a.rim_low_in" label="Approved rim from" inputmode="decimal" name="rim_low_in" />
      <TextField v-model="a.rim_high_in" label="Approved rim to" inputmode="decimal" name="rim_high_in" />
      <QuantityField
        v-model="a.placard_light_kpa"
        label="Placard, light load"
        kind="pressure"
        hint="Where the label gives two"
        name="placard_light_kpa"
      />
      <TextField
        v-model="a.placard_size"
        upper
        label="Placard's size"
        hint="Where it is for another than is fitted"
        name="placard_size"
      />
      <QuantityField
        v-model="a.lamp_kpa"
        label="Lamp lights below"
        kind="pressure"
        hint="The vehicle's own warning, where its threshold is known or was changed"
        name="lamp_kpa"
      />
      <ChoiceField v-if="count > 2" v-model="a.role" label="Kind of axle" :choices="roles" name="role" />
      <TextField
        v-model="a.share"
        label="Its share of the group"
        inputmode="decimal"
        hint="Empty: shared equally; 0.3 is 30 %"
        name="share"
      />
      <div v-if="count > 1">
        <label class="flex min-h-10 items-center gap-2 sm:mt-6">
          <input v-model="a.lift" type="checkbox" class="size-5 accent-teal" /> Lift axle
        </label>
        <Refusal name="lift" />
      </div>
    </div>
  </Opening>
</template>
