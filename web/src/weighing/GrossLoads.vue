<script setup lang="ts">
/** The whole of a vehicle: gross, hitch, combination, each against its limit. */
import type { Schemas } from '@/shared/api/client'
import { figure, say, show, unitOf } from '@/shared/units'
import LoadBar from './LoadBar.vue'

defineProps<{ loads: Schemas['VehicleLoadsOut']; name: string; combined?: number | null; stale?: boolean }>()
</script>

<template>
  <section class="mt-6 border-t border-hairline pt-4" :class="{ stale }">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h2>{{ name }}</h2>
      <p class="text-soft">
        <template v-if="loads.hitch_kg !== null"
          >hitch <b class="text-ink">{{ show('mass', loads.hitch_kg) }}</b></template
        >
        <template v-if="combined != null"
          ><span class="ml-3">together</span> <b class="text-ink">{{ show('mass', combined) }}</b></template
        >
        <span class="ml-3 text-3xl font-bold text-ink">{{
          loads.total_kg === null ? 'unknown' : figure('mass', loads.total_kg)
        }}</span>
        {{ loads.total_kg === null ? '' : unitOf('mass') }}
      </p>
    </div>
    <div class="mt-2 grid gap-4 sm:grid-cols-3">
      <LoadBar v-for="c in loads.checks" :key="c.what" :check="c" />
    </div>
    <p v-for="(n, k) in loads.notes" :key="k" class="mt-2 text-sm">{{ say(n) }}</p>
  </section>
</template>
