<script setup lang="ts">
/** What the chalk said: one of the schools, of an axle in the load state in force. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { queries, useSession } from '@/shared/session'
import { show, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'

const emit = defineEmits<{ changed: [] }>()
const { id } = useFrame()
const { may } = useSession()
const { data } = useQuery({
  queryKey: ['rig', id, 'chalk'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/chalk', { params: { path: { rig_id: id.value } } })),
})
const gone = ref<number | null>(null)
async function changed() {
  await queries.invalidateQueries({ queryKey: ['rig', id, 'chalk'] })
  emit('changed')
}
const withdraw = useSave(async (result: number, withdrawn: boolean) => {
  await answer(
    api.PUT('/api/v1/rigs/{rig_id}/chalk/{result_id}', {
      params: { path: { rig_id: id.value, result_id: result } },
      body: { withdrawn },
    }),
  )
  gone.value = withdrawn ? result : null
  await changed()
})
</script>

<template>
  <Opening label="Chalk results">
    <ul v-if="data?.length">
      <li v-for="r in data" :key="r.id" class="flex flex-wrap justify-between gap-x-6 border-t border-hairline py-1.5">
        <span
          >{{ r.name }}, {{ r.load_state }}: <b>{{ show('pressure', r.kpa) }}</b></span
        >
        <span v-if="!r.even" class="text-soft">a note, no school</span>
        <span class="text-sm text-soft"
          >{{ spokenDay(r.done_on) }}, {{ r.by }}{{ r.note ? `: ${r.note}` : '' }}
          <button v-if="may('targets')" type="button" class="link ml-2" @click="withdraw.save(r.id, true)">
            Take back
          </button>
        </span>
      </li>
    </ul>
    <p v-else class="text-soft">None yet. A trial asks what must hold, and only an even line is a result.</p>
    <p v-if="gone !== null" class="text-sm">
      Taken back. <button type="button" class="link" @click="withdraw.save(gone, false)">Undo</button>
    </p>
    <p class="mt-2">
      <RouterLink :to="{ name: 'chalk', params: { id } }" class="button">Chalk trial</RouterLink>
    </p>
  </Opening>
</template>
