<script setup lang="ts">
/** Tires this morning by prediction, before anyone kneels: each on its band, the range hatched. */
import { computed, ref } from 'vue'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import Band from '@/shared/Band.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import Shape from '@/shared/Shape.vue'
import { clock, figure, say, show, spokenDay, unitOf } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { COLOR } from '@/shared/words'

type Tire = Schemas['ExpectedOut']
const props = defineProps<{ rig: Schemas['MorningRigOut'] }>()
const all = ref(false)
const { may } = useSession()
/** One press: what was typed by hand still holds, and the prediction goes by it. */
const {
  save: confirm,
  busy,
  message,
} = useSave(async () => {
  await answer(api.POST('/api/v1/rigs/{rig_id}/air/confirm', { params: { path: { rig_id: props.rig.id } } }))
  await refreshRig(props.rig.id)
})
const RANK = { add: 0, stop: 0, cannot_tell: 1, let_out: 2, hold: 3, not_checked: 4 }
const sorted = computed(() => [...props.rig.tires].sort((a, b) => RANK[a.word] - RANK[b.word] || a.kpa - b.kpa))
const wanting = computed(() => sorted.value.filter((t) => t.word !== 'hold'))
const shown = computed(() => (all.value ? sorted.value : wanting.value))
const depth = (t: Tire) => (t.target_kpa ? Math.abs(t.target_kpa - t.kpa) / t.target_kpa / 0.15 : 0.5)
</script>

<template>
  <p v-if="rig.stamps.length" class="flex flex-wrap gap-3 py-1">
    <span v-for="s in rig.stamps" :key="s" class="stamp">{{ s }}</span>
  </p>
  <p v-if="rig.ground" class="py-1 font-semibold text-rust">{{ say(rig.ground) }}.</p>
  <p v-if="rig.dawn" class="py-1 font-semibold text-rust">{{ say(rig.dawn) }}: check it before then.</p>
  <p
    v-if="rig.outside_c === null && !rig.resting && !rig.anew"
    class="flex flex-wrap items-center gap-x-6 gap-y-1 py-1"
  >
    <button v-if="rig.typed_c !== null && may('air')" type="button" class="button" :disabled="busy" @click="confirm()">
      It is still {{ show('temperature', rig.typed_c) }}
    </button>
    <RouterLink :to="{ name: 'air', params: { id: rig.id } }">Set its place</RouterLink>
    <Refusal :message="message" />
  </p>
  <ul v-if="shown.length">
    <li
      v-for="t in shown"
      :key="t.code"
      class="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-5 border-t border-hairline py-2 sm:grid-cols-[minmax(0,15rem)_7.5rem_minmax(0,1fr)]"
    >
      <p class="min-w-0">
        {{ t.name }} <span class="text-soft">{{ t.code }}</span>
        <span class="flex items-center gap-2 font-medium" :class="COLOR[t.word]">
          <Shape :word="t.word" :depth="depth(t)" :size="14" estimate />{{ say(t.words)
          }}{{ t.word === 'add' && !t.sure ? ', not sure' : '' }}
        </span>
      </p>
      <p class="figure">
        <b class="text-2xl">{{ figure('pressure', t.kpa) }}</b>
        <span class="block text-sm text-soft"
          >± {{ figure('pressure', t.within_kpa, 'up') }} {{ unitOf('pressure') }}</span
        >
        <span v-if="t.glance_at" class="block text-sm text-soft">and a display’s, {{ clock(t.glance_at) }}</span>
      </p>
      <Band
        v-if="t.target_kpa !== null"
        class="col-span-2 sm:col-span-1"
        size="row"
        :label="`${t.name}, predicted`"
        :band="t"
        :dawn="t.kpa"
      />
      <p v-else class="text-sm text-soft">read {{ spokenDay(t.last_at) }}</p>
    </li>
  </ul>
  <ul v-if="rig.not_foretold.length">
    <li v-for="t in rig.not_foretold" :key="t.code" class="border-t border-hairline py-2">
      {{ t.name }} <span class="text-soft">{{ t.code }}</span>
      <span class="flex items-center gap-2 font-medium">
        <Shape word="not_checked" :depth="0.5" :size="14" />{{ say(t.words) }}
      </span>
    </li>
  </ul>
  <p v-if="rig.tires.length > wanting.length" class="py-2">
    <button type="button" class="link" :aria-expanded="all" @click="all = !all">
      {{ all ? 'Only those that want something' : `All ${rig.tires.length + rig.not_foretold.length} tires` }}
    </button>
  </p>
  <p v-if="rig.next_check_on" class="text-sm text-soft">
    <b v-if="rig.next_check_over" class="text-rust">The check was due by {{ spokenDay(rig.next_check_on) }}.</b>
    <template v-else>Next check by {{ spokenDay(rig.next_check_on) }}.</template>
    {{ rig.next_check_words }}.
    <template v-if="rig.outside_c !== null"
      >{{ rig.place || 'By hand' }}, {{ show('temperature', rig.outside_c) }} now.</template
    >
  </p>
</template>
