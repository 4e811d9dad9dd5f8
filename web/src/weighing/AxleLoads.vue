<script setup lang="ts">
/** An axle's answer: the load on each tire, every limit it is held against, what there is to say, the working. */
import type { Schemas } from '@/shared/api/client'
import Opening from '@/shared/Opening.vue'
import { figure, say, unitOf } from '@/shared/units'
import Working from '@/shared/Working.vue'
import LoadBar from './LoadBar.vue'

defineProps<{ axle: Schemas['AxleLoadOut'] | undefined; name: string; stale?: boolean }>()
</script>

<template>
  <section class="mt-6 border-t border-hairline pt-4">
    <div class="flex flex-wrap items-end justify-between gap-x-6 gap-y-2" :class="{ stale }">
      <h2>{{ name }}</h2>
      <p class="text-soft">
        <template v-if="axle?.heavier">heavier end {{ axle.heavier }}</template>
        <template v-if="axle?.assumed">heavier end assumed</template>
        <template v-if="axle?.lifted">lifted</template>
        <span class="ml-3 text-3xl font-bold text-ink">{{
          axle?.per_tire_kg == null ? '–' : figure('mass', axle.per_tire_kg)
        }}</span>
        {{ unitOf('mass') }} each tire
      </p>
    </div>
    <slot />
    <template v-if="axle">
      <div class="mt-3 grid gap-x-8 gap-y-3 sm:grid-cols-3" :class="{ stale }">
        <LoadBar v-for="c in axle.checks" :key="c.what" :check="c" />
      </div>
      <ul class="mt-2">
        <li v-for="(n, k) in axle.notes" :key="k" class="text-sm">{{ say(n) }}</li>
      </ul>
      <Opening v-if="axle.working.length" label="Working" class="mt-1 max-w-xl text-sm">
        <Working :lines="axle.working" />
      </Opening>
    </template>
  </section>
</template>
