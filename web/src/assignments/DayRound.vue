<script setup lang="ts">
/** A round that is given: of which rig, by when, what asks first of it, and to whom. */
import { rigName } from '@/rigs/queries'
import { say } from '@/shared/units'
import HandOver from './HandOver.vue'
import type { Given } from './queries'

defineProps<{ given: Given; who?: boolean; at?: number }>()
</script>

<template>
  <div class="grid grid-cols-[minmax(0,1fr)_auto] items-start gap-x-5 gap-y-1 py-3">
    <RouterLink
      :to="{ name: 'rounds', params: { id: given.rig } }"
      class="min-w-0 font-normal text-ink hover:no-underline"
    >
      <span class="flex items-baseline gap-3">
        <b v-if="at" class="figure w-6 shrink-0 text-2xl text-soft" aria-hidden="true">{{ at }}</b>
        <span class="text-xl leading-tight font-bold wrap-anywhere text-teal">{{ rigName(given) }}</span>
      </span>
      <span class="block" :class="{ 'pl-9': at }">
        <span :class="{ 'font-semibold text-rust': given.state === 'attention' }">{{ say(given.words) }}</span>
        <span v-if="given.note" class="block text-soft">“{{ given.note }}”</span>
      </span>
    </RouterLink>
    <div class="text-right">
      <p class="font-semibold whitespace-nowrap" :class="given.over ? 'text-rust' : 'text-ink'">
        {{ given.round_open ? 'begun, ' : '' }}{{ given.when }}
      </p>
      <p v-if="who || !given.yours" class="text-sm text-soft">{{ given.to }}</p>
      <HandOver :given="given" class="justify-end" />
    </div>
  </div>
</template>
