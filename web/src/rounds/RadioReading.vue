<script setup lang="ts">
/** Gauges and inflators within reach: their reading goes into the field, to be kept as if it were typed. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ round: number; wheel: string; dial: number | null }>()
const emit = defineEmits<{ heard: [kpa: number] }>()
const { data: devices } = useQuery({
  queryKey: ['gauges', 'devices'],
  queryFn: () => answer(api.GET('/api/v1/gauges/devices')),
  staleTime: 300_000,
})
const remark = ref('')
const { save, busy, message } = useSave(async (device: string, set_point: number | null) => {
  const heard = await answer(
    api.POST('/api/v1/rounds/{round_id}/radio', {
      params: { path: { round_id: props.round } },
      body: { wheel: props.wheel, device, set_point },
    }),
  )
  remark.value = heard.remark
  emit('heard', heard.kpa)
})
</script>

<template>
  <div v-if="devices?.some((d) => !d.bench)" class="flex flex-wrap items-center gap-x-4 gap-y-1 text-sm">
    <span class="text-soft">Within reach:</span>
    <template v-for="d in devices.filter((d) => !d.bench)" :key="d.key">
      <button type="button" class="link py-1" :disabled="busy" @click="save(d.key, null)">
        Read {{ d.name.toLowerCase() }}
      </button>
      <button
        v-if="d.inflates && dial !== null"
        type="button"
        class="link py-1"
        :disabled="busy"
        @click="save(d.key, dial)"
      >
        Fill with {{ d.name.toLowerCase() }}
      </button>
    </template>
    <span v-if="remark">{{ remark }}</span>
    <Refusal :message="message" />
  </div>
</template>
