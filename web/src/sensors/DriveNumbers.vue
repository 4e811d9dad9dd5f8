<script setup lang="ts">
/** The wheels of a drive: the number first; grey is what judges nothing. */
import { clock, figure, say, show, unitOf } from '@/shared/units'
import type { Drive } from './queries'

defineProps<{ drive: Drive; picked: string | null }>()
defineEmits<{ pick: [code: string] }>()
</script>

<template>
  <ul class="grid gap-x-8 sm:grid-cols-2" aria-label="Wheels">
    <li v-for="w in drive.wheels" :key="w.code" class="border-t border-hairline">
      <button
        type="button"
        class="flex w-full items-baseline gap-3 py-2 text-left"
        :aria-pressed="picked === w.code"
        @click="$emit('pick', w.code)"
      >
        <span
          class="w-30 shrink-0 text-right text-3xl whitespace-nowrap font-bold"
          :class="w.old ? 'text-soft' : w.loud ? 'text-rust' : ''"
        >
          {{ w.kpa === null ? '?' : figure('pressure', w.kpa) }}
          <span class="text-sm font-normal text-soft">{{ w.kpa === null ? '' : unitOf('pressure') }}</span>
        </span>
        <span class="min-w-0">
          <b>{{ w.name }}</b>
          <span v-if="w.tire_c !== null" class="text-soft"> · {{ show('temperature', w.tire_c) }}</span>
          <span class="block" :class="w.loud ? 'font-semibold text-rust' : w.old ? 'text-soft' : ''">{{
            say(w.words)
          }}</span>
          <span v-if="w.at && w.old" class="block text-sm text-soft">
            last {{ clock(w.at) }}{{ w.rolled_min === null ? '' : `, rolled ${Math.round(w.rolled_min)} min by then` }}
          </span>
        </span>
      </button>
    </li>
  </ul>
</template>
