<script setup lang="ts">
/** What the labels and sidewalls of a rig say, and who changed what of it. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useSession } from '@/shared/session'
import { answer, api } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import OutOfDate from './OutOfDate.vue'
import Assigned from '@/assignments/Assigned.vue'
import Opening from '@/shared/Opening.vue'
import Pictures from '@/shared/Pictures.vue'
import { say, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import Refusal from '@/shared/Refusal.vue'
import Combination from './Combination.vue'
import { useFrame } from './frame'
import LaidUp from './LaidUp.vue'
import TakeOutOfService from './TakeOutOfService.vue'
import Fittings from './Fittings.vue'
import { refreshRig } from './queries'

const { id, sheet } = useFrame()
const { may } = useSession()
const router = useRouter()
const rig = computed(() => sheet.value.rig)
const opened = ref(false)
const history = useQuery({
  queryKey: ['rig', id, 'history'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/history', { params: { path: { rig_id: id.value } } })),
  enabled: opened,
})
const known = (kind: 'mass' | 'pressure' | 'length', value: number | null) =>
  value === null ? 'not known' : show(kind, value)
const next = computed(() => sheet.value.stages.find((s) => s.state === 'todo' || s.state === 'attention'))

const { save: archive, message } = useSave(async () => {
  const path = { rig_id: id.value }
  if (rig.value.archived) await answer(api.POST('/api/v1/rigs/{rig_id}/restore', { params: { path } }))
  else await answer(api.DELETE('/api/v1/rigs/{rig_id}', { params: { path } }))
  await refreshRig(id.value)
  if (!rig.value.archived) await router.push('/')
})
const MOUNT: Record<number, string> = { 1: 'one wheel', 2: 'singles', 4: 'duals' }
</script>

<template>
  <div class="flex flex-wrap items-start justify-between gap-4">
    <div>
      <h1>{{ rig.fleet_number }} {{ rig.name }}</h1>
      <p class="text-soft">
        {{ rig.kind_name }}, GVWR {{ known('mass', rig.gvwr_kg)
        }}<template v-if="rig.gcwr_kg">, GCWR {{ show('mass', rig.gcwr_kg) }}</template
        ><template v-if="rig.hitch_max_kg"
          >, {{ rig.trailer ? 'coupling' : 'hitch' }} {{ show('mass', rig.hitch_max_kg) }}</template
        ><template v-if="rig.cargo_kg">, cargo {{ show('mass', rig.cargo_kg) }}</template
        ><template v-if="rig.wheelbase_m">, wheelbase {{ show('length', rig.wheelbase_m) }}</template>
      </p>
      <p v-if="rig.note" class="mt-1">{{ rig.note }}</p>
    </div>
    <div class="flex flex-wrap gap-3">
      <RouterLink v-if="may('rigs')" :to="{ name: 'rig-new', query: { like: id } }" class="button">Copy</RouterLink>
      <RouterLink v-if="may('rigs')" :to="{ name: 'rig-edit', params: { id } }" class="button">Change</RouterLink>
      <RouterLink v-if="next && next.key !== 'rig'" :to="{ name: next.key, params: { id } }" class="button button-next"
        >{{ next.name }}: {{ say(next.words) }}</RouterLink
      >
    </div>
  </div>

  <Banner v-if="rig.archived" class="mt-5">
    Archived: out of the Yard, its rounds stay readable.
    <button v-if="may('rigs')" type="button" class="link" @click="archive()">Bring it back</button>
  </Banner>

  <Assigned :rig="id" class="mt-3" />
  <OutOfDate class="mt-5" />
  <Pictures
    class="mt-4"
    :rig="id"
    :rig-name="rig.name"
    :of="{ what: 'label' }"
    label="Picture of the label"
    :may-take="may('rounds')"
  />

  <section v-for="(a, i) in rig.axles" :key="a.number" class="mt-6 border-t border-hairline pt-4">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>
        {{ a.name }}
        <span class="font-normal text-soft">{{
          [MOUNT[a.wheels], a.group === 'single axle' ? '' : a.group, a.lift ? 'lifts' : ''].filter(Boolean).join(', ')
        }}</span>
      </h2>
      <p class="text-xl font-bold">{{ a.tire_size || 'Size not known' }}</p>
    </div>
    <dl class="mt-2 grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
      <div>
        <dt class="text-sm text-soft">GAWR</dt>
        <dd>{{ known('mass', a.gawr_kg) }}</dd>
      </div>
      <div>
        <dt class="text-sm text-soft">One tire carries at most</dt>
        <dd>{{ known('mass', a.tire_max_kg) }}</dd>
      </div>
      <div>
        <dt class="text-sm text-soft">Sidewall maximum, a ceiling</dt>
        <dd>
          {{ a.sidewall_max_kpa === null ? 'not known' : show('pressure', a.sidewall_max_kpa, 'down') }}
        </dd>
      </div>
      <div>
        <dt class="text-sm text-soft">Placard</dt>
        <dd>
          {{ known('pressure', a.placard_kpa)
          }}<template v-if="a.placard_light_kpa !== null"
            >, light load {{ show('pressure', a.placard_light_kpa) }}</template
          >
        </dd>
      </div>
      <div>
        <dt class="text-sm text-soft">Wheel is rated for</dt>
        <dd>
          {{ known('pressure', a.wheel_max_kpa)
          }}<template v-if="a.wheel_max_load_kg !== null">, {{ show('mass', a.wheel_max_load_kg) }}</template>
        </dd>
      </div>
      <div>
        <dt class="text-sm text-soft">Track</dt>
        <dd>{{ known('length', a.track_m) }}</dd>
      </div>
      <div v-if="a.number > 1">
        <dt class="text-sm text-soft">Behind the first axle</dt>
        <dd>{{ known('length', a.position_m) }}</dd>
      </div>
      <div v-if="a.tire_make">
        <dt class="text-sm text-soft">Tires</dt>
        <dd>
          {{ a.tire_make }}<template v-if="a.load_range">, load range {{ a.load_range }}</template>
        </dd>
      </div>
    </dl>
    <p class="mt-2 text-sm text-soft">{{ a.sidewall_words }}</p>
    <Pictures class="mt-2" :rig="id" :rig-name="rig.name" :of="{ what: 'sidewall', place: `axles.${i}` }" />
    <ul>
      <li
        v-for="c in rig.cautions.filter((c) => c.field.startsWith(`axles.${i}.`))"
        :key="c.field"
        class="mt-2 text-sm text-rust"
      >
        {{ say(c.words) }}
      </li>
    </ul>
  </section>
  <section v-for="s in rig.spares" :key="`s${s.number}`" class="mt-6 border-t border-hairline pt-4">
    <div class="flex flex-wrap items-baseline justify-between gap-x-6">
      <h2>
        Spare
        <span class="font-normal text-soft"
          >a tire too:
          {{
            s.required_kpa === null ? 'its pressure is not known' : `needs ${show('pressure', s.required_kpa, 'up')}`
          }}</span
        >
      </h2>
      <p class="text-xl font-bold">{{ s.tire_size }}</p>
    </div>
  </section>

  <Fittings />
  <Combination />
  <section v-if="may('rigs') && !rig.archived" class="mt-8 border-t border-hairline pt-3">
    <h2 class="mb-1">Laid up</h2>
    <LaidUp />
    <TakeOutOfService class="mt-3" />
  </section>

  <section class="mt-8 border-t border-hairline pt-3">
    <div class="flex flex-wrap items-start justify-between gap-4">
      <Opening label="Who changed what" @click="opened = true">
        <table v-if="history.data.value" class="plain">
          <thead>
            <tr>
              <th>When</th>
              <th>Who</th>
              <th>What</th>
              <th>Before</th>
              <th>After</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(h, i) in history.data.value" :key="i">
              <td class="whitespace-nowrap">
                {{ new Date(h.at).toLocaleString('en-US', { dateStyle: 'medium', timeStyle: 'short' }) }}
              </td>
              <td>{{ h.who }}</td>
              <td>{{ h.what }}</td>
              <td class="text-soft">{{ h.before }}</td>
              <td>{{ h.after }}</td>
            </tr>
          </tbody>
        </table>
      </Opening>
      <button v-if="may('rigs') && !rig.archived" type="button" class="link text-sm" @click="archive()">
        Archive this rig
      </button>
    </div>
    <Refusal :message="message" />
  </section>
</template>
