<script setup lang="ts">
/** What is asked of axles: driven or not where the kind does not say so, and what a maker allows off the road. */
import { computed, reactive } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Opening from '@/shared/Opening.vue'
import Presses from '@/shared/Presses.vue'
import QuantityField from '@/shared/QuantityField.vue'
import { pairs, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { show, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import type { Ground } from './queries'
import type { OnGround } from './useGround'

type Axle = Schemas['AxleAsked']
const props = defineProps<{ here: OnGround; ground: Ground }>()
const { may, session } = useSession()
const asked = computed(() => props.ground.axles.filter((a) => a.asked))
const held = computed(() => {
  const heavy = new Set(props.ground.wheels.filter((w) => w.heavy_or_dual).map((w) => `${w.rig} ${w.axle}`))
  return props.ground.axles.filter((a) => heavy.has(`${a.rig} ${a.number}`))
})
const key = (a: Axle) => `${a.rig} ${a.number}`
const typed = reactive<Record<string, { least_kpa: Entry; words: string }>>({})
const of = (a: Axle) => (typed[key(a)] ??= { least_kpa: a.least_kpa, words: a.words })
const { save, busy, fields } = useSave(async (a: Axle, role: Axle['role']) => {
  const given = of(a)
  const body = { role: role === 'trailer' || role === null ? ('' as const) : role, ...given }
  props.here.take(
    await answer(
      api.PUT('/api/v1/rigs/{rig_id}/ground/axles/{number}', {
        params: { path: { rig_id: a.rig, number: a.number } },
        body,
      }),
    ),
  )
})
const roles = computed(() =>
  pairs<'driven' | 'steered'>(session.value?.ground_roles.filter((r) => r.key !== 'trailer')),
)
</script>

<template>
  <section v-if="asked.length && may('rigs')" class="mt-3">
    <div v-for="a in asked" :key="key(a)" class="flex flex-wrap items-center gap-3 py-1">
      <span>{{ a.rig_name }}, {{ a.name.toLowerCase() }} is</span>
      <Presses
        :model-value="a.role === 'trailer' ? null : a.role"
        look="chip min-h-11 px-3"
        :choices="roles"
        @update:model-value="(r) => save(a, r)"
      />
    </div>
  </section>
  <Opening v-if="held.length" label="The maker's word, for heavy and dual tires" class="mt-2">
    <p class="max-w-2xl text-sm text-soft">
      Without it they go no lower than table and placard ask on the road. Enter what the tire's or vehicle's maker
      allows, and where that stands.
    </p>
    <EntryForm
      v-for="a in held"
      :key="key(a)"
      :refused="fields"
      class="mt-2 flex flex-wrap items-start gap-3"
      @submit="save(a, a.role)"
    >
      <QuantityField
        v-model="of(a).least_kpa"
        class="w-48"
        :label="`${a.rig_name}, ${a.name.toLowerCase()}: no less than`"
        kind="pressure"
        name="least_kpa"
      />
      <TextField v-model="of(a).words" class="min-w-56 flex-1" label="Where it stands" name="words" />
      <button v-if="may('rigs')" class="button mt-6" :disabled="busy">Keep it</button>
      <span v-if="a.least_kpa !== null" class="mt-8 text-sm text-soft"
        >on record: {{ show('pressure', a.least_kpa) }}</span
      >
    </EntryForm>
  </Opening>
</template>
