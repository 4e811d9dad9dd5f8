<script setup lang="ts">
/** One tire through its life: its tread and forecast, where it was, what was done to it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, toRef } from 'vue'
import { answer, api, missing, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import EntryForm from '@/shared/EntryForm.vue'
import Awaited from '@/shared/Awaited.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { pairs, queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { depthShown, rateShown, say, show, spokenDay, today, type Entry } from '@/shared/units'
import { useOnce, useSave } from '@/shared/useSave'
import TireMarks from './TireMarks.vue'
import TreadChart from './TreadChart.vue'

const props = defineProps<{ tire: number }>()
const id = toRef(props, 'tire')
const { may, session } = useSession()
const { data, error, refetch } = useQuery({
  queryKey: ['tire', id],
  queryFn: () => answer(api.GET('/api/v1/tires/{tire_id}', { params: { path: { tire_id: id.value } } })),
})
const where = computed(() => {
  const row = data.value!.row
  if (row.rig !== null) return `${row.rig_name} · ${row.wheel}`
  return row.retired_on ? `retired ${spokenDay(row.retired_on)}: ${row.retired_reason}` : 'in the store'
})
const marks = computed(() => {
  const now = data.value!
  const { casing, date_code } = now.row
  return { tire: id.value, date_code, casing, sensor: now.sensor, one_way: now.one_way, coarse: now.coarse }
})
const KINDS = computed(() => pairs<Schemas['EventIn']['kind']>(session.value?.tire_events))
const form = reactive({
  kind: 'plug' as Schemas['EventIn']['kind'],
  done_on: today(),
  odometer: null as Entry,
  tread: '',
  words: '',
})
const once = useOnce()
async function taken(now: Schemas['TireOut']) {
  queries.setQueryData(['tire', id.value], now)
  await Promise.all(['tires', 'rig'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
}
const add = useSave(async () => {
  const path = { tire_id: id.value }
  await taken(
    await answer(
      api.POST('/api/v1/tires/{tire_id}/events', {
        params: { path },
        body: { uuid: once.idOf([id.value, form]), ...form, tread: form.tread || null },
      }),
    ),
  )
  once.stored()
  Object.assign(form, { odometer: null, tread: '', words: '' })
})
const back = useSave(async (uuid: string) => {
  const path = { tire_id: id.value, uuid }
  await taken(await answer(api.DELETE('/api/v1/tires/{tire_id}/events/{uuid}', { params: { path } })))
})
</script>

<template>
  <Awaited v-if="!data || missing(error)" what="The tire" :error="error" @again="refetch()" />
  <main v-else id="stage" class="mx-auto max-w-4xl px-4 py-6 lg:px-7">
    <p class="mb-2"><RouterLink :to="{ name: 'tires' }">All tires</RouterLink></p>
    <h1>{{ data.row.size }} {{ data.row.make }}</h1>
    <p class="text-lg">
      <RouterLink v-if="data.row.rig !== null" :to="{ name: 'wear', params: { id: data.row.rig } }">{{
        where
      }}</RouterLink>
      <template v-else>{{ where }}</template>
      <span v-if="data.row.casing" class="text-soft"> · {{ data.row.casing }}</span>
    </p>
    <dl class="mt-3 flex flex-wrap gap-x-10 gap-y-3">
      <div>
        <dt class="text-sm text-soft">Least tread</dt>
        <dd class="text-4xl font-bold" :class="{ 'text-rust': data.wear.at_limit }">
          {{ data.wear.least_mm === null ? 'not measured' : depthShown(data.wear.least_mm) }}
        </dd>
      </div>
      <div v-if="data.wear.fastest_mm !== null">
        <dt class="text-sm text-soft">Loses</dt>
        <dd class="text-xl font-semibold">{{ rateShown(data.wear.fastest_mm) }}</dd>
      </div>
      <div>
        <dt class="text-sm text-soft">Age</dt>
        <dd class="text-xl font-semibold" :class="{ 'text-rust': data.row.old }">{{ data.row.age || 'not known' }}</dd>
      </div>
    </dl>
    <p v-if="data.wear.points.length" class="mt-2" :class="{ 'font-semibold text-rust': data.wear.at_limit }">
      {{ say(data.wear.limit) }}
    </p>
    <p>{{ say(data.wear.words) }}</p>
    <p class="text-sm text-soft">{{ data.caution }}</p>
    <TreadChart v-if="data.wear.points.length > 1" class="mt-4" :wear="data.wear" label="Its tread" />

    <section class="mt-6 border-t border-hairline pt-4">
      <h2>Where it has been</h2>
      <ol>
        <li v-for="(h, i) in data.fittings" :key="i" class="border-t border-hairline py-1.5">
          {{ h.rig_name }} {{ h.wheel }}, {{ spokenDay(h.fitted_on) }} to
          {{ h.removed_on ? spokenDay(h.removed_on) : 'now'
          }}<template v-if="h.odometer_km !== null">, from {{ show('distance', h.odometer_km) }}</template
          ><template v-if="h.removed_reason">: {{ h.removed_reason }}</template>
          <span class="text-soft"> ({{ h.by }})</span>
        </li>
      </ol>
    </section>
    <section class="mt-6 border-t border-hairline pt-4">
      <h2>What was done to it</h2>
      <p v-if="!data.events.length" class="text-soft">Nothing is entered: no plug, patch, retread or damage.</p>
      <ul>
        <li v-for="e in data.events" :key="e.uuid" class="flex flex-wrap gap-x-4 border-t border-hairline py-1.5">
          <span
            ><b>{{ e.name }}</b
            >, {{ spokenDay(e.done_on)
            }}<template v-if="e.odometer_km !== null">, {{ show('distance', e.odometer_km) }}</template
            ><template v-if="e.tread_mm !== null">, {{ depthShown(e.tread_mm) }} deep</template
            >{{ e.words ? `: ${e.words}` : '' }} <b v-if="e.points_at">{{ e.points_at }}</b>
            <span class="text-soft">({{ e.by }})</span></span
          >
          <button v-if="e.mine && may('fit')" type="button" class="link" @click="back.save(e.uuid)">
            Take it back
          </button>
        </li>
      </ul>
      <Refusal :message="back.message.value" />
      <EntryForm
        v-if="may('fit')"
        :refused="add.fields.value"
        class="mt-3 grid max-w-3xl gap-x-5 gap-y-3 sm:grid-cols-4"
        @submit="add.save()"
      >
        <ChoiceField v-model="form.kind" class="sm:col-span-2" label="What" name="kind" :choices="KINDS" />
        <TextField v-model="form.done_on" label="On" type="date" name="done_on" />
        <QuantityField v-model="form.odometer" label="Odometer" kind="distance" name="odometer" />
        <TextField
          v-if="form.kind === 'retread'"
          v-model="form.tread"
          label="New tread"
          name="tread"
          hint="8 mm or 10/32 in"
        />
        <TextField v-model="form.words" class="sm:col-span-3" label="In a few words" name="words" maxlength="200" />
        <p class="self-end"><button class="button" :disabled="add.busy.value">Keep it</button></p>
        <Refusal :message="add.message.value && !Object.keys(add.fields.value).length ? add.message.value : ''" />
      </EntryForm>
    </section>
    <section v-if="may('fit')" class="mt-6 border-t border-hairline pt-4">
      <h2>Its marks</h2>
      <TireMarks :marks="marks" @saved="queries.invalidateQueries({ queryKey: ['tire'] })" />
    </section>
  </main>
</template>
