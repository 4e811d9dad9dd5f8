<script setup lang="ts">
/** Numbers out of a file of one's own: columns chosen, looked at, then brought in whole or not at all. */
import { computed, ref, watch } from 'vue'
import { v4 as newUuid } from 'uuid'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import FileField from '@/shared/FileField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { moment, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'

type Look = Schemas['NumbersLook']
/** So much of a file is looked at, and so many lines go at once. */
const HEAD = 40_000
const LINES = 5_000
const props = defineProps<{ rig: number }>()
const emit = defineEmits<{ done: [uuid: string] }>()
const { sheet } = useFrame()
const file = ref<{ name: string; text: string } | null>(null)
const look = ref<Look | null>(null)
const chosen = ref({
  columns: [] as { means: Look['columns'][number]['means']; wheel: string }[],
  order: 'ymd' as Schemas['ColumnsIn']['order'],
  zone: '',
  pressure_unit: 'psi' as Schemas['ColumnsIn']['pressure_unit'],
  temperature_unit: '°F' as Schemas['ColumnsIn']['temperature_unit'],
  names: {} as Record<string, string>,
})
const sent = ref(0)
/** Names of wheels that were met further on in the file. */
const met = ref<string[]>([])
const lines = computed(() => (file.value ? file.value.text.split(/\r?\n/).slice(1) : []))
const wheels = computed(() => sheet.value.rig.wheels.map((w) => ({ key: w.code, name: w.name })))
const means = computed(() =>
  Object.entries(look.value?.meanings ?? {}).map(([key, name]) => ({
    key: key as Look['columns'][number]['means'],
    name,
  })),
)
const orders = computed(() =>
  Object.entries(look.value?.orders ?? {}).map(([key, name]) => ({ key: key as 'ymd', name })),
)
const named = computed(() => chosen.value.columns.some((c) => c.means === 'wheel'))
/** What the file calls wheels: those that are none of the rig's, and those that were said already. */
const calls = computed(() =>
  [...new Set([...Object.keys(chosen.value.names), ...(look.value?.strange ?? []), ...met.value])].sort(),
)
const nameOf = (code: string) => sheet.value.rig.wheels.find((w) => w.code === code)?.name ?? code

async function choose(picked: File) {
  file.value = { name: picked.name.slice(0, 80), text: await picked.text() }
  look.value = null
  met.value = []
  await guess()
}
const { save: guess, message: unread } = useSave(async () => {
  look.value = await see(null)
  chosen.value = {
    ...chosen.value,
    columns: look.value.columns.map((c) => ({ means: c.means ?? '', wheel: c.wheel ?? '' })),
    zone: look.value.zone,
    names: {},
  }
})
const see = (how: Schemas['ColumnsIn'] | null) =>
  answer(
    api.POST('/api/v1/work/numbers', { body: { rig: props.rig, head: file.value!.text.slice(0, HEAD), chosen: how } }),
  )
const looked = computed(() => look.value !== null && file.value !== null)
/** Looked at anew with what is chosen by now: the answer to a choice of before does not stay. */
const again = useWork(
  computed(() => (looked.value ? { ...chosen.value } : null)),
  (how) => see(how),
)
watch(again.answer, (now) => now && (look.value = now))

let stop = false
const { save, busy, message } = useSave(async () => {
  stop = false
  sent.value = 0
  const path = { rig_id: props.rig, uuid: newUuid() }
  const begun = { ...chosen.value, name: file.value!.name, delimiter: look.value!.delimiter as ',' }
  await answer(api.PUT('/api/v1/rigs/{rig_id}/numbers/{uuid}', { params: { path }, body: begun }))
  for (let i = 0, number = 1; i < lines.value.length; i += LINES, number++) {
    if (stop) {
      await answer(api.DELETE('/api/v1/rigs/{rig_id}/numbers/{uuid}', { params: { path } }))
      return
    }
    const body = { first: i + 2, text: lines.value.slice(i, i + LINES).join('\n') + '\n' }
    const slice = { ...path, number }
    const taken = await answer(
      api.PUT('/api/v1/rigs/{rig_id}/numbers/{uuid}/slices/{number}', { params: { path: slice }, body }),
    )
    if (taken.faults.length) {
      // Nothing of it is brought in: what is wrong is shown, to be chosen otherwise or mended in the file.
      look.value = { ...look.value!, faults: taken.faults }
      met.value = [...met.value, ...taken.strange]
      await answer(api.DELETE('/api/v1/rigs/{rig_id}/numbers/{uuid}', { params: { path } }))
      return
    }
    sent.value = Math.min(i + LINES, lines.value.length)
  }
  const done = await answer(api.POST('/api/v1/rigs/{rig_id}/numbers/{uuid}/finish', { params: { path } }))
  file.value = look.value = null
  await queries.invalidateQueries({ queryKey: ['rig', props.rig, 'drives'] })
  await refreshRig(props.rig)
  emit('done', done.uuid)
})
</script>

<template>
  <section>
    <h2>Numbers out of a file</h2>
    <p class="text-soft">
      A CSV of a display or an app, up to 100,000 rows: say what its columns mean. It counts whole or not at all.
    </p>
    <FileField
      class="mt-2"
      whole
      label="CSV file with a heading"
      accept=".csv,.txt,text/csv"
      :message="unread"
      @picked="choose($event)"
    />
    <template v-if="look && file">
      <p class="mt-2 font-medium">{{ file.name }}, {{ lines.filter(Boolean).length.toLocaleString('en-US') }} rows</p>
      <div class="mt-2 grid grid-cols-2 items-start gap-4 sm:grid-cols-4">
        <ChoiceField v-model="chosen.order" label="Dates are written" :choices="orders" />
        <TextField v-model="chosen.zone" label="Time zone" />
        <ChoiceField
          v-model="chosen.pressure_unit"
          label="Pressures in"
          :choices="(['psi', 'kPa', 'bar'] as const).map((key) => ({ key, name: key }))"
        />
        <ChoiceField
          v-model="chosen.temperature_unit"
          label="Temperatures in"
          :choices="(['°F', '°C'] as const).map((key) => ({ key, name: key }))"
        />
      </div>
      <h3 class="mt-4">What its columns mean</h3>
      <ol class="mt-1 grid grid-cols-2 items-start gap-4 sm:grid-cols-4">
        <li v-for="(head, i) in look.heads" :key="i" class="min-w-0">
          <ChoiceField v-model="chosen.columns[i]!.means" :label="head || `Column ${i + 1}`" :choices="means" />
          <ChoiceField
            v-if="!named && ['pressure', 'temperature'].includes(chosen.columns[i]!.means)"
            v-model="chosen.columns[i]!.wheel"
            class="mt-1"
            :label="`${head}: of`"
            :choices="[{ key: '', name: 'Which wheel?' }, ...wheels]"
          />
          <span class="block truncate text-sm text-soft">{{ look.samples[i]?.filter(Boolean).join(', ') }}</span>
        </li>
      </ol>
      <div v-if="calls.length" class="mt-3">
        <h3>What it calls the wheels</h3>
        <div class="mt-1 grid grid-cols-2 gap-3 sm:grid-cols-4">
          <ChoiceField
            v-for="s in calls"
            :key="s"
            :model-value="chosen.names[s] ?? '?'"
            :label="s"
            :choices="[{ key: '?', name: 'Which wheel?' }, { key: '', name: 'Left out' }, ...wheels]"
            @update:model-value="$event === '?' || (chosen.names = { ...chosen.names, [s]: $event })"
          />
        </div>
      </div>
      <Refusal :message="look.refusal || again.message.value" />
      <ul v-if="look.faults.length" class="mt-2">
        <li v-for="f in look.faults" :key="f.row" class="text-rust">Row {{ f.row }}: {{ f.words }}</li>
      </ul>
      <table v-if="look.rows.length" class="mt-3">
        <caption class="text-left font-medium">
          The first rows, as they would be read
        </caption>
        <tbody>
          <tr v-for="(r, i) in look.rows" :key="i" class="border-t border-hairline">
            <td class="pr-6">{{ moment(r.at) }}</td>
            <td class="pr-6">{{ nameOf(r.wheel) }}</td>
            <td class="pr-6 text-right font-bold">{{ r.kpa === null ? '?' : show('pressure', r.kpa) }}</td>
            <td class="text-right">{{ r.tire_c === null ? '' : show('temperature', r.tire_c) }}</td>
          </tr>
        </tbody>
      </table>
      <div class="mt-3 flex flex-wrap items-center gap-4">
        <button
          type="button"
          class="button button-next"
          :disabled="busy || again.stale.value || !!look.refusal || !!look.faults.length"
          @click="save()"
        >
          Bring them in
        </button>
        <template v-if="busy">
          <progress :value="sent" :max="lines.length" aria-label="Rows brought in" />
          <span>{{ sent.toLocaleString('en-US') }} of {{ lines.length.toLocaleString('en-US') }}</span>
          <button type="button" class="link" @click="stop = true">Stop</button>
        </template>
      </div>
      <Refusal :message="message" />
    </template>
  </section>
</template>
