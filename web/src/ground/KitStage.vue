<script setup lang="ts">
/** What rides with a rig, what it lacks for a plan, a trip or a round, and the valves of its wheels. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import { useKit } from '@/shared/kit'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { say } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import GroundPages from './GroundPages.vue'
import ValveTable from './ValveTable.vue'

const { id } = useFrame()
const { may } = useSession()
const kit = useKit(id)
type Kind = Schemas['KitItemIn']['kind']
const kinds = computed(() =>
  Object.entries(kit.data.value?.kinds ?? {}).map(([key, name]) => ({ key: key as Kind, name })),
)
const gauges = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const inflators = useQuery({ queryKey: ['inflators'], queryFn: () => answer(api.GET('/api/v1/inflators')) })
const sets = useQuery({ queryKey: ['deflators'], queryFn: () => answer(api.GET('/api/v1/deflators')) })
const of: Record<string, () => { id: number; label: string }[]> = {
  gauge: () => gauges.data.value ?? [],
  inflator: () => inflators.data.value ?? [],
  deflators: () => sets.data.value ?? [],
}
type Named = 'gauge' | 'inflator' | 'deflators'
const named = (kind: string): kind is Named => kind in of
const choices = (kind: Named) => of[kind]!().map((g) => ({ key: g.id as number | null, name: g.label }))
interface Item {
  kind: Kind
  label: string
  count: string
  gauge: number | null
  inflator: number | null
  deflators: number | null
  charged_on: string
  replace_by: string
  fuse_a: string
}
const items = ref<Item[]>([])
watch(
  kit.data,
  (now) => {
    items.value = (now?.items ?? []).map((i) => ({
      ...i,
      count: String(i.count),
      charged_on: i.charged_on ?? '',
      replace_by: i.replace_by ?? '',
      fuse_a: i.fuse_a === null ? '' : String(i.fuse_a),
    }))
  },
  { immediate: true },
)
const add = (kind: Item['kind']) =>
  items.value.push({
    kind,
    label: '',
    count: '1',
    gauge: null,
    inflator: null,
    deflators: null,
    charged_on: '',
    replace_by: '',
    fuse_a: '',
  })
const { save, busy, fields, message, newer } = useSave(async () => {
  const body = {
    version: newer.value || (kit.data.value?.version ?? ''),
    items: items.value.map((i) => ({
      ...i,
      charged_on: i.charged_on || null,
      replace_by: i.replace_by || null,
      fuse_a: i.fuse_a || null,
    })),
  } as unknown as Schemas['KitIn']
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/kit', { params: { path: { rig_id: id.value } }, body }))
  queries.setQueryData(['rig', id.value, 'kit'], now)
  await queries.invalidateQueries({ queryKey: ['rig', id.value, 'ground'] })
})
/** What is lacking, each once. */
const lacks = computed(() => {
  const of = kit.data.value?.lacks
  return of ? [...new Set([...of.plan, ...of.trip, ...of.round].map(say))] : []
})
</script>

<template>
  <GroundPages />
  <h1>What rides with it</h1>
  <ul v-if="kit.data.value" class="mt-2 max-w-3xl">
    <li v-for="words in lacks" :key="words" class="border-t border-hairline py-1">{{ words }}</li>
  </ul>
  <EntryForm :refused="fields" class="mt-4 max-w-4xl" @submit="save()">
    <fieldset :disabled="!may('gauges')" class="min-w-0">
      <div
        v-for="(item, i) in items"
        :key="i"
        class="grid grid-cols-2 items-start gap-3 border-t border-hairline py-2.5 lg:grid-cols-[9rem_minmax(0,1fr)_5rem_9rem_9rem_7rem_auto]"
      >
        <ChoiceField v-model="item.kind" label="What" :choices="kinds" :name="`items.${i}.kind`" />
        <ChoiceField
          v-if="named(item.kind)"
          v-model="item[item.kind]"
          label="Which"
          :choices="choices(item.kind)"
          :name="`items.${i}.${item.kind}`"
        />
        <TextField v-else v-model="item.label" label="Name" :name="`items.${i}.label`" />
        <TextField v-model="item.count" label="How many" inputmode="numeric" :name="`items.${i}.count`" />
        <TextField v-model="item.charged_on" label="Charged on" type="date" :name="`items.${i}.charged_on`" />
        <TextField v-model="item.replace_by" label="Battery until" type="date" :name="`items.${i}.replace_by`" />
        <TextField
          v-if="item.kind === 'inflator'"
          v-model="item.fuse_a"
          label="Fuse it is behind, A"
          inputmode="decimal"
          :name="`items.${i}.fuse_a`"
        />
        <span v-else class="max-lg:hidden" />
        <button type="button" class="link mt-8 text-left" @click="items.splice(i, 1)">Take out</button>
      </div>
      <p v-if="kit.data.value && !items.length" class="text-soft">
        Nothing is written down yet. Press what rides along.
      </p>
      <div v-if="may('gauges')" class="mt-3 flex flex-wrap gap-1.5">
        <button v-for="k in kinds" :key="k.key" type="button" class="press chip min-h-11 px-3" @click="add(k.key)">
          {{ k.name }}
        </button>
      </div>
      <button v-if="may('gauges')" class="button button-next mt-4" :disabled="busy">Keep the kit</button>
      <Refusal :message="Object.keys(fields).length ? '' : message" />
    </fieldset>
  </EntryForm>
  <ValveTable class="mt-8" />
</template>
