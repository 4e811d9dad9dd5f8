<script setup lang="ts">
/** The valve of every wheel: its stem and cap, when its core was changed, whether a hand reaches it. */
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import { KNOWN, knownOf, meant, type Known } from '@/shared/known'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { useSave } from '@/shared/useSave'

const { id } = useFrame()
const { may } = useSession()
const { data } = useQuery({
  queryKey: ['rig', id, 'valves'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/valves', { params: { path: { rig_id: id.value } } })),
})
const STEMS = [
  { key: '' as const, name: 'Not looked at' },
  { key: 'rigid' as const, name: 'Rigid' },
  { key: 'rubber' as const, name: 'Rubber' },
  { key: 'bent' as const, name: 'Bent' },
]
interface Row {
  wheel: string
  name: string
  stem: Schemas['ValveOut']['stem']
  flow_through: Known
  reachable: Known
  core_changed_on: string
  note: string
}
const rows = ref<Row[]>([])
watch(
  data,
  (now) => {
    rows.value = (now?.valves ?? []).map((v) => ({
      ...v,
      flow_through: knownOf(v.flow_through),
      reachable: knownOf(v.reachable),
      core_changed_on: v.core_changed_on ?? '',
    }))
  },
  { immediate: true },
)
const { save, busy, fields, message, newer } = useSave(async () => {
  const valves = rows.value.map((r) => ({
    wheel: r.wheel,
    stem: r.stem,
    note: r.note,
    flow_through: meant(r.flow_through),
    reachable: meant(r.reachable),
    core_changed_on: r.core_changed_on || null,
  }))
  const body = { version: newer.value || (data.value?.version ?? ''), valves } as Schemas['ValvesIn']
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/valves', { params: { path: { rig_id: id.value } }, body }))
  queries.setQueryData(['rig', id.value, 'valves'], now)
  for (const said of ['kit', 'ground']) await queries.invalidateQueries({ queryKey: ['rig', id.value, said] })
})
</script>

<template>
  <section>
    <h2 class="text-xl">Valves</h2>
    <EntryForm :refused="fields" class="max-w-4xl" @submit="save()">
      <fieldset :disabled="!may('fit')" class="min-w-0">
        <div
          v-for="(r, i) in rows"
          :key="r.wheel"
          class="grid grid-cols-2 items-start gap-3 border-t border-hairline py-2 lg:grid-cols-[9rem_8rem_8rem_8rem_9rem_minmax(0,1fr)]"
        >
          <p class="mt-8 font-semibold max-lg:col-span-2 max-lg:mt-0">
            {{ r.name }} <span class="font-normal text-soft">{{ r.wheel }}</span>
          </p>
          <ChoiceField v-model="r.stem" label="Stem" :choices="STEMS" />
          <ChoiceField v-model="r.flow_through" label="Read through its cap" :choices="KNOWN" />
          <ChoiceField v-model="r.reachable" label="In reach" :choices="KNOWN" />
          <TextField
            v-model="r.core_changed_on"
            label="Core changed"
            type="date"
            :name="`valves.${i}.core_changed_on`"
          />
          <TextField v-model="r.note" label="Note" :name="`valves.${i}.note`" />
        </div>
        <button v-if="may('fit')" class="button mt-3" :disabled="busy">Keep the valves</button>
        <Refusal :message="Object.keys(fields).length ? '' : message" />
      </fieldset>
    </EntryForm>
  </section>
</template>
