<script setup lang="ts">
/** The pages of the weighing stage, and the load states: the one in force rules target and round. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import StagePages from '@/shared/StagePages.vue'
import TextField from '@/shared/TextField.vue'
import { spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { loadStates } from './queries'

const { id } = useFrame()
const { may } = useSession()
const { data: states } = useQuery(loadStates(id))
const adding = ref(false)
const name = ref('')
const PAGES = [
  { name: 'weighing', words: 'Weigh' },
  { name: 'what-if', words: 'What if' },
  { name: 'drift', words: 'Drift' },
]
const use = useSave(async (state: number) => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/load-states/{state_id}/use', {
      params: { path: { rig_id: id.value, state_id: state } },
    }),
  )
  await refreshRig(id.value)
})
const add = useSave(async () => {
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/load-states', {
      params: { path: { rig_id: id.value } },
      body: { name: name.value },
    }),
  )
  name.value = ''
  adding.value = false
  await refreshRig(id.value)
})
const drop = useSave(async (state: number) => {
  await answer(
    api.DELETE('/api/v1/rigs/{rig_id}/load-states/{state_id}', {
      params: { path: { rig_id: id.value, state_id: state } },
    }),
  )
  await refreshRig(id.value)
})
</script>

<template>
  <div class="mb-4 flex flex-wrap items-center justify-between gap-x-6 gap-y-2">
    <StagePages label="Pages of Weigh" :rig="id" :pages="PAGES" />
    <div v-if="states?.length" class="flex flex-wrap items-center gap-1.5 text-sm">
      <span class="text-soft">Load state in force</span>
      <button
        v-for="s in states"
        :key="s.id"
        type="button"
        class="press chip px-2.5 py-1 disabled:cursor-default"
        :aria-pressed="s.in_force"
        :disabled="!may('weigh') || use.busy.value"
        :title="
          s.weighed_on
            ? `${s.worked_out ? 'worked out from' : 'weighed'} ${spokenDay(s.weighed_on)}`
            : 'not weighed yet'
        "
        @click="s.in_force || use.save(s.id)"
      >
        {{ s.name }}<span v-if="s.worked_out" class="font-normal">, worked out</span
        ><span v-else-if="!s.weighed_on" class="font-normal">, not weighed</span>
      </button>
      <template v-for="s in states" :key="`d${s.id}`">
        <button v-if="may('weigh') && !s.in_force && !s.weighed_on" type="button" class="link" @click="drop.save(s.id)">
          Drop {{ s.name }}
        </button>
      </template>
      <button v-if="may('weigh') && !adding" type="button" class="link ml-1" @click="adding = true">Another</button>
    </div>
    <EntryForm
      v-if="adding"
      :refused="add.fields.value"
      class="flex w-full flex-wrap items-end gap-3"
      @submit="add.save()"
    >
      <TextField v-model="name" class="w-56" label="New load state" name="name" />
      <button class="button" :disabled="!name.trim()">Add it</button>
      <button type="button" class="link" @click="adding = false">Leave it</button>
    </EntryForm>
    <Refusal :message="use.message.value || drop.message.value" />
  </div>
</template>
