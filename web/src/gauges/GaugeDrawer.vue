<script setup lang="ts">
/** The gauges, and when each was last compared with a master. */
import { useQuery } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { queries, useSession } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import ChoiceField from '@/shared/ChoiceField.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, unitOf, type Entry, today } from '@/shared/units'
import { useSave } from '@/shared/useSave'

type Gauge = Schemas['GaugeOut']
const { session, may } = useSession()
const { data } = useQuery({ queryKey: ['gauges'], queryFn: () => answer(api.GET('/api/v1/gauges')) })
const changed = () => queries.invalidateQueries({ queryKey: ['gauges'] })

const blank = () => ({
  label: '',
  kind: 'digital' as Schemas['GaugeIn']['kind'],
  low_kpa: 0 as Entry,
  high_kpa: null as Entry,
  resolution_kpa: null as Entry,
  dual_foot: false,
  dropped: false,
  retired: false,
})
const form = reactive(blank())
const editing = ref<number | 'new' | null>(null)
function open(gauge: Gauge | null) {
  Object.assign(form, blank())
  if (gauge)
    for (const key of Object.keys(form) as (keyof typeof form)[]) Object.assign(form, { [key]: gauge[key] })
  editing.value = gauge?.id ?? 'new'
  comparing.value = null
}
const { save, busy, fields, message } = useSave(async () => {
  const body = form as Schemas['GaugeIn']
  const saved =
    editing.value === 'new'
      ? await answer(api.POST('/api/v1/gauges', { body }))
      : await answer(
          api.PUT('/api/v1/gauges/{gauge_id}', {
            params: { path: { gauge_id: editing.value as number } },
            body,
          }),
        )
  const fresh = editing.value === 'new'
  editing.value = null
  await changed()
  if (fresh) compare(saved)
})
const { save: mark } = useSave(async (gauge: Gauge, change: Partial<Gauge>) => {
  const { label, kind, low_kpa, high_kpa, resolution_kpa, dual_foot, dropped, retired } = {
    ...gauge,
    ...change,
  }
  await answer(
    api.PUT('/api/v1/gauges/{gauge_id}', {
      params: { path: { gauge_id: gauge.id } },
      body: { label, kind, low_kpa, high_kpa, resolution_kpa, dual_foot, dropped, retired },
    }),
  )
  await changed()
})

const comparing = ref<number | null>(null)
const session_ = reactive({
  compared_on: '',
  reference: '',
  master_u_kpa: null as Entry,
  pairs: [] as { reference: Entry; reading: Entry }[],
})
function compare(gauge: Gauge) {
  comparing.value = gauge.id
  editing.value = null
  Object.assign(session_, {
    compared_on: today(),
    reference: gauge.calibrations[0]?.reference ?? '',
    master_u_kpa: gauge.calibrations[0]?.master_u_kpa ?? null,
    pairs: Array.from({ length: 4 }, () => ({ reference: null, reading: null })),
  })
}
const {
  save: record,
  busy: recording,
  fields: pairFields,
  message: pairMessage,
} = useSave(async () => {
  const pairs = session_.pairs.filter((p) => p.reference !== null || p.reading !== null)
  await answer(
    api.POST('/api/v1/gauges/{gauge_id}/calibrations', {
      params: { path: { gauge_id: comparing.value! } },
      body: { ...session_, pairs } as Schemas['CalibrationIn'],
    }),
  )
  comparing.value = null
  await changed()
})
function error(p: Schemas['ComparedPairOut']): string {
  const off = p.reading_kpa - p.reference_kpa
  const text = figure('pressure', off)
  return off > 0 && text !== '0' ? `+${text}` : text
}
</script>

<template>
  <main id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1>Gauges</h1>
        <p class="max-w-2xl text-soft">
          Every gauge is off by something, differently at different pressures. One that was compared with a
          master is corrected by it.
        </p>
      </div>
      <button
        v-if="may('gauges')"
        type="button"
        class="button"
        :class="{ 'button-next': data && !data.length }"
        @click="open(null)"
      >
        Add a gauge
      </button>
    </div>

    <form
      v-if="editing !== null"
      class="mt-5 border-y border-hairline py-5"
      novalidate
      @submit.prevent="save()"
    >
      <div class="grid grid-cols-2 gap-4 lg:grid-cols-5">
        <TextField v-model="form.label" label="Label" :message="fields.label" />
        <ChoiceField
          v-model="form.kind"
          label="Kind"
          :choices="(session?.gauge_kinds ?? []) as { key: typeof form.kind; name: string }[]"
          :message="fields.kind"
        />
        <QuantityField v-model="form.low_kpa" label="Range from" kind="pressure" :message="fields.low_kpa" />
        <QuantityField v-model="form.high_kpa" label="Range to" kind="pressure" :message="fields.high_kpa" />
        <QuantityField
          v-model="form.resolution_kpa"
          label="Smallest step"
          kind="pressure"
          :message="fields.resolution_kpa"
        />
      </div>
      <label class="mt-3 flex items-center gap-2"
        ><input v-model="form.dual_foot" type="checkbox" class="size-5 accent-teal" /> It has a foot for inner
        duals</label
      >
      <div class="mt-4 flex items-center gap-4">
        <button class="button button-next" :disabled="busy">
          {{ editing === 'new' ? 'Add it, then compare' : 'Save' }}
        </button>
        <button type="button" class="link" @click="editing = null">Leave without saving</button>
        <Refusal :message="message" />
      </div>
    </form>

    <p v-if="data && !data.length && editing === null" class="mt-8 text-soft">
      The drawer is empty. Add the gauge you use, with its range and the smallest step it shows.
    </p>
    <ul class="mt-4">
      <li
        v-for="g in data ?? []"
        :key="g.id"
        class="border-t border-hairline py-4"
        :class="{ 'text-soft': g.retired }"
      >
        <div class="flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1">
          <h2>
            {{ g.label }}
            <span class="font-normal text-soft"
              >{{ g.kind_name.toLowerCase() }}, {{ show('pressure', g.low_kpa) }} to
              {{ show('pressure', g.high_kpa) }}{{ g.dual_foot ? ', dual foot' : '' }}</span
            >
          </h2>
          <p v-if="may('gauges')" class="flex flex-wrap gap-4 text-sm">
            <button type="button" class="link" @click="compare(g)">Compare with a master</button>
            <button
              v-if="!g.dropped && !g.retired"
              type="button"
              class="link"
              @click="mark(g, { dropped: true })"
            >
              It was dropped
            </button>
            <button v-if="g.dropped" type="button" class="link" @click="mark(g, { dropped: false })">
              It was not dropped
            </button>
            <button type="button" class="link" @click="open(g)">Change</button>
            <button type="button" class="link" @click="mark(g, { retired: !g.retired })">
              {{ g.retired ? 'Back into use' : 'Retire' }}
            </button>
          </p>
        </div>
        <p v-if="g.retired">Retired.</p>
        <p v-else-if="g.condition" class="font-medium text-rust">{{ say(g.condition) }}</p>
        <template v-if="g.calibrations[0]">
          <p class="text-soft">
            Compared {{ g.calibrations[0].compared_on }} with {{ g.calibrations[0].reference }}, by
            {{ g.calibrations[0].by
            }}{{ g.calibrations.length > 1 ? `, ${g.calibrations.length} times in all` : '' }}
          </p>
          <div class="mt-1 overflow-x-auto">
            <table class="text-sm">
              <tbody>
                <tr>
                  <th class="pr-4 text-left font-normal text-soft" scope="row">
                    True, {{ unitOf('pressure') }}
                  </th>
                  <td v-for="(p, i) in g.calibrations[0].pairs" :key="i" class="figure px-2">
                    {{ figure('pressure', p.reference_kpa) }}
                  </td>
                </tr>
                <tr>
                  <th class="pr-4 text-left font-normal text-soft" scope="row">Reads off by</th>
                  <td v-for="(p, i) in g.calibrations[0].pairs" :key="i" class="figure px-2 font-semibold">
                    {{ error(p) }}
                  </td>
                </tr>
              </tbody>
            </table>
          </div>
        </template>

        <form
          v-if="comparing === g.id"
          class="mt-3 border-l-4 border-teal pl-4"
          novalidate
          @submit.prevent="record()"
        >
          <p class="text-soft">
            Same tire, both gauges, one after the other; at the pressures in use, a repeat or two shows the
            scatter.
          </p>
          <div class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-3">
            <TextField
              v-model="session_.reference"
              label="Master or certificate"
              :message="pairFields.reference"
            />
            <TextField
              v-model="session_.compared_on"
              label="Compared on"
              type="date"
              :message="pairFields.compared_on"
            />
            <QuantityField
              v-model="session_.master_u_kpa"
              label="Master's standard uncertainty"
              kind="pressure"
              hint="Empty: half a percent is taken"
              :message="pairFields.master_u_kpa"
            />
          </div>
          <div v-for="(p, i) in session_.pairs" :key="i" class="mt-3 grid max-w-md grid-cols-2 gap-4">
            <QuantityField
              v-model="p.reference"
              :label="`Master, pair ${i + 1}`"
              kind="pressure"
              :message="pairFields[`pairs.${i}.reference`]"
            />
            <QuantityField
              v-model="p.reading"
              :label="`${g.label} shows, pair ${i + 1}`"
              kind="pressure"
              :message="pairFields[`pairs.${i}.reading`]"
            />
          </div>
          <div class="mt-3 flex flex-wrap items-center gap-4">
            <button class="button button-next" :disabled="recording">Record the comparison</button>
            <button
              type="button"
              class="link"
              @click="session_.pairs.push({ reference: null, reading: null })"
            >
              One more pair
            </button>
            <button type="button" class="link" @click="comparing = null">Not now</button>
            <Refusal
              :message="pairMessage && !Object.keys(pairFields).length ? pairMessage : pairFields.pairs"
            />
          </div>
        </form>
      </li>
    </ul>
  </main>
</template>
