<script setup lang="ts">
/** An axle's target in this air: what to set now, what the coldest dawn makes of it, and why. */
import type { Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Opening from '@/shared/Opening.vue'
import { figure, say, show, toward, unitOf } from '@/shared/units'
import Working from '@/shared/Working.vue'

defineProps<{ axle: Schemas['AxleAir']; name: string }>()
</script>

<template>
  <section class="mt-6 border-t border-hairline pt-4">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>{{ name }}</h2>
      <p class="flex flex-wrap gap-x-4 text-soft">
        <span class="whitespace-nowrap"
          >set now, cold
          <span class="ml-2 text-3xl font-bold text-ink">{{
            figure('pressure', axle.here_kpa, toward(axle.here_kpa, axle.ceiling_kpa))
          }}</span>
          {{ unitOf('pressure') }}</span
        >
        <span v-if="axle.coldest_kpa !== null" class="whitespace-nowrap"
          >coldest dawn
          <span class="ml-2 text-3xl font-bold" :class="axle.leaves_band ? 'text-rust' : 'text-ink'">{{
            figure('pressure', axle.coldest_kpa)
          }}</span>
          {{ unitOf('pressure') }}</span
        >
      </p>
    </div>
    <Band
      :label="name"
      :band="axle"
      :level="axle.here_kpa"
      :dawn="axle.coldest_kpa"
      :flags="[{ name: 'target in force', kpa: axle.target_kpa }]"
    />
    <p class="font-semibold" :class="axle.leaves_band ? 'text-rust' : axle.above_floor ? 'text-green' : 'text-soft'">
      {{ say(axle.words) }}
      <span v-if="axle.eaten !== null" class="font-normal text-soft"
        >The cold eats {{ show('share', axle.eaten) }} of what lies over the floor.</span
      >
    </p>
    <p v-if="axle.hold_from_kpa !== null" class="text-sm">
      Left as it is from {{ show('pressure', axle.hold_from_kpa, 'up') }} up.
    </p>
    <p v-for="(n, k) in axle.notes" :key="k" class="text-sm">{{ say(n) }}</p>
    <Opening label="Working" class="mt-1 max-w-2xl text-sm"><Working :lines="axle.working" /></Opening>
  </section>
</template>
