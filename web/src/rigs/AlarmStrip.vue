<script setup lang="ts">
/** An alarm that stands, on every screen of its rig. */
import type { Schemas } from '@/shared/api/client'
import { say } from '@/shared/units'

defineProps<{ alarms: Schemas['Phrase'][]; id: number }>()
</script>

<template>
  <aside v-if="alarms.length" aria-label="Alarms">
    <RouterLink
      :to="{ name: 'sensors', params: { id } }"
      class="block border-b border-rust bg-rustwash px-4 py-2 text-ink lg:px-5"
    >
      <b v-for="(a, i) in alarms" :key="i" class="block">{{ say(a) }}</b>
    </RouterLink>
  </aside>
</template>
