<script setup lang="ts">
/** Every ticket of a rig: what it weighed, how, by whom; amended ones stay readable. */
import { useQuery } from '@tanstack/vue-query'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import { useSession } from '@/shared/session'
import Pictures from '@/shared/Pictures.vue'
import { show, spokenDay } from '@/shared/units'

const emit = defineEmits<{ amend: [weighing: Schemas['WeighingOut']] }>()
const { id, sheet } = useFrame()
const { may } = useSession()
const weighings = useQuery({
  queryKey: ['rig', id, 'weighings'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/weighings', { params: { path: { rig_id: id.value } } })),
})
const HOW: Record<string, string> = {
  ticket: 'axles and ends',
  passes: 'cumulative passes',
  axles: 'axle by axle',
  left: 'left wheels',
  pads: 'every end',
  'worked out': 'worked out, not weighed',
}
</script>

<template>
  <section v-if="weighings.data.value?.length">
    <h2>Tickets</h2>
    <div v-scrolls class="relative overflow-x-auto">
      <table class="plain mt-1">
        <thead>
          <tr>
            <th>Weighed</th>
            <th>Load state</th>
            <th>Scale and way</th>
            <th class="figure">Gross</th>
            <th>Who</th>
            <th><span class="sr-only">Files, amend</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="w in weighings.data.value" :key="w.id" :class="{ 'text-soft line-through': w.amended }">
            <td class="whitespace-nowrap">{{ spokenDay(w.weighed_on) }}</td>
            <td>{{ w.load_state }}</td>
            <td>
              {{ w.scale }}<span v-if="w.made_up" class="stamp ml-2">made up</span>
              <span class="block text-sm text-soft"
                >{{ HOW[w.way] }}<template v-if="w.hitched">, {{ w.hitched }}</template
                ><template v-if="w.bars">, bars {{ w.bars }}</template
                ><template v-if="w.odometer_km !== null">, at {{ show('distance', w.odometer_km) }}</template
                ><template v-if="w.note">. {{ w.note }}</template></span
              >
            </td>
            <td class="figure whitespace-nowrap">
              {{ w.loads.total_kg === null ? 'unknown' : show('mass', w.loads.total_kg) }}
            </td>
            <td>{{ w.by }}</td>
            <td class="text-right text-sm whitespace-nowrap">
              <a :href="`/api/v1/rigs/${id}/weighings/${w.id}/ticket.json`" download>JSON</a>
              <a :href="`/api/v1/rigs/${id}/weighings/${w.id}/ticket.csv`" download class="ml-3">CSV</a>
              <button
                v-if="may('weigh') && !w.amended && w.way !== 'worked out' && !w.part_of"
                type="button"
                class="link ml-3"
                @click="emit('amend', w)"
              >
                Amend
              </button>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <Pictures class="mt-3" :rig="id" :rig-name="sheet.rig.name" :of="{ what: 'ticket' }" />
  </section>
</template>
