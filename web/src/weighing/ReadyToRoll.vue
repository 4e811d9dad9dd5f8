<script setup lang="ts">
/** What is seen to before it goes on a scale. */
import type { Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { useSession } from '@/shared/session'

defineProps<{ rig: Schemas['RigOut'] }>()
const ready = defineModel<string[]>({ required: true })
const { may } = useSession()
</script>

<template>
  <Opening :label="`Ready to roll: ${ready.length} of ${rig.checklist.length} seen to`">
    <ul class="grid gap-x-6 gap-y-1 sm:grid-cols-2">
      <li v-for="c in rig.checklist" :key="c">
        <label class="flex min-h-9 items-center gap-2.5">
          <input v-model="ready" type="checkbox" :value="c" class="size-5 shrink-0 accent-teal" />
          {{ c }}
        </label>
      </li>
    </ul>
    <RouterLink v-if="may('rigs')" :to="{ name: 'rig-edit', params: { id: rig.id } }" class="text-sm"
      >Change this list</RouterLink
    >
  </Opening>
</template>
