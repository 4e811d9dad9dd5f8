<script setup lang="ts">
/** Something of a sealed round put right: a reading, what was seen, or the air and the time. */
import { useQuery } from '@tanstack/vue-query'
import { v4 as uuid } from 'uuid'
import { computed, reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import type { Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ sealed: Schemas['SealedOut'] }>()
const emit = defineEmits<{ done: [now: Schemas['SealedOut']]; leave: [] }>()
type Seen = Required<Schemas['SeenIn']>
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const form = reactive({
  what: 'reading' as 'reading' | 'seen' | 'air',
  leak: null as Seen['leak'] | null,
  cap: null as Seen['cap'] | null,
  valve: null as Seen['valve'] | null,
  damage: '',
  inspected: '',
  note: '',
  outside: null as Entry,
  elevation: null as Entry,
  stood: '',
  shop: null as Entry,
  at: '',
  wheel: props.sealed.now.find((w) => w.before)?.code ?? '',
  gauge: null as number | null,
  after: 'found' as 'found' | 'left',
  pressure: null as Entry,
  reason: '',
  uuid: uuid(),
})
const amended = computed(() => props.sealed.now.find((w) => w.code === form.wheel))
const AS_IT_WAS = { key: null, name: 'As it was' }
const LEAK = [
  AS_IT_WAS,
  { key: 'none' as const, name: 'None' },
  { key: 'heard' as const, name: 'Heard' },
  { key: 'bubbled' as const, name: 'Bubbled' },
]
const CAP = [
  AS_IT_WAS,
  { key: 'on' as const, name: 'On' },
  { key: 'missing' as const, name: 'Missing' },
  { key: 'fitted' as const, name: 'Fitted' },
]
const VALVE = [AS_IT_WAS, { key: 'good' as const, name: 'Good' }, { key: 'damaged' as const, name: 'Damaged' }]
/** The gauge of the reading as it stands: of the last that put it right, else its own. */
const readWith = computed(() => {
  const after = form.after === 'left'
  const since = props.sealed.amendments.filter((a) => a.wheel === form.wheel && a.after === after).at(-1)
  return since?.gauge ?? (after ? amended.value?.after : amended.value?.before)?.gauge ?? props.sealed.gauge_label
})
const others = computed(() =>
  (gauges.data.value ?? []).filter((g) => g.in_hand && !g.retired && g.label !== readWith.value),
)
const shown = computed(() => gauges.data.value?.find((g) => g.id === form.gauge)?.label ?? readWith.value)
const { save, busy, fields, message } = useSave(async () => {
  const { wheel, after, gauge, pressure, reason, what } = form
  const seen = {
    leak: form.leak,
    cap: form.cap,
    valve: form.valve,
    damage: form.damage || null,
    inspected: form.inspected || null,
    note: form.note || null,
  }
  const air = {
    outside_c: form.outside,
    elevation_m: form.elevation,
    standing_h: form.stood || null,
    read_at: form.at || null,
    shop_c: form.shop,
  }
  const body = {
    uuid: form.uuid,
    reason,
    ...(what === 'air'
      ? { air }
      : what === 'seen'
        ? { wheel, seen }
        : { wheel, after: after === 'left', gauge, pressure }),
  }
  const now = await answer(
    api.POST('/api/v1/rounds/{round_id}/amendments', {
      params: { path: { round_id: props.sealed.id } },
      body: body as Schemas['AmendIn'],
    }),
  )
  emit('done', now)
})
</script>

<template>
  <EntryForm :refused="fields" class="border-l-4 border-teal pl-4" @submit="save()">
    <p class="text-soft">What was entered stays as it was; what is right stands beside it, with the reason.</p>
    <div class="mt-2 grid gap-4 sm:grid-cols-3 lg:grid-cols-5">
      <ChoiceField
        v-model="form.what"
        label="What"
        :choices="[
          { key: 'reading' as const, name: 'A reading' },
          { key: 'seen' as const, name: 'What was seen' },
          { key: 'air' as const, name: 'Air and time' },
        ]"
      />
      <ChoiceField
        v-if="form.what !== 'air'"
        v-model="form.wheel"
        label="Wheel"
        :choices="sealed.now.map((w) => ({ key: w.code, name: `${w.name} · ${w.code}` }))"
        name="wheel"
      />
      <template v-if="form.what === 'seen'">
        <ChoiceField v-model="form.leak" label="Leak" :choices="LEAK" />
        <ChoiceField v-model="form.cap" label="Cap" :choices="CAP" />
        <ChoiceField v-model="form.valve" label="Valve" :choices="VALVE" />
        <TextField v-model="form.damage" label="Damage" name="seen.damage" />
        <TextField v-model="form.inspected" label="An inspection found" />
        <TextField v-model="form.note" label="Note" name="seen.note" />
      </template>
      <template v-if="form.what === 'air'">
        <QuantityField
          v-model="form.outside"
          label="Outside"
          kind="temperature"
          :message="fields['air.outside_c'] ?? fields.air"
        />
        <QuantityField v-model="form.elevation" label="Elevation" kind="length" whole name="air.elevation_m" />
        <TextField v-model="form.stood" label="Stood, hours" name="air.standing_h" />
        <QuantityField v-model="form.shop" label="In a shop of" kind="temperature" name="air.shop_c" />
        <TextField
          v-model="form.at"
          type="datetime-local"
          label="Read at"
          hint="By the clock of its place"
          name="air.read_at"
        />
      </template>
      <ChoiceField
        v-if="form.what === 'reading'"
        v-model="form.after"
        label="Which reading"
        :choices="
          [
            { key: 'found', name: 'Found' },
            ...(amended?.before ? [{ key: 'left', name: 'Left, after the air' }] : []),
          ] as never
        "
      />
      <ChoiceField
        v-if="form.what === 'reading'"
        v-model="form.gauge"
        label="Read with"
        :choices="[
          { key: null as number | null, name: `${readWith}, as entered` },
          ...others.map((g) => ({ key: g.id as number | null, name: g.label })),
        ]"
        name="gauge"
      />
      <QuantityField
        v-if="form.what === 'reading'"
        v-model="form.pressure"
        :label="`${shown} showed`"
        kind="pressure"
        name="pressure"
      />
      <TextField v-model="form.reason" label="Reason" name="reason" />
    </div>
    <div class="mt-3 flex items-center gap-4">
      <button class="button button-next" :disabled="busy">Put it right</button>
      <button type="button" class="link" @click="emit('leave')">Leave it</button>
      <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
    </div>
  </EntryForm>
</template>
