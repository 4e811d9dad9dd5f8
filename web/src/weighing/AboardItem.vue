<script setup lang="ts">
/** One thing put aboard: what, how much, where, and how much more may go there. */
import type { Sheet } from '@/rigs/queries'
import type { Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import { provideRefusals } from '@/shared/refusals'
import TextField from '@/shared/TextField.vue'
import { figure, show, unitOf, type Entry } from '@/shared/units'
import { useCargo, type Item } from './useAboard'

const item = defineModel<Item>('item', { required: true })
const x = defineModel<Entry>('x', { required: true })
const y = defineModel<Entry>('y', { required: true })
const props = defineProps<{
  number: number
  reach: string
  vehicles: Sheet['train']
  answered: Schemas['WhatIfOut'] | null
  stale: boolean
  no: (field: string) => string | undefined
}>()
const emit = defineEmits<{ into: [vehicle: number]; remove: [] }>()
provideRefusals((name) => props.no(name))
const { what, isLiquid } = useCargo()
</script>

<template>
  <div class="mt-4 border-t border-hairline pt-3">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>
        {{ number }} <span class="font-normal text-soft">{{ reach }}</span>
      </h2>
      <p v-if="answered?.cargo" class="text-soft" :class="{ stale: stale }">
        may still go there
        <span class="ml-2 text-3xl font-bold text-ink">{{ figure('mass', answered.cargo.left_kg, 'down') }}</span>
        {{ unitOf('mass') }}
      </p>
    </div>
    <p v-if="answered?.cargo" class="text-right text-sm text-soft">
      bound by {{ answered.cargo.bound_by
      }}<template v-if="answered.cargo_label_kg !== null"
        >; its label's capacity is {{ show('mass', answered.cargo_label_kg) }} in all</template
      >
    </p>
    <div class="mt-2 grid grid-cols-2 gap-4 lg:grid-cols-6">
      <QuantityField
        v-if="isLiquid(item.what)"
        v-model="item.liters"
        label="How much"
        kind="volume"
        :message="no('liters') ?? no('mass')"
      />
      <QuantityField v-else v-model="item.mass" label="Weighs" kind="mass" name="mass" />
      <ChoiceField v-model="item.what" label="What" :choices="what" />
      <TextField v-model="item.label" label="Called" name="label" />
      <QuantityField v-model="x" label="Behind axle 1" kind="length" name="x" />
      <QuantityField v-model="y" label="Right of center" kind="length" name="y" />
      <ChoiceField
        v-if="vehicles.length > 1"
        :model-value="item.rig"
        label="In"
        :choices="vehicles.map((v) => ({ key: v.id, name: v.name }))"
        name="rig"
        @update:model-value="emit('into', $event)"
      />
      <button type="button" class="link self-end py-2 text-left" @click="emit('remove')">Take it away</button>
    </div>
  </div>
</template>
