<script setup lang="ts">
/** Sends the rig over a simulated road, with a fault or none: in the demo and in practice alone. */
import { computed, ref } from 'vue'
import { v4 as newUuid } from 'uuid'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import ChoiceField from '@/shared/ChoiceField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ rig: number; road: Schemas['RoadOut'] }>()
const emit = defineEmits<{ begun: [uuid: string] }>()
const { sheet } = useFrame()
const named = (of: Record<string, string>) => Object.entries(of).map(([key, name]) => ({ key, name }))
const scenes = computed(() => named(props.road.scenes))
const faults = computed(() => [{ key: '', name: 'Nothing goes wrong' }, ...named(props.road.faults)])
const wheels = computed(() =>
  sheet.value.rig.wheels.filter((w) => w.axle !== null).map((w) => ({ key: w.code, name: w.name })),
)
const form = ref({ scene: 'highway', fault: '', wheel: '', seed: '1', pace: '60' })
const { save, busy, fields, message } = useSave(async () => {
  const { seed, pace, fault, ...rest } = form.value
  const uuid = newUuid()
  const wheel = fault ? rest.wheel || wheels.value[0]!.key : ''
  const body = { ...rest, fault, wheel, seed, pace } as unknown as Schemas['SimulateIn']
  const params = { path: { rig_id: props.rig, uuid } }
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/drives/{uuid}', { params, body }))
  queries.setQueryData(['rig', props.rig, 'drive', uuid], now)
  await queries.invalidateQueries({ queryKey: ['rig', props.rig, 'drives'] })
  emit('begun', uuid)
})
</script>

<template>
  <section>
    <h2>A simulated road</h2>
    <p class="text-soft">A made-up drive through the same door as a real receiver. Nothing of it stands on a record.</p>
    <EntryForm :refused="fields" class="mt-2" @submit="save()">
      <div class="grid grid-cols-2 items-start gap-4 sm:grid-cols-3">
        <ChoiceField v-model="form.scene" name="scene" label="Road" :choices="scenes" />
        <ChoiceField v-model="form.fault" name="fault" label="What goes wrong" :choices="faults" />
        <ChoiceField
          v-if="form.fault"
          :model-value="form.wheel || wheels[0]!.key"
          name="wheel"
          label="At which wheel"
          :choices="wheels"
          @update:model-value="form.wheel = $event"
        />
        <TextField v-model="form.seed" name="seed" label="Seed" hint="the same drives the same" inputmode="numeric" />
        <TextField v-model="form.pace" name="pace" label="Times as fast as life" hint="1 to 600" inputmode="numeric" />
      </div>
      <button class="button mt-4" :disabled="busy">Drive</button>
      <Refusal :message="message" />
    </EntryForm>
  </section>
</template>
