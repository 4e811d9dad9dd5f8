<script setup lang="ts">
import { Dialog, DialogPanel, DialogTitle } from '@headlessui/vue'
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { practice } from '@/practice/queries'

const open = defineModel<boolean>('open', { required: true })
const route = useRoute()
const { data } = useQuery({ ...practice, enabled: open })
/** Who asks for help on a screen finds the exercises for it. */
const here = computed(() => (data.value?.exercises ?? []).filter((e) => e.stage === route.name))
const KEYS: [string, string][] = [
  ['/', 'Find a rig'],
  ['?', 'These keys'],
  ['Alt 1 … 7', 'Rig, Weigh, Target, Air, Round, Look back, Ground'],
  ['← → ↑ ↓', 'Move over the wheels of the plan'],
  ['← → D A Delete', 'On the plan of a rig: move an axle, make it dual, add, take off'],
  ['Shift ← → ↑ ↓', 'In What if: move what is aboard by a meter'],
  ['Digits, Enter', 'In a round: the reading, then the next wheel'],
  ['↑ ↓', 'In a round: the wheel before, the wheel after'],
  ['Alt N', 'In a round: it has not rolled like this'],
  ['Alt R', 'In a round: read this wheel again'],
  ['Alt L C V', 'In a round: leak heard, cap missing, valve damaged'],
  ['Alt S', 'In a round: skip this wheel, with a reason'],
  ['← → Delete', 'In a ground plan: move a stretch, take it away'],
  ['Esc', 'Close, or leave a field'],
]
</script>

<template>
  <Dialog :open="open" class="relative z-40" @close="open = false">
    <div class="fixed inset-0 bg-ground/80" aria-hidden="true" />
    <div class="fixed inset-0 flex items-center justify-center p-4">
      <DialogPanel class="w-full max-w-lg border border-soft bg-paper p-6">
        <DialogTitle as="h2">Keys</DialogTitle>
        <dl class="mt-3">
          <div v-for="[key, does] in KEYS" :key="key" class="flex gap-4 border-t border-hairline py-2">
            <dt class="w-32 shrink-0 font-semibold">{{ key }}</dt>
            <dd>{{ does }}</dd>
          </div>
        </dl>
        <p class="mt-3 text-sm text-soft">
          A pressure, weight, temperature or length may be typed with its unit: 6.2 bar, 3,150 kg, -4 C, 20 ft.
        </p>
        <p class="mt-3">
          <RouterLink :to="{ name: 'practice', query: { stage: String(route.name) } }" @click="open = false">{{
            here.length ? 'Practise what this screen is for' : 'Practice: made-up rigs to make mistakes on'
          }}</RouterLink>
          <span v-if="here.length" class="text-soft">: {{ here.map((e) => e.name).join(', ') }}</span>
        </p>
        <button type="button" class="button mt-5" @click="open = false">Close</button>
      </DialogPanel>
    </div>
  </Dialog>
</template>
