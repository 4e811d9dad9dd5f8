<script setup lang="ts">
/** Earlier readings, out of a file of one's own: of the rig that one came from, or of all. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import BringIn from '@/shared/BringIn.vue'
import FileColumns from '@/shared/FileColumns.vue'
import FileField from '@/shared/FileField.vue'
import Nowhere from '@/shared/Nowhere.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import { moment, show, showWhole, spokenDay } from '@/shared/units'
import { useColumns } from '@/shared/useColumns'
import { useSave } from '@/shared/useSave'

type Brought = Schemas['EarlierFileOut']
const route = useRoute()
const rig = computed(() => (route.query.rig ? Number(route.query.rig) : null))
const { data: of, isError } = useQuery({
  queryKey: ['rig', rig, 'named'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}', { params: { path: { rig_id: rig.value! } } })),
  enabled: computed(() => rig.value !== null),
})
const { data: there } = useQuery({
  queryKey: ['earlier'],
  queryFn: () => answer(api.GET('/api/v1/earlier')),
})
const elevation = ref('')
const done = ref<Brought | null>(null)
const path = (uuid: string) => ({ params: { path: { uuid } } })
const changed = () =>
  queries.invalidateQueries({ predicate: (q) => ['earlier', 'rig'].includes(String(q.queryKey[0])) })
const { file, look, chosen, met, lines, choose, unread, again, way, save, fields, halt } = useColumns({
  look: (head, how) => answer(api.POST('/api/v1/work/earlier', { body: { rig: rig.value, head, chosen: how } })),
  begin: (uuid, body) =>
    answer(
      api.PUT('/api/v1/earlier/{uuid}', {
        ...path(uuid),
        body: { ...body, rig: rig.value, elevation_m: elevation.value || null },
      }),
    ),
  slice: (uuid, number, body) =>
    answer(api.PUT('/api/v1/earlier/{uuid}/slices/{number}', { params: { path: { uuid, number } }, body })),
  finish: (uuid) => answer(api.POST('/api/v1/earlier/{uuid}/finish', path(uuid))),
  cancel: (uuid) => answer(api.DELETE('/api/v1/earlier/{uuid}', path(uuid))),
  done: async (now) => {
    done.value = now
    await changed()
  },
})
const wheels = computed(() => Object.entries(look.value?.wheels ?? {}).map(([key, name]) => ({ key, name })))
const needsPlace = computed(() => !chosen.value.columns.some((c) => c.means === 'elevation'))
const count = (n: number, one: string) => `${n.toLocaleString('en-US')} ${n === 1 ? one : `${one}s`}`
const cameTo = (f: Brought) =>
  `${count(f.readings, 'reading')} of ${count(f.rigs, 'rig')}` +
  (f.begins && f.ends ? `, ${spokenDay(f.begins)} to ${spokenDay(f.ends)}` : '') +
  (f.without_air ? `; ${f.without_air.toLocaleString('en-US')} without their air` : '')

/** Asked once more before it goes. */
const sure = ref('')
const { save: takeBack, message: stays } = useSave(async (uuid: string) => {
  await answer(api.DELETE('/api/v1/earlier/{uuid}', path(uuid)))
  sure.value = ''
  done.value = null
  await changed()
})
</script>

<template>
  <Nowhere v-if="isError" />
  <main v-else id="stage" class="mx-auto max-w-6xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <h1>
        Earlier readings<template v-if="of">: {{ of.name }}</template>
      </h1>
      <a v-if="there?.files.length" class="button" download :href="`/api/v1/earlier.csv${rig ? `?rig=${rig}` : ''}`"
        >CSV</a
      >
    </div>
    <p class="mt-1 max-w-3xl text-soft">
      What was written down before you came here, out of any CSV, up to 100,000 rows at a time. It stands in Look back
      as it was read, marked so: it is not corrected by a gauge, and no pressure, leak or due date is judged by it.
      <template v-if="of">All of it is taken to be of {{ of.name }}; </template
      ><template v-else>A column names the rig, by its fleet number or its name; </template>a row without its air stays
      without.
    </p>
    <p v-if="done" class="mt-3 font-bold" role="status">{{ done.name }} is in: {{ cameTo(done) }}.</p>

    <FileField
      class="mt-4 max-w-xl"
      whole
      label="CSV file with a heading"
      accept=".csv,.txt,text/csv"
      :message="unread"
      @picked="((done = null), choose($event))"
    />
    <template v-if="look && file">
      <p class="mt-2 font-medium">{{ file.name }}, {{ count(lines.filter(Boolean).length, 'row') }}</p>
      <FileColumns v-model="chosen" :look="look" :wheels="wheels" :met="met" :refused="again.message.value">
        <template #about>
          <QuantityField
            v-if="needsPlace"
            v-model="elevation"
            kind="length"
            label="All of it was read at (elevation)"
            name="elevation_m"
            :message="fields.elevation_m"
          />
        </template>
      </FileColumns>
      <div v-if="look.rows.length" v-scrolls class="mt-3 overflow-x-auto">
        <table class="plain">
          <caption class="text-left font-medium">
            The first rows, as they would be read
          </caption>
          <thead>
            <tr>
              <th>Read</th>
              <th v-if="!rig">Rig</th>
              <th>Wheel</th>
              <th class="figure">As shown</th>
              <th class="figure">Outside</th>
              <th class="figure">Elevation</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(r, i) in look.rows" :key="i">
              <td class="whitespace-nowrap">{{ moment(r.at) }}</td>
              <td v-if="!rig">{{ r.rig }}</td>
              <td>{{ look.wheels[r.wheel] ?? r.wheel }}</td>
              <td class="figure font-bold">{{ show('pressure', r.kpa) }}</td>
              <td class="figure">{{ r.outside_c === null ? 'not known' : show('temperature', r.outside_c) }}</td>
              <td class="figure">
                {{
                  r.elevation_m === null
                    ? needsPlace && elevation
                      ? 'as above'
                      : 'not known'
                    : showWhole('length', r.elevation_m)
                }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <BringIn v-bind="way" @take="save()" @halt="halt()" />
    </template>

    <section v-if="there?.files.length" class="mt-8">
      <h2>What was brought in</h2>
      <ul class="mt-1">
        <li
          v-for="f in there.files"
          :key="f.uuid"
          class="flex flex-wrap items-baseline justify-between gap-x-6 border-t border-hairline py-2"
        >
          <span class="min-w-0 wrap-anywhere">
            <b>{{ f.name }}</b>
            <span class="block">{{ cameTo(f) }}</span>
            <span class="block text-sm text-soft">{{ f.by }}, {{ moment(f.done_at) }}</span>
          </span>
          <span v-if="sure === f.uuid" class="flex items-baseline gap-4">
            <button type="button" class="button" @click="takeBack(f.uuid)">Take all of it back</button>
            <button type="button" class="link" @click="sure = ''">Keep it</button>
          </span>
          <button v-else type="button" class="link" @click="sure = f.uuid">Take it back</button>
        </li>
      </ul>
      <Refusal :message="stays" />
    </section>
  </main>
</template>
