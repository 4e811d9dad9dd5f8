<script setup lang="ts">
/** Numbers out of a file of one's own: columns chosen, looked at, then brought in whole or not at all. */
import { computed } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import BringIn from '@/shared/BringIn.vue'
import FileColumns from '@/shared/FileColumns.vue'
import FileField from '@/shared/FileField.vue'
import { queries } from '@/shared/session'
import { moment, show } from '@/shared/units'
import { useColumns } from '@/shared/useColumns'

const props = defineProps<{ rig: number }>()
const emit = defineEmits<{ done: [uuid: string] }>()
const { sheet } = useFrame()
const wheels = computed(() => sheet.value.rig.wheels.map((w) => ({ key: w.code, name: w.name })))
const nameOf = (code: string) => sheet.value.rig.wheels.find((w) => w.code === code)?.name ?? code
const path = (uuid: string) => ({ params: { path: { rig_id: props.rig, uuid } } })
const { file, look, chosen, met, lines, choose, unread, again, way, save, halt } = useColumns({
  look: (head, how) => answer(api.POST('/api/v1/work/numbers', { body: { rig: props.rig, head, chosen: how } })),
  begin: (uuid, body) => answer(api.PUT('/api/v1/rigs/{rig_id}/numbers/{uuid}', { ...path(uuid), body })),
  slice: (uuid, number, body) =>
    answer(
      api.PUT('/api/v1/rigs/{rig_id}/numbers/{uuid}/slices/{number}', {
        params: { path: { rig_id: props.rig, uuid, number } },
        body,
      }),
    ),
  finish: (uuid) => answer(api.POST('/api/v1/rigs/{rig_id}/numbers/{uuid}/finish', path(uuid))),
  cancel: (uuid) => answer(api.DELETE('/api/v1/rigs/{rig_id}/numbers/{uuid}', path(uuid))),
  done: async (done) => {
    await queries.invalidateQueries({ queryKey: ['rig', props.rig, 'drives'] })
    await refreshRig(props.rig)
    emit('done', done.uuid)
  },
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
      <FileColumns v-model="chosen" :look="look" :wheels="wheels" :met="met" :refused="again.message.value" />
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
      <BringIn v-bind="way" @take="save()" @halt="halt()" />
    </template>
  </section>
</template>
