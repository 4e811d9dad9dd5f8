<script setup lang="ts">
/** The order in which this rig is walked: wheels move up and down, kept from the next round on. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig, walked } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { useSave } from '@/shared/useSave'

const emit = defineEmits<{ done: [] }>()
const { id, sheet } = useFrame()
const order = ref(walked(sheet.value))
const { data: seen } = useQuery({
  queryKey: ['rig', id, 'walk'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/walk', { params: { path: { rig_id: id.value } } })),
})
function move(from: number, by: number) {
  const to = from + by
  if (to < 0 || to >= order.value.length) return
  const next = [...order.value]
  next.splice(to, 0, ...next.splice(from, 1))
  order.value = next
}
const { save, busy, message, fields, newer } = useSave(async (codes: string[]) => {
  const body = { codes, version: newer.value || (seen.value?.version ?? '') }
  await answer(api.PUT('/api/v1/rigs/{rig_id}/walk', { params: { path: { rig_id: id.value } }, body }))
  await refreshRig(id.value)
  emit('done')
})
</script>

<template>
  <section class="max-w-md">
    <h2>Walking order</h2>
    <ol>
      <li v-for="(w, i) in order" :key="w.code" class="flex items-center gap-3 border-t border-hairline py-1">
        <span class="w-6 text-soft">{{ i + 1 }}</span>
        <span class="min-w-0 flex-1"
          >{{ w.name }} <span class="text-soft">{{ w.code }}</span></span
        >
        <button type="button" class="link min-h-9 px-2" :aria-label="`${w.name} earlier`" @click="move(i, -1)">
          ▲
        </button>
        <button type="button" class="link min-h-9 px-2" :aria-label="`${w.name} later`" @click="move(i, 1)">▼</button>
      </li>
    </ol>
    <div class="mt-2 flex flex-wrap items-center gap-4">
      <button type="button" class="button button-next" :disabled="busy" @click="save(order.map((w) => w.code))">
        Keep this order
      </button>
      <button type="button" class="link" @click="save([])">Back to the usual one</button>
      <button type="button" class="link" @click="emit('done')">Leave it</button>
      <Refusal :message="[message, fields.codes].filter(Boolean).join(' ')" />
    </div>
  </section>
</template>
