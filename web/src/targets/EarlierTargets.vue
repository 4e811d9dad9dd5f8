<script setup lang="ts">
/** Every set of targets that was put in force: when, by whom, from what. The earlier ones stay readable. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { say, show, spokenDay, toward } from '@/shared/units'
import Working from '@/shared/Working.vue'

const { id } = useFrame()
const { data } = useQuery({
  queryKey: ['rig', id, 'targets'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/targets', { params: { path: { rig_id: id.value } } })),
})
const newest = computed(() => data.value?.find((s) => !s.withdrawn_at)?.id)
</script>

<template>
  <ol v-if="data?.length">
    <li v-for="s in data" :key="s.id" class="border-t border-hairline py-3">
      <p>
        <b>{{ spokenDay(s.put_at) }}</b>, {{ s.put_by }}: {{ s.load_state }},
        {{ s.weighed_on ? `weighed ${spokenDay(s.weighed_on)}` : 'not weighed' }}
        <span v-if="s.withdrawn_at" class="text-rust">· taken back {{ spokenDay(s.withdrawn_at) }}</span>
        <span v-else-if="s.id === newest" class="text-green">· the newest</span>
      </p>
      <p class="text-sm text-soft">
        {{ show('share', s.reserve) }} reserve, {{ show('share', s.edge) }} edge, {{ s.between }}, steps of {{ s.step
        }}{{ s.table_names.length ? `; ${s.table_names.join('; ')}` : ''
        }}{{ s.trials.some(Boolean) ? `; trial: ${s.trials.filter(Boolean).join(', ')}` : '' }}
      </p>
      <p class="flex flex-wrap gap-x-6">
        <span v-for="a in s.axles" :key="a.number"
          >{{ a.name }}
          <b>{{
            a.target_kpa === null ? say(a.words) : show('pressure', a.target_kpa, toward(a.target_kpa, a.ceiling_kpa))
          }}</b></span
        >
      </p>
      <Opening label="Its working" class="text-sm">
        <Working v-for="a in s.axles" :key="a.number" class="mt-2" :title="a.name" :lines="a.working" />
      </Opening>
    </li>
  </ol>
  <p v-else class="text-soft">None yet.</p>
</template>
