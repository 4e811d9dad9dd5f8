<script setup lang="ts">
/** The choices a target hangs on besides tires and tables: weighing, school, columns, reserve, edge, step. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Segments from '@/shared/Segments.vue'
import { pairs, useSession } from '@/shared/session'
import { figure, spokenDay } from '@/shared/units'
import type { TargetForm } from './useTargets'

type Way = Schemas['Way']
defineProps<{ disabled: boolean }>()
const form = defineModel<TargetForm>({ required: true })
const { id, sheet } = useFrame()
const { session } = useSession()
const { data: weighings } = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})
const weighed = computed(() => [
  { key: null as number | null, name: 'The newest' },
  ...(weighings.value ?? [])
    .filter((w) => !w.amended)
    .map((w) => ({ key: w.id as number | null, name: `${spokenDay(w.weighed_on)}, ${w.load_state}` })),
])
const PERCENT = (shares: number[]) =>
  shares.map((s) => ({ key: s, name: `${figure('share', s)}${s === shares.at(-1) ? ' %' : ''}` }))
</script>

<template>
  <div>
    <fieldset :disabled="disabled" class="grid min-w-0 grid-cols-1 gap-x-5 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
      <ChoiceField
        v-if="sheet.weighing"
        v-model="form.weighing"
        label="From the weighing"
        :choices="weighed"
        name="weighing"
      />
      <ChoiceField
        v-model="form.school"
        label="Where the target comes from"
        :choices="pairs<Way['school']>(session?.schools)"
      />
      <ChoiceField
        v-model="form.between"
        label="Between two columns"
        :choices="pairs<Way['between']>(session?.between)"
      />
      <Segments v-model="form.reserve" label="Reserve on the load" :choices="PERCENT(session?.reserves ?? [])" />
      <Segments v-model="form.edge" label="Next column when less is left" :choices="PERCENT(session?.edges ?? [])" />
      <ChoiceField
        v-model="form.step"
        label="Practical step"
        :choices="(session?.steps ?? []).map((s) => ({ key: s as Way['step'], name: s }))"
      />
    </fieldset>

    <slot />
  </div>
</template>
