<script setup lang="ts">
/** An open ground plan, on every screen of its rig: where it stands, and how fast it may go. */
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { unsent } from '@/shared/outbox'
import { say } from '@/shared/units'

const props = defineProps<{ ground: Schemas['Strip'] | null; id: number }>()
/** Opened on this phone, and not on the server yet. */
const waits = computed(() => unsent.value.some((u) => u.ground && 'open' in u.ground && u.ground.rig === props.id))
</script>

<template>
  <aside v-if="ground || waits" aria-label="Open ground plan">
    <RouterLink
      :to="{ name: 'ground', params: { id } }"
      class="flex flex-wrap items-center gap-x-5 gap-y-1 border-b px-4 py-2 text-ink lg:px-5"
      :class="ground?.loud ? 'border-rust bg-rustwash' : 'border-hairline bg-tealwash'"
    >
      <b>{{ ground ? say(ground.words) : 'A ground plan was opened here, and is not on the server yet' }}</b>
      <ol v-if="ground" class="flex flex-wrap gap-x-1.5 text-sm" aria-hidden="true">
        <li v-for="(name, i) in ground.chain" :key="i" :class="i === ground.at ? 'font-bold' : 'text-soft'">
          {{ i ? '→ ' : '' }}{{ name }}
        </li>
      </ol>
    </RouterLink>
  </aside>
</template>
