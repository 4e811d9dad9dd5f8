<script setup lang="ts">
/** A drive, watched live or looked at later: every wheel's number and state as a receiver sends them. */
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useFrame } from '@/rigs/frame'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api } from '@/shared/api/client'
import Banner from '@/shared/Banner.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import Segments from '@/shared/Segments.vue'
import { queries, useSession } from '@/shared/session'
import { clock, moment, say, show } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useVoice } from '@/shared/voice'
import DriveChart from './DriveChart.vue'
import DriveNumbers from './DriveNumbers.vue'
import { useDrive, useDrives, useLampCarried } from './queries'
import ImportNumbers from './ImportNumbers.vue'
import Receivers from './Receivers.vue'
import SimulateForm from './SimulateForm.vue'

const { id, states, picked, caption } = useFrame()
const { may } = useSession()
const route = useRoute()
const router = useRouter()
const { data: all } = useDrives(id)
/** The drive in hand: the one asked for, else the newest. */
const uuid = computed(() => String(route.query.of ?? '') || all.value?.drives[0]?.uuid || null)
const open = (of: string) => void router.replace({ query: { of } })
const { data: drive } = useDrive(id, uuid)
// The lamp may come on where there is no network.
useLampCarried(id)

// What the plan shows are this drive's numbers, in words of the server.
watch(
  drive,
  (now) => {
    caption.value = now ? 'As its sensors say' : ''
    states.value = now
      ? Object.fromEntries(
          now.wheels.map((w) => [
            w.code,
            { floor: w.low_kpa, target: w.target_kpa, ceiling: w.high_kpa, level: w.kpa, word: w.word, words: w.short },
          ]),
        )
      : null
  },
  { immediate: true },
)
onBeforeUnmount(() => {
  states.value = null
  caption.value = ''
})

const { aloud, canSpeak, utter } = useVoice()
const told = ref<number | null>(null)
watch(
  () => drive.value && { uuid: drive.value.uuid, count: drive.value.told.length },
  (now, before) => {
    if (!now || !drive.value) return
    // What was told before somebody listened is on record, and not said again.
    const news = before?.uuid === now.uuid && told.value !== null ? now.count - told.value : 0
    told.value = now.count
    for (const t of drive.value.told.slice(0, Math.max(0, news)).reverse()) utter(say(t.words), true)
  },
)

const PACES = [1, 10, 60, 600].map((key) => ({ key, name: `${key} ×` }))
const { save: setPace, message: paceNo } = useSave(async (pace: number) => {
  const params = { path: { rig_id: id.value, uuid: uuid.value! } }
  const now = await answer(api.PUT('/api/v1/rigs/{rig_id}/drives/{uuid}/pace', { params, body: { pace } }))
  queries.setQueryData(['rig', id.value, 'drive', uuid.value], now)
})
const { save: end, message: endNo } = useSave(async () => {
  const params = { path: { rig_id: id.value, uuid: uuid.value! } }
  const now = await answer(api.POST('/api/v1/rigs/{rig_id}/drives/{uuid}/end', { params }))
  queries.setQueryData(['rig', id.value, 'drive', uuid.value], now)
  await queries.invalidateQueries({ queryKey: ['rig', id.value, 'drives'] })
})
</script>

<template>
  <TargetPages />
  <template v-if="all">
    <h1>{{ drive?.going ? 'A drive, live' : 'Drives' }}</h1>
    <p v-if="!drive" class="max-w-3xl text-soft">
      A receiver that is paired with this rig sends what its sensors say: numbers, temperatures and alarms stand here
      while it rolls, and the drive is kept.
    </p>
    <template v-else>
      <p v-if="drive.simulated" class="stamp">Simulated: of no tire, and on no record</p>
      <Banner class="mt-2 max-w-3xl" :loud="drive.loud">
        <p class="text-2xl font-bold" :class="drive.loud ? 'text-rust' : 'text-ink'">{{ say(drive.words) }}</p>
        <p class="text-sm">
          <template v-if="drive.going">Heard {{ clock(drive.heard_at) }}</template>
          <template v-else>Ended {{ moment(drive.heard_at) }}</template>
          <template v-if="drive.km_h !== null"> · {{ show('speed', drive.km_h) }}</template>
          <template v-if="drive.rolled_min"> · rolled {{ Math.round(drive.rolled_min) }} min</template>
          <template v-if="drive.air_c !== null"> · outside {{ show('temperature', drive.air_c) }}</template>
          <template v-if="drive.missing"> · {{ drive.missing }} messages have not arrived</template>
        </p>
      </Banner>
      <div class="mt-3 flex flex-wrap items-end gap-x-6 gap-y-2">
        <label v-if="canSpeak && drive.going" class="flex min-h-11 items-center gap-2">
          <input v-model="aloud" type="checkbox" class="size-5 accent-teal" /> Alarms aloud
        </label>
        <template v-if="drive.going && may('rounds')">
          <Segments
            v-if="drive.simulated"
            :model-value="drive.simulated.pace"
            label="Times as fast as life"
            :choices="PACES"
            @update:model-value="setPace($event)"
          />
          <button type="button" class="button" @click="end()">End this drive</button>
        </template>
      </div>
      <Refusal :message="paceNo || endNo" />
      <DriveNumbers class="mt-4 max-w-3xl" :drive="drive" :picked="picked" @pick="picked = $event" />
      <DriveChart v-if="drive.count > 1" class="mt-4 max-w-3xl" :rig="id" :drive="drive" :picked="picked" />
      <section v-if="drive.rises.length" class="mt-6 max-w-3xl border-t border-hairline pt-4">
        <h2>How hot they got</h2>
        <ul>
          <li v-for="r in drive.rises" :key="r.code" class="border-t border-hairline py-1">
            <b>{{ r.name }}</b>{{ ' ' }}
            <span :class="['', 'as it should'].includes(r.verdict) ? '' : 'font-semibold text-rust'">{{
              say(r.words)
            }}</span>
          </li>
        </ul>
      </section>
      <section v-if="drive.told.length" class="mt-6 max-w-3xl border-t border-hairline pt-4">
        <h2>Alarms of this drive</h2>
        <ul>
          <li v-for="(t, i) in drive.told" :key="i" class="border-t border-hairline py-1">
            {{ say(t.words) }} <span class="text-soft">{{ clock(t.at) }}</span>
          </li>
        </ul>
      </section>
      <p class="mt-3">
        <a :href="`/api/v1/rigs/${id}/drives/${drive.uuid}/numbers.csv`" download>Every number as CSV</a>
      </p>
    </template>
    <SimulateForm
      v-if="Object.keys(all.road.scenes).length && may('rounds')"
      class="mt-8 max-w-3xl border-t border-hairline pt-4"
      :rig="id"
      :road="all.road"
      @begun="open($event)"
    />
    <Opening v-if="all.drives.length > 1" label="Drives that are kept" class="mt-6">
      <ul class="max-w-3xl">
        <li v-for="d in all.drives" :key="d.uuid" class="border-t border-hairline py-1">
          <button type="button" class="link" :aria-current="d.uuid === uuid || undefined" @click="open(d.uuid)">
            {{ moment(d.started_at) }}
          </button>
          <span class="text-soft">
            {{ d.simulated ? 'simulated' : d.source || d.receiver }}{{ d.going ? ', still going' : '' }},
            {{ d.count }} messages
          </span>
        </li>
      </ul>
    </Opening>
    <ImportNumbers
      v-if="may('rounds')"
      class="mt-8 max-w-3xl border-t border-hairline pt-4"
      :rig="id"
      @done="open($event)"
    />
    <Receivers class="mt-8 max-w-3xl border-t border-hairline pt-4" :rig="id" :receivers="all.receivers" />
  </template>
</template>
