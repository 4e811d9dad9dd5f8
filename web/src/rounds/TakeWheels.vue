<script setup lang="ts">
/** Several people at once: each takes a side, a vehicle or single wheels, with one gauge. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { useSession } from '@/shared/session'
import { useSave } from '@/shared/useSave'

const props = defineProps<{ round: Schemas['RoundOut'] }>()
const emit = defineEmits<{ taken: [round: Schemas['RoundOut']] }>()
const { sheet } = useFrame()
const { shown: me } = useSession()
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const mine = computed(() => props.round.takes.find((t) => t.person === me.value?.person))
const gauge = ref<number>(mine.value?.gauge ?? props.round.gauge)
const picked = ref<string[]>([...(mine.value?.wheels ?? [])])
const GROUPS = computed(() => {
  const wheels = props.round.wheels
  const sets = [
    { name: 'Left side', codes: wheels.filter((w) => w.side === -1).map((w) => w.code) },
    { name: 'Right side', codes: wheels.filter((w) => w.side === 1).map((w) => w.code) },
  ]
  if (sheet.value.train.length > 1)
    for (const v of sheet.value.train)
      sets.push({ name: v.name, codes: wheels.filter((w) => w.rig === v.id).map((w) => w.code) })
  return sets
})
const { save, busy, message } = useSave(async (wheels: string[]) => {
  const now = await answer(
    api.PUT('/api/v1/rounds/{round_id}/take', {
      params: { path: { round_id: props.round.id } },
      body: { gauge: gauge.value, wheels },
    }),
  )
  emit('taken', now)
})
</script>

<template>
  <Opening :label="round.takes.length ? 'Who takes what' : 'Share the round with others'">
    <p v-for="t in round.takes" :key="t.person">
      <b>{{ t.name }}</b> with {{ t.gauge_label }}: {{ t.wheels.join(', ') }}
    </p>
    <div class="mt-2 flex max-w-3xl flex-wrap items-end gap-3">
      <ChoiceField
        v-model="gauge"
        class="w-52"
        label="My gauge"
        :choices="
          (gauges.data.value ?? []).filter((g) => g.in_hand && !g.retired).map((g) => ({ key: g.id, name: g.label }))
        "
      />
      <button
        v-for="g in GROUPS"
        :key="g.name"
        type="button"
        class="button"
        @click="picked = [...new Set([...picked, ...g.codes])]"
      >
        {{ g.name }}
      </button>
    </div>
    <div class="mt-2 flex flex-wrap gap-2" role="group" aria-label="Wheels I take">
      <button
        v-for="w in round.wheels"
        :key="w.code"
        type="button"
        class="press chip min-h-9 px-2.5"
        :aria-pressed="picked.includes(w.code)"
        :aria-label="w.name"
        @click="picked = picked.includes(w.code) ? picked.filter((c) => c !== w.code) : [...picked, w.code]"
      >
        {{ w.code }}
      </button>
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-4">
      <button type="button" class="button" :disabled="busy || !picked.length" @click="save(picked)">Take these</button>
      <button v-if="mine" type="button" class="link" @click="((picked = []), save([]))">Give mine back</button>
      <Refusal :message="message" />
    </div>
  </Opening>
</template>
