<script setup lang="ts">
/** The wheel in hand: its name, what it is held against, what its gauge should show, and all that must be said over it. */
import { useFrame } from '@/rigs/frame'
import Banner from '@/shared/Banner.vue'
import { adrift } from '@/shared/kept'
import { keeps } from '@/shared/entryStore'
import { figure, say, toward } from '@/shared/units'
import type { OpenRound, Wheel } from './useRound'

defineProps<{ here: OpenRound; round: NonNullable<OpenRound['round']>; wheel: Wheel }>()
const { sheet } = useFrame()
/** What a gauge shows at the ceiling is not rounded past it. */
const shownToward = (w: Wheel) =>
  w.here_kpa !== null && toward(w.here_kpa, w.ceiling_kpa) === 'down' ? ('down' as const) : ('nearest' as const)
</script>

<template>
  <div class="flex flex-wrap items-baseline justify-between gap-x-6 max-lg:beside:-order-2">
    <h1 aria-live="polite" class="text-2xl">
      {{ wheel.name }} <span class="font-normal text-soft">· {{ wheel.code }}</span>
    </h1>
    <p class="text-soft">
      {{ round.cold ? 'cold' : 'warm, an estimate' }}
      <template v-if="wheel.here_kpa !== null">
        · target here
        <b class="text-ink">{{ figure('pressure', wheel.here_kpa, toward(wheel.here_kpa, wheel.ceiling_kpa)) }}</b>
        <template v-if="wheel.range_kpa !== null">
          or {{ wheel.range_kpa > wheel.here_kpa ? 'up' : 'down' }} to
          {{ figure('pressure', wheel.range_kpa, toward(wheel.range_kpa, wheel.ceiling_kpa)) }}</template
        >
        <template v-if="wheel.shows_kpa !== null">
          · {{ here.gaugeLabel }} should show
          <b class="text-ink">{{ figure('pressure', wheel.shows_kpa, shownToward(wheel)) }}</b>
        </template>
      </template>
      <template v-else-if="wheel.missing"> · no target known</template>
      <template v-if="typeof wheel.expected_kpa === 'number'">
        · expected {{ figure('pressure', wheel.expected_kpa) }} ±
        {{ figure('pressure', wheel.expected_within_kpa!, 'up') }}
      </template>
      <template v-if="wheel.taken_by"> · {{ wheel.taken_by }} has it</template>
    </p>
  </div>
  <Banner v-if="adrift" class="mt-2 text-sm"
    >No network: the round goes on.
    {{
      keeps
        ? 'What you enter is kept in this browser and sent by itself.'
        : 'This browser keeps nothing: leave the page open until what you enter is sent.'
    }}</Banner
  >
  <Banner v-if="sheet.targets?.out_of_date.length" loud class="mt-2 text-sm">
    The targets of this round are out of date: {{ sheet.targets.out_of_date.join(', ') }}. What holds here may not carry
    the load now.
  </Banner>
  <p v-for="(u, i) in round.unlike" :key="`u${i}`" class="mt-2 text-sm font-semibold text-rust">
    {{ say(u) }}
  </p>
  <p v-if="wheel.missing" class="mt-2 text-sm font-semibold text-rust">{{ say(wheel.missing) }}</p>
  <p v-if="round.gauge_condition" role="status" class="mt-2 text-sm font-semibold text-rust">
    {{ round.gauge_label }}: {{ say(round.gauge_condition) }}
  </p>
</template>
