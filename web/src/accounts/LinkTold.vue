<script setup lang="ts">
/** A link that is told this once, to be copied and given to whoever it is for. */
import { useClipboard } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '@/shared/api/client'
import { moment } from '@/shared/units'

const props = defineProps<{ made: Schemas['LinkMade']; what: string }>()
// Behind the #, so that it is in no server's log.
const link = computed(() => `${location.origin}/join#${props.made.key}`)
const { copy, copied, isSupported } = useClipboard({ legacy: true })
</script>

<template>
  <div role="status" class="mt-2 border-l-4 border-teal bg-paper px-4 py-2">
    <p>
      The link for {{ what }}, shown this once. It works once, until <b>{{ moment(made.ends_at) }}</b>. Give it to them
      yourself.
    </p>
    <p class="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
      <code class="font-bold break-all">{{ link }}</code>
      <button v-if="isSupported" type="button" class="link" @click="copy(link)">
        {{ copied ? 'Copied' : 'Copy' }}
      </button>
    </p>
  </div>
</template>
