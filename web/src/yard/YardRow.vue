<script setup lang="ts">
/** A rig of the Yard: what asks first, and with room all the rest of it. */
import { computed } from 'vue'
import Shape from '@/shared/Shape.vue'
import { say, spokenDay } from '@/shared/units'
import type { Schemas } from '@/shared/api/client'
import type { Line } from './queries'

/** `dawn`: it takes a tire to its floor before the next check. */
const props = defineProps<{ rig: Line; dense: boolean; dawn: Schemas['Phrase'] | null }>()
const r = computed(() => props.rig)
const tiresSaid = computed(
  () => `Last round: ${r.value.tires.map((t) => `${t.code} ${t.word.replace('_', ' ')}`).join(', ')}`,
)
/** Who has its round to do. */
const has = computed(() => r.value.assigned.map((a) => `${a.yours ? 'Yours' : a.to}, ${a.when}`).join('; '))
/** What held when it was read does not stand alone where a dawn is about to take it. */
const fine = computed(() => r.value.state === 'fine' && !props.dawn)
const late = computed(() => r.value.assigned.some((a) => a.over))
</script>

<template>
  <RouterLink
    :to="{
      name: r.round_open ? 'rounds' : 'rig',
      params: { id: r.round_open ? (r.head ?? r.id) : r.id },
    }"
    class="grid gap-x-5 px-1 font-normal text-ink hover:bg-tealwash hover:no-underline"
    :class="
      dense
        ? 'h-12 grid-cols-[5.5rem_12rem_1fr_10rem_6.5rem] items-center'
        : 'gap-y-1 py-3.5 max-sm:grid-cols-2 sm:grid-cols-[5rem_13rem_1fr] lg:grid-cols-[5rem_14rem_1fr_9rem_9rem]'
    "
  >
    <span
      class="font-semibold text-soft max-sm:order-2 max-sm:text-right"
      :class="dense ? 'truncate' : 'wrap-anywhere'"
      >{{ r.fleet_number }}</span
    >
    <span class="min-w-0 max-sm:order-1" :class="{ 'wrap-anywhere': !dense }">
      <span class="block leading-tight font-bold" :class="dense ? 'truncate' : 'text-lg'">{{ r.name }}</span>
      <span class="text-sm text-soft" :class="{ 'block truncate leading-tight': dense }"
        >{{ r.kind_name }}<template v-if="r.wheels !== null">, {{ r.wheels }} tires</template
        ><template v-if="r.behind">, behind {{ r.behind }}</template></span
      >
    </span>
    <span class="min-w-0 max-sm:order-3 max-sm:col-span-2">
      <span
        class="flex items-center gap-2 font-semibold"
        :class="{ 'text-rust': r.state === 'attention', 'text-green': fine }"
      >
        <span v-if="r.state === 'attention'" class="size-2.5 shrink-0 bg-rust" aria-hidden="true" />
        <span v-else-if="r.state === 'todo'" class="size-2.5 shrink-0 rounded-full bg-buoy" aria-hidden="true" />
        <span v-else-if="fine" class="h-1 w-3 shrink-0 bg-green" aria-hidden="true" />
        <span :class="{ truncate: dense }">{{ say(r.words) }}</span>
      </span>
      <span v-if="dense" class="block truncate text-sm leading-tight text-soft"
        ><b v-if="dawn" class="text-rust">{{ say(dawn) }}{{ has || r.more.length ? ' · ' : '' }}</b
        ><b v-if="has" :class="late ? 'text-rust' : 'text-ink'">{{ has }}{{ r.more.length ? ' · ' : '' }}</b
        >{{ r.more.map(say).join(' · ') }}</span
      >
      <template v-else>
        <b v-if="dawn" class="block text-sm text-rust">{{ say(dawn) }}</b>
        <b v-if="has" class="block text-sm" :class="{ 'text-rust': late }">{{ has }}</b>
        <span v-for="(m, i) in r.more" :key="i" class="block text-sm text-soft">{{ say(m) }}</span>
        <span v-if="r.tires.length" class="mt-1.5 flex flex-wrap gap-1.5" role="img" :aria-label="tiresSaid">
          <Shape v-for="t in r.tires" :key="t.code" :word="t.word" :size="15" />
        </span>
      </template>
    </span>
    <template v-if="dense">
      <span v-if="r.tires.length" class="flex flex-wrap gap-1 overflow-hidden" role="img" :aria-label="tiresSaid">
        <Shape v-for="t in r.tires" :key="t.code" :word="t.word" :size="12" />
      </span>
      <span v-else class="text-sm text-soft">no round yet</span>
      <span class="text-right text-sm text-soft">{{ r.last_round ? spokenDay(r.last_round) : '' }}</span>
    </template>
    <template v-else>
      <span class="text-sm text-soft max-sm:order-4"
        >weighed <span class="block text-ink">{{ r.weighed_on ? spokenDay(r.weighed_on) : 'never' }}</span></span
      >
      <span class="text-sm text-soft max-sm:order-4"
        >last round <span class="block text-ink">{{ r.last_round ? spokenDay(r.last_round) : 'never' }}</span></span
      >
    </template>
  </RouterLink>
</template>
