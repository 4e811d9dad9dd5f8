<script setup lang="ts">
/** Something that opens in place, by mouse and keyboard. */
import { Disclosure, DisclosureButton, DisclosurePanel } from '@headlessui/vue'

defineProps<{ label: string; open?: boolean }>()
</script>

<template>
  <Disclosure v-slot="{ open: shown }" :default-open="open ?? false" as="div">
    <DisclosureButton class="link inline-flex items-center gap-1.5 py-1">
      <svg width="10" height="10" viewBox="0 0 10 10" aria-hidden="true" :class="{ 'rotate-90': shown }">
        <path d="M2 0l6 5-6 5z" fill="currentColor" />
      </svg>
      {{ label }}
    </DisclosureButton>
    <DisclosurePanel class="pt-1"><slot /></DisclosurePanel>
  </Disclosure>
</template>
