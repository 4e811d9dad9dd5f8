<script setup lang="ts">
/** Which axle, which gauge, and why below the placard, where it goes there. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ rig: Schemas['RigOut'] }>()
const emit = defineEmits<{ begun: [now: Schemas['TrialsOut']] }>()
const { may } = useSession()
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const usable = computed(() => (gauges.data.value ?? []).filter((g) => g.in_hand && !g.retired))
const form = reactive({ number: 1, gauge: null as number | null, reason: '' })
watch(usable, (now) => (form.gauge ??= now.find((g) => !g.suspect && g.kind !== 'master')?.id ?? null), {
  immediate: true,
})
const { save, busy, fields, message } = useSave(async () => {
  const body = { ...form, gauge: form.gauge ?? 0 }
  emit(
    'begun',
    await answer(api.POST('/api/v1/rigs/{rig_id}/trials', { params: { path: { rig_id: props.rig.id } }, body })),
  )
})
</script>

<template>
  <p class="max-w-2xl text-soft">
    A line of chalk across both treads of an axle, a short straight drive, and a look at what is left. It moves in small
    steps, inside what the load needs and what tire and wheel allow; only an even line becomes a result.
  </p>
  <EntryForm
    v-if="may('rounds')"
    :refused="fields"
    class="mt-4 grid max-w-3xl items-start gap-3 sm:grid-cols-3"
    @submit="save()"
  >
    <ChoiceField
      v-model="form.number"
      label="Axle"
      :choices="rig.axles.map((a) => ({ key: a.number, name: a.name }))"
      name="number"
    />
    <ChoiceField
      v-model="form.gauge"
      label="Gauge in hand"
      :choices="usable.map((g) => ({ key: g.id as number | null, name: g.label }))"
      name="gauge"
    />
    <TextField
      v-model="form.reason"
      label="Why below the placard"
      hint="Empty: it stays at the placard or above"
      name="reason"
    />
    <p class="sm:col-span-3"><button class="button button-next" :disabled="busy">Begin the trial</button></p>
    <Refusal :message="message && !Object.keys(fields).length ? message : ''" />
  </EntryForm>
</template>
