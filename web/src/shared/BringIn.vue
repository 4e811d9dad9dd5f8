<script setup lang="ts">
/** The button that brings a file in, how far it is, and the way to stop it. */
import Refusal from './Refusal.vue'

defineProps<{ able: boolean; busy: boolean; sent: number; rows: number; message: string }>()
defineEmits<{ take: []; halt: [] }>()
</script>

<template>
  <div class="mt-3 flex flex-wrap items-center gap-4">
    <button type="button" class="button button-next" :disabled="busy || !able" @click="$emit('take')">
      Bring them in
    </button>
    <template v-if="busy">
      <progress :value="sent" :max="rows" aria-label="Rows brought in" />
      <span>{{ sent.toLocaleString('en-US') }} of {{ rows.toLocaleString('en-US') }}</span>
      <button type="button" class="link" @click="$emit('halt')">Stop</button>
    </template>
  </div>
  <Refusal :message="message" />
</template>
