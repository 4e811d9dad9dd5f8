<script setup lang="ts">
/** The tires that are on a rig: what stands on them, where they were, what speaks against them. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import Refusal from '@/shared/Refusal.vue'
import { BLANK_WHEEL } from '@/shared/scale'
import { useSession } from '@/shared/session'
import { depthShown, spokenDay, system } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import FitTire from './FitTire.vue'
import { useFrame } from './frame'
import OdometerJobs from './OdometerJobs.vue'
import { refreshRig, tiresOf, type TakenOff } from './queries'
import TakeOff from './TakeOff.vue'

const { id, sheet, states, caption, picked } = useFrame()
const { may } = useSession()
const rig = computed(() => sheet.value.rig)
const { data: tires } = useQuery(tiresOf(id))
const at = (code: string) => tires.value?.fitted.find((t) => t.wheel === code)
const findingsAt = (code: string) => tires.value?.findings.filter((f) => f.wheel === code) ?? []

watch(
  [tires, system],
  () => {
    if (!tires.value?.fitted.length) return
    states.value = Object.fromEntries(
      rig.value.wheels.map((w) => {
        const tire = at(w.code)
        const noticed = findingsAt(w.code)
        return [
          w.code,
          {
            ...BLANK_WHEEL,
            word: noticed.some((f) => f.urgent) ? ('add' as const) : BLANK_WHEEL.word,
            words: noticed.length ? `${w.code} look` : tire ? w.code : 'no tire',
            text: tire ? tire.date_code || '•' : '',
          },
        ]
      }),
    )
    caption.value = 'date code of each tire'
  },
  { immediate: true },
)

const wheel = computed(() => rig.value.wheels.find((w) => w.code === picked.value))
const tire = computed(() => (wheel.value ? at(wheel.value.code) : undefined))

const described = computed(() => {
  const w = wheel.value
  if (!w) return ''
  const own = w.axle ? rig.value.axles[w.axle - 1] : rig.value.spares[Number(w.code.slice(1)) - 1]
  return own?.tire_size ?? ''
})
const fitting = ref(false)
watch(picked, () => (fitting.value = false))

const undo = ref<TakenOff | null>(null)
const { save: putBack, message: undoMessage } = useSave(async () => {
  const last = undo.value!
  if (last.retired)
    await answer(api.POST('/api/v1/tires/{tire_id}/restore', { params: { path: { tire_id: last.tire } } }))
  await answer(
    api.POST('/api/v1/rigs/{rig_id}/fittings', {
      params: { path: { rig_id: id.value } },
      body: { wheel: last.wheel, tire: last.tire, fitted_on: last.on },
    }),
  )
  undo.value = null
  await refreshRig(id.value)
})
</script>

<template>
  <section class="mt-8 border-t border-hairline pt-4" aria-label="Tires">
    <h2>Tires</h2>
    <p class="text-soft">Pick a wheel on the plan to fit a tire, take one off, or see where it has been.</p>

    <ul v-if="tires?.findings.length" class="mt-3">
      <li v-for="(f, i) in tires.findings" :key="i">
        <button
          type="button"
          class="flex cursor-pointer items-baseline gap-2 py-0.5 text-left"
          :class="f.urgent ? 'font-semibold text-rust' : ''"
          @click="picked = f.wheel"
        >
          <span v-if="f.urgent" class="size-2.5 shrink-0 self-center bg-rust" aria-hidden="true" />
          {{ f.words }}
        </button>
      </li>
    </ul>
    <OdometerJobs v-if="tires" :tires="tires" />
    <p v-if="undo" class="mt-3">
      {{ undo.name }}: the tire is {{ undo.retired ? 'retired' : 'in the store' }}.
      <button type="button" class="link" @click="putBack()">Put it back</button>
      <Refusal :message="undoMessage" />
    </p>

    <div v-if="wheel" class="mt-4 border-t border-hairline pt-3">
      <div class="flex flex-wrap items-baseline justify-between gap-x-6">
        <h3 class="font-semibold">
          {{ wheel.name }} <span class="font-normal text-soft">· {{ wheel.code }}</span>
        </h3>
        <p v-if="tire" class="text-xl font-bold">{{ tire.tire_size }}</p>
      </div>
      <template v-if="tire">
        <dl class="mt-1 grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
          <div>
            <dt class="text-sm text-soft">Make and model</dt>
            <dd>{{ tire.tire_make || 'not known' }}</dd>
          </div>
          <div>
            <dt class="text-sm text-soft">Date code</dt>
            <dd :class="{ 'font-semibold text-rust': tire.old }">
              {{ tire.date_code ? `${tire.date_code}, ${tire.age_words}` : 'not known' }}
            </dd>
          </div>
          <div>
            <dt class="text-sm text-soft">Fitted</dt>
            <dd>
              {{ tire.fitted_on && spokenDay(tire.fitted_on)
              }}<template v-if="tire.tread_mm !== null">, {{ `${depthShown(tire.tread_mm)} tread` }}</template>
            </dd>
          </div>
          <div v-if="tire.sensor || tire.diameter_mm">
            <dt class="text-sm text-soft">Sensor, measured diameter</dt>
            <dd>
              {{ [tire.sensor, tire.diameter_mm && `${tire.diameter_mm} mm`].filter(Boolean).join(', ') }}
            </dd>
          </div>
        </dl>
        <p class="mt-2">
          <RouterLink :to="{ name: 'tire', params: { tire: tire.id } }">Its wear, and where it has been</RouterLink>
        </p>
      </template>
      <p v-else class="mt-1 text-soft">No tire is entered here. The rig is described with {{ described }}.</p>

      <div v-if="may('fit') && tires && !fitting" class="mt-3 flex flex-wrap items-end gap-4">
        <button type="button" class="button" @click="fitting = true">
          {{ tire ? 'Fit another' : 'Fit a tire' }}
        </button>
        <TakeOff v-if="tire" :key="tire.id" :wheel="wheel" :tire="tire" @off="undo = $event" />
      </div>
      <FitTire
        v-if="fitting && tires"
        class="mt-3"
        :wheel="wheel"
        :store="tires.store"
        :described="described"
        @done="fitting = false"
      />
    </div>

    <p class="mt-4 flex flex-wrap gap-x-6">
      <RouterLink :to="{ name: 'wear', params: { id } }">Wear and rotation</RouterLink>
      <RouterLink :to="{ name: 'tires' }">All tires</RouterLink>
    </p>
  </section>
</template>
