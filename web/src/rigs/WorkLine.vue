<script setup lang="ts">
/** The stages in the order people work, each with its state: the way about and the list of what is to do. */
import { computed, nextTick, watch, ref } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/shared/api/client'
import { say } from '@/shared/units'

defineProps<{ stages: Schemas['StageOut'][]; id: number }>()
const route = useRoute()
/** Pages of a stage stand under its name on the line. */
const STAGE_OF: Record<string, string> = {
  'what-if': 'weighing',
  drift: 'weighing',
  trip: 'air',
  warm: 'air',
  readings: 'air',
  'morning-rig': 'lookback',
  kit: 'ground',
  chalk: 'targets',
  wear: 'targets',
  sensors: 'targets',
  drive: 'targets',
  lamp: 'targets',
  sealed: 'lookback',
}
const here = computed(() => STAGE_OF[String(route.name)] ?? String(route.name))
const line = ref<HTMLElement>()

watch(
  () => route.name,
  async () => {
    await nextTick()
    line.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'center' })
  },
  { immediate: true },
)
</script>

<template>
  <nav ref="line" aria-label="Stages" class="overflow-x-auto border-b border-hairline">
    <ol class="flex min-w-max lg:min-w-0 lg:px-2">
      <li v-for="(s, i) in stages" :key="s.key" class="lg:flex-1">
        <RouterLink
          :to="{ name: s.key, params: { id } }"
          class="block h-full border-b-4 px-4 pt-2.5 pb-2 hover:bg-tealwash hover:no-underline lg:px-3"
          :class="here === s.key ? 'border-teal' : 'border-transparent'"
          :aria-current="here === s.key ? 'page' : undefined"
          :title="`Alt+${i + 1}`"
        >
          <span class="flex items-center gap-2 font-bold" :class="here === s.key ? 'text-teal' : 'text-ink'">
            {{ s.name }}
            <span v-if="s.state === 'todo'" class="size-2.5 rounded-full bg-buoy" aria-hidden="true" />
            <span v-if="s.state === 'attention'" class="size-2.5 bg-rust" aria-hidden="true" />
          </span>
          <span
            class="block max-w-52 truncate text-sm font-normal"
            :class="s.state === 'attention' ? 'font-medium text-rust' : s.state === 'todo' ? 'text-ink' : 'text-soft'"
            >{{ say(s.words) }}</span
          >
        </RouterLink>
      </li>
    </ol>
  </nav>
</template>
