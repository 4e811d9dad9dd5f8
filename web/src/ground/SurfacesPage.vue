<script setup lang="ts">
/** The surfaces of the workspace, hardest first: shares of the road target by role, floors, the speed that belongs to each. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { pairs, queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { system, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'

type Role = keyof Schemas['ByRoleOut']
interface Row {
  key: string
  name: string
  shares: Record<Role, string>
  floors_kpa: Record<Role, Entry>
  speed_kmh: Entry
  recovery: boolean
  pattern: Schemas['SurfaceOut']['pattern']
}
const { may, session } = useSession()
const roles = computed(() => pairs<Role>(session.value?.ground_roles))
const patterns = computed(() => pairs<Row['pattern']>(session.value?.patterns))
const { data } = useQuery({ queryKey: ['surfaces'], queryFn: () => answer(api.GET('/api/v1/surfaces')) })
const rows = ref<Row[]>([])
const percent = (share: number) => String(Math.round(share * 1000) / 10)
const typed = (s: Schemas['SurfaceOut']): Row => ({
  ...s,
  shares: { steered: percent(s.shares.steered), driven: percent(s.shares.driven), trailer: percent(s.shares.trailer) },
  floors_kpa: { ...s.floors_kpa },
})
watch(
  [data, system],
  () => {
    if (data.value) rows.value = data.value.surfaces.map(typed)
  },
  { immediate: true },
)
function add() {
  const last = rows.value.at(-1)!
  rows.value.push({ ...JSON.parse(JSON.stringify(last)), key: '', name: '', recovery: false } as Row)
}
const share = (text: string) => Number(text.replace('%', '').replace(',', '.').trim()) / 100
const { save, busy, fields, message, newer } = useSave(async (all: Row[]) => {
  const surfaces = all.map((r) => ({
    key: r.key, name: r.name, speed_kmh: r.speed_kmh, recovery: r.recovery, pattern: r.pattern, floors_kpa: r.floors_kpa,
    shares: { steered: share(r.shares.steered), driven: share(r.shares.driven), trailer: share(r.shares.trailer) },
  })) as Schemas['SurfaceIn'][] // prettier-ignore
  const body = { surfaces, version: newer.value || (data.value?.version ?? '') }
  queries.setQueryData(['surfaces'], await answer(api.PUT('/api/v1/surfaces', { body })))
  await queries.invalidateQueries({ queryKey: ['rig'] })
})
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <h1>Surfaces</h1>
    <p v-if="data" class="max-w-3xl text-soft">{{ data.practice }}</p>
    <EntryForm v-if="data" :refused="fields" class="mt-4" @submit="save(rows)">
      <fieldset :disabled="!may('targets')" class="min-w-0">
        <section
          v-for="(r, i) in rows"
          :key="i"
          class="border-t border-hairline py-4"
          :aria-label="r.name || 'A new surface'"
        >
          <div class="grid items-start gap-3 sm:grid-cols-[minmax(0,1fr)_9rem_12rem_auto]">
            <TextField v-model="r.name" label="Surface" :name="`surfaces.${i}.name`" />
            <QuantityField
              v-if="i"
              v-model="r.speed_kmh"
              label="At most"
              kind="speed"
              :name="`surfaces.${i}.speed_kmh`"
            />
            <span v-else class="mt-8 text-soft">its own speed</span>
            <ChoiceField v-model="r.pattern" label="Drawn" :choices="patterns" />
            <label class="mt-7 flex min-h-10 items-center gap-2"
              ><input v-model="r.recovery" type="checkbox" class="size-5 accent-teal" /> Recovery</label
            >
          </div>
          <div v-if="i" class="mt-2 grid gap-3 sm:grid-cols-3">
            <div v-for="role in roles" :key="role.key" class="grid grid-cols-2 gap-2">
              <TextField
                v-model="r.shares[role.key]"
                :label="`${role.name}, % of road`"
                inputmode="decimal"
                :name="`surfaces.${i}.shares.${role.key}`"
              />
              <QuantityField
                v-model="r.floors_kpa[role.key]"
                label="not below"
                kind="pressure"
                :name="`surfaces.${i}.floors_kpa.${role.key}`"
              />
            </div>
          </div>
          <button v-if="i && may('targets')" type="button" class="link mt-1 text-sm" @click="rows.splice(i, 1)">
            Take {{ r.name || 'it' }} away
          </button>
        </section>
        <div v-if="may('targets')" class="flex flex-wrap items-center gap-x-5 gap-y-2 border-t border-hairline pt-4">
          <button class="button button-next" :disabled="busy">Keep the surfaces</button>
          <button type="button" class="button" @click="add">Add a softer one</button>
          <button v-if="!data.shipped" type="button" class="link" @click="save([])">Back to those that ship</button>
          <span v-else class="text-soft">As they ship: cautious, and no standard.</span>
        </div>
        <Refusal :message="Object.keys(fields).length ? '' : message" />
      </fieldset>
    </EntryForm>
  </main>
</template>
