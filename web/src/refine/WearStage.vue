<script setup lang="ts">
/** Wear and rotation of a rig: what its treads say beside table and chalk, and where its tires may go. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig, wearOf } from '@/rigs/queries'
import TargetPages from '@/rigs/TargetPages.vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import Pictures from '@/shared/Pictures.vue'
import Refusal from '@/shared/Refusal.vue'
import { BLANK_WHEEL } from '@/shared/scale'
import { useSession } from '@/shared/session'
import { depthFigure, say, show, spokenDay, system, treadUnit } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import AfterRotation from './AfterRotation.vue'
import FitAll from './FitAll.vue'
import { spoken } from './moves'
import RotateTires from './RotateTires.vue'
import TireMarks from './TireMarks.vue'
import TreadChart from './TreadChart.vue'
import WearTable from './WearTable.vue'

const { id, sheet, states, caption, picked } = useFrame()
const { may } = useSession()
const { data } = useQuery(wearOf(id))
const wheel = computed(() => data.value?.wheels.find((w) => w.code === picked.value && w.tire !== null) ?? null)
const done = ref<Schemas['RotationWork'] | null>(null)
watch(
  [data, system],
  () => {
    states.value = Object.fromEntries(
      (data.value?.wheels ?? []).map((w) => [
        w.code,
        {
          ...BLANK_WHEEL,
          word: w.wear?.at_limit ? ('stop' as const) : BLANK_WHEEL.word,
          words: w.tire === null ? 'no tire' : w.wear?.at_limit ? `${w.code} worn` : w.code,
          text: w.wear?.least_mm == null ? '' : depthFigure(w.wear.least_mm),
        },
      ]),
    )
    caption.value = `least tread, ${treadUnit()}`
  },
  { immediate: true },
)
const learned = useSave(async (rotation: number) => {
  await answer(api.POST('/api/v1/rotations/{rotation_id}/learned', { params: { path: { rotation_id: rotation } } }))
  await refreshRig(id.value)
})
const marks = computed(
  () =>
    wheel.value && {
      tire: wheel.value.tire!,
      date_code: wheel.value.date_code,
      casing: wheel.value.casing,
      sensor: wheel.value.sensor,
      one_way: wheel.value.one_way,
      coarse: wheel.value.coarse,
    },
)
</script>

<template>
  <TargetPages />
  <h1>Wear and rotation</h1>
  <p class="max-w-2xl text-soft">
    The tread is a third voice beside table and chalk. It proposes a step inside floor and ceiling, and never sets one.
  </p>
  <template v-if="data">
    <AfterRotation v-if="done" :done="done" />
    <p v-if="data.due" class="mt-3 text-lg font-bold text-rust">{{ say(data.due) }}</p>
    <p v-else-if="data.since_km" class="mt-3">
      {{ show('distance', data.since_km) }} since the longest standing tire came to its wheel.
    </p>
    <div
      v-for="r in data.rotations.filter((r) => r.learn)"
      :key="r.id"
      class="mt-3 border-l-4 border-buoy bg-paper px-4 py-2"
    >
      Sensors moved with their tires on {{ spokenDay(r.done_on) }}: have the receiver learn where they are.
      <button v-if="may('fit')" type="button" class="link" @click="learned.save(r.id)">It has learned them</button>
      <Refusal :message="learned.message.value" />
    </div>
    <FitAll v-if="data.bare.length && may('fit')" :bare="data.bare" />

    <section class="mt-5 border-t border-hairline pt-4">
      <h2>Every tread</h2>
      <WearTable :wheels="data.wheels" :picked="picked" @pick="picked = $event" />
      <p class="mt-2 text-sm text-soft">{{ data.caution }}</p>
    </section>

    <section v-if="wheel && wheel.wear" class="mt-6 border-t border-hairline pt-4" aria-live="polite">
      <h2>{{ wheel.name }}: {{ wheel.size }}</h2>
      <p class="mt-1">
        <RouterLink :to="{ name: 'tire', params: { tire: wheel.tire } }">Its whole history</RouterLink>
      </p>
      <TreadChart
        v-if="wheel.wear.points.length > 1"
        class="mt-2 max-w-3xl"
        :wear="wheel.wear"
        :label="`Tread of ${wheel.code}`"
      />
      <Pictures
        class="mt-3"
        :rig="id"
        :rig-name="sheet.rig.name"
        :of="{ what: 'wear', place: wheel.code }"
        label="Picture of the wear"
        :may-take="may('rounds')"
      />
      <TireMarks v-if="may('fit') && marks" :marks="marks" @saved="refreshRig(id)" />
    </section>

    <section v-if="may('fit') && data.wheels.some((w) => w.tire !== null)" class="mt-6 border-t border-hairline pt-4">
      <h2>Rotate</h2>
      <RotateTires :wear="data" @rotated="done = $event" />
    </section>
    <section v-if="data.rotations.length" class="mt-6 border-t border-hairline pt-4">
      <h2>Rotations so far</h2>
      <p v-for="r in data.rotations" :key="r.id" class="border-t border-hairline py-1.5">
        {{ spokenDay(r.done_on)
        }}<template v-if="r.odometer_km !== null">, {{ show('distance', r.odometer_km) }}</template
        >: {{ spoken(r.moves) }} <span class="text-soft">({{ r.by }})</span>
      </p>
    </section>
  </template>
</template>
