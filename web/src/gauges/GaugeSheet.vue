<script setup lang="ts">
/** One gauge: its correction curve with the band of uncertainty, a comparison as it is typed, its history. */
import { useQuery } from '@tanstack/vue-query'
import { computed, reactive, ref, toRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import Nowhere from '@/shared/Nowhere.vue'
import Opening from '@/shared/Opening.vue'
import QuantityField from '@/shared/QuantityField.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import TextField from '@/shared/TextField.vue'
import { figure, say, show, spokenDay, today, unitOf, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'
import CorrectionCurve from './CorrectionCurve.vue'
import GaugeParticulars from './GaugeParticulars.vue'
import { particularsOf, sent, type Particulars } from './particulars'

type Sheet = Schemas['GaugeSheetOut']
const props = defineProps<{ gauge: number }>()
const id = toRef(props, 'gauge')
const { may } = useSession()
const { data, error } = useQuery({
  queryKey: ['gauges', id],
  queryFn: () => answer(api.GET('/api/v1/gauges/{gauge_id}', { params: { path: { gauge_id: id.value } } })),
})
const devices = useQuery({
  queryKey: ['gauges', 'devices'],
  queryFn: () => answer(api.GET('/api/v1/gauges/devices')),
})
const use = useQuery({
  queryKey: ['gauges', id, 'use'],
  queryFn: () =>
    answer(api.GET('/api/v1/gauges/{gauge_id}/use', { params: { path: { gauge_id: id.value } } })),
})
const changed = () => queries.invalidateQueries({ queryKey: ['gauges'] })
const newest = computed(() => data.value?.calibrations[0])

// -- a comparison -------------------------------------------------------------------------------
const comparing = ref(useRoute().query.compare === '1')
type Row = { reference: Entry; reading: Entry; direction: '' | 'up' | 'down' }
const fresh = (direction: Row['direction'] = 'up'): Row => ({ reference: null, reading: null, direction })
const form = reactive({
  compared_on: today(),
  reference: '',
  certificate: '',
  certificate_until: '',
  note: '',
  master_u_kpa: null as Entry,
  pairs: [fresh(), fresh(), fresh(), fresh('down')] as Row[],
})
watch(newest, (last) => {
  if (last && !form.reference)
    Object.assign(form, {
      reference: last.reference,
      certificate: last.certificate,
      certificate_until: last.certificate_until ?? '',
      master_u_kpa: last.master_u_kpa,
    })
})
const filled = computed(() => form.pairs.filter((p) => p.reference !== null && p.reading !== null))
const inputs = computed(() =>
  comparing.value && filled.value.length
    ? {
        gauge: id.value,
        reference: form.reference,
        certificate: form.certificate,
        master_u_kpa: form.master_u_kpa,
        pairs: filled.value.map((p) => ({ ...p })),
      }
    : null,
)
const work = useWork(inputs, (body) =>
  answer(api.POST('/api/v1/work/gauges', { body: body as Schemas['WorkPairsIn'] })),
)
const shownCurve = computed(() => (comparing.value && work.answer.value ? work.answer.value : newest.value))
const at = (row: Row, name: string) => {
  const i = filled.value.indexOf(row)
  const key = `pairs.${i}.${name}`
  return i < 0 ? undefined : (recorded.fields.value[key] ?? work.fields.value[key])
}
const recorded = useSave(async () => {
  const body = { ...form, certificate_until: form.certificate_until || null, pairs: filled.value }
  await answer(
    api.POST('/api/v1/gauges/{gauge_id}/calibrations', {
      params: { path: { gauge_id: id.value } },
      body: body as Schemas['CalibrationIn'],
    }),
  )
  comparing.value = false
  form.pairs = [fresh(), fresh(), fresh(), fresh('down')]
  await changed()
})
const bench = useSave(async (row: Row) => {
  const set = row.reference ?? (form.pairs.indexOf(row) + 1) * 200
  const found = await answer(
    api.POST('/api/v1/gauges/{gauge_id}/bench', {
      params: { path: { gauge_id: id.value } },
      body: { set_kpa: set, way: row.direction || 'up' },
    }),
  )
  row.reference = found.master.kpa
  row.reading = found.gauge.kpa
})
const onBench = computed(() => Boolean(data.value?.radio && devices.data.value?.some((d) => d.bench)))

// -- its particulars ----------------------------------------------------------------------------
const editing = ref(false)
const particulars = ref(particularsOf())
function edit(gauge: Sheet) {
  particulars.value = particularsOf(gauge)
  editing.value = true
}
const change = useSave(async (now: Particulars) => {
  await answer(
    api.PUT('/api/v1/gauges/{gauge_id}', {
      params: { path: { gauge_id: id.value } },
      body: sent({ ...now, version: change.newer.value || now.version }),
    }),
  )
  editing.value = false
  await changed()
})
const suspect = useSave(async (suspicion: '' | 'drop' | 'over-pressure') => {
  await answer(
    api.PUT('/api/v1/gauges/{gauge_id}/suspicion', {
      params: { path: { gauge_id: id.value } },
      body: { suspicion },
    }),
  )
  await changed()
})
const print = () => window.print()
const signed = (kpa: number) => {
  const text = figure('pressure', kpa)
  return kpa > 0 && text !== '0' ? `+${text}` : text
}
</script>

<template>
  <Nowhere v-if="error && refusedOf(error).status === 404" />
  <main v-else-if="data" id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <RouterLink to="/gauges" class="print:hidden">All gauges</RouterLink>
    <div class="mt-1 flex flex-wrap items-start justify-between gap-4">
      <div>
        <h1 class="text-2xl">
          {{ data.label }}
          <span class="font-normal text-soft"
            >{{ data.kind_name.toLowerCase() }}, {{ show('pressure', data.low_kpa) }} to
            {{ show('pressure', data.high_kpa) }}</span
          >
        </h1>
        <p class="text-soft">
          Shows steps of {{ show('pressure', data.resolution_kpa)
          }}<template v-if="data.claimed_kpa !== null"
            >, claims ± {{ show('pressure', data.claimed_kpa) }}</template
          >{{ data.dual_foot ? ', dual foot' : ', single foot' }}{{ data.keeper ? `; ${data.keeper}` : ''
          }}{{ data.battery ? `; battery: ${data.battery}` : '' }}
        </p>
        <p v-if="data.retired" class="font-medium">Retired.</p>
        <p v-else-if="data.condition" class="font-bold text-rust">{{ say(data.condition) }}</p>
        <p v-else class="font-medium text-green">
          Sure within {{ show('pressure', data.uncertainty_kpa, 'up') }}, compared
          {{ spokenDay(data.compared_on!) }}, due again {{ spokenDay(data.due_on!) }}
        </p>
      </div>
      <div class="flex flex-wrap gap-2.5 print:hidden">
        <button
          v-if="may('gauges') && !comparing"
          type="button"
          class="button"
          :class="{ 'button-next': data.suspect && !data.retired }"
          @click="comparing = true"
        >
          Compare with a master
        </button>
        <button type="button" class="button" @click="print">Print</button>
      </div>
    </div>

    <form
      v-if="comparing"
      class="mt-4 border-l-4 border-teal pl-4 print:hidden"
      novalidate
      @submit.prevent="recorded.save()"
    >
      <p class="text-soft">
        At the pressures in use, going up and coming down again, one or two repeated: that shows lag and
        scatter.
        <b v-if="use.data.value?.in_use_kpa.length"
          >In use here: {{ use.data.value.in_use_kpa.map((p) => figure('pressure', p, 'up')).join(', ') }}
          {{ unitOf('pressure') }}.</b
        >
      </p>
      <div class="mt-2 grid grid-cols-2 gap-4 sm:grid-cols-4">
        <TextField v-model="form.reference" label="Master" :message="recorded.fields.value.reference" />
        <TextField
          v-model="form.compared_on"
          label="Compared on"
          type="date"
          :message="recorded.fields.value.compared_on"
        />
        <TextField
          v-model="form.certificate"
          label="Its certificate"
          :message="recorded.fields.value.certificate"
        />
        <TextField
          v-model="form.certificate_until"
          label="Certificate valid until"
          type="date"
          :message="recorded.fields.value.certificate_until"
        />
        <QuantityField
          v-model="form.master_u_kpa"
          label="Master's standard uncertainty"
          kind="pressure"
          hint="Empty: half a percent is taken"
          :message="recorded.fields.value.master_u_kpa"
        />
        <TextField
          v-model="form.note"
          class="col-span-2"
          label="Note"
          :message="recorded.fields.value.note"
        />
      </div>
      <div
        v-for="(p, i) in form.pairs"
        :key="i"
        class="mt-3 grid max-w-2xl grid-cols-[1fr_1fr_auto_auto] items-end gap-3"
      >
        <QuantityField
          v-model="p.reference"
          :label="`Master, ${i + 1}`"
          kind="pressure"
          :message="at(p, 'reference')"
        />
        <QuantityField
          v-model="p.reading"
          :label="`${data.label} shows, ${i + 1}`"
          kind="pressure"
          :message="at(p, 'reading')"
        />
        <button
          type="button"
          class="button w-24"
          :aria-label="`Pair ${i + 1}: ${p.direction === 'down' ? 'coming down' : 'going up'}`"
          @click="p.direction = p.direction === 'down' ? 'up' : 'down'"
        >
          {{ p.direction === 'down' ? 'down' : 'up' }}
        </button>
        <button v-if="onBench" type="button" class="link min-h-10" @click="bench.save(p)">
          From the bench
        </button>
      </div>
      <div class="mt-3 flex flex-wrap items-center gap-4">
        <button class="button button-next" :disabled="recorded.busy.value || !filled.length">
          Record the comparison
        </button>
        <button type="button" class="link" @click="form.pairs.push(fresh('down'))">One more</button>
        <button type="button" class="link" @click="comparing = false">Not now</button>
        <Refusal
          :message="
            work.fields.value.pairs ??
            (recorded.message.value && !Object.keys(recorded.fields.value).length
              ? recorded.message.value
              : (recorded.fields.value.pairs ?? bench.message.value))
          "
        />
      </div>
    </form>

    <section v-if="shownCurve" class="mt-5" :class="{ stale: comparing && work.stale.value }">
      <h2>{{ comparing && work.answer.value ? 'The curve these pairs give' : 'Correction curve' }}</h2>
      <p class="text-soft">
        What it reads over the truth, by what it shows; around it how sure that is, 95 %.
      </p>
      <CorrectionCurve
        :curve="shownCurve.curve"
        :pairs="comparing && work.answer.value ? [] : (newest?.pairs ?? [])"
        class="mt-2"
      />
      <p v-if="!comparing && use.data.value?.uncovered" class="font-medium text-rust">
        {{ say(use.data.value.uncovered) }}
      </p>
      <p v-for="(r, i) in shownCurve.remarks" :key="i" class="font-medium text-rust">{{ say(r) }}</p>
    </section>
    <p v-else class="mt-6 text-soft">No correction yet: what it shows is taken as it is.</p>

    <p v-if="use.data.value?.learned" class="mt-4">
      Learned from rounds: <b>{{ say(use.data.value.learned.words) }}</b>
    </p>
    <p v-else-if="data.learns" class="mt-4 text-soft">
      Read beside a gauge three times in rounds (under “Tread, damage, its own sensor, a note”), it learns its
      offset.
    </p>

    <section v-if="data.calibrations.length" class="mt-6">
      <h2>Comparisons</h2>
      <div v-for="(c, i) in data.calibrations" :key="c.id" class="border-t border-hairline py-2.5">
        <p>
          <b>{{ spokenDay(c.compared_on) }}</b> with {{ c.reference }}, by {{ c.by
          }}<span class="text-soft"
            >{{ c.certificate ? `; certificate ${c.certificate}` : ''
            }}{{ c.certificate_until ? `, valid until ${spokenDay(c.certificate_until)}` : ''
            }}{{ c.note ? `; ${c.note}` : '' }}</span
          >
        </p>
        <p v-if="c.drift_kpa !== null" class="text-sm text-soft">
          Moved by {{ signed(c.drift_kpa) }} {{ unitOf('pressure') }} at the most since the one before.
        </p>
        <Opening label="Its pairs" :open="i === 0">
          <div class="overflow-x-auto">
            <table class="text-sm">
              <tbody>
                <tr>
                  <th class="pr-4 text-left font-normal text-soft" scope="row">
                    True, {{ unitOf('pressure') }}
                  </th>
                  <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2">
                    {{ figure('pressure', p.reference_kpa) }}
                  </td>
                </tr>
                <tr>
                  <th class="pr-4 text-left font-normal text-soft" scope="row">Reads off by</th>
                  <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2 font-semibold">
                    {{ signed(p.reading_kpa - p.reference_kpa) }}
                  </td>
                </tr>
                <tr v-if="c.pairs.some((p) => p.direction)">
                  <th class="pr-4 text-left font-normal text-soft" scope="row">Way</th>
                  <td v-for="(p, j) in c.pairs" :key="j" class="figure px-2 text-soft">{{ p.direction }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </Opening>
      </div>
    </section>

    <section class="mt-6 print:hidden">
      <div v-if="may('gauges')" class="flex flex-wrap gap-x-5 gap-y-2">
        <template v-if="!data.retired && !data.suspicion">
          <button type="button" class="link" @click="suspect.save('drop')">It was dropped</button>
          <button type="button" class="link" @click="suspect.save('over-pressure')">
            It was over-pressed
          </button>
        </template>
        <button
          v-else-if="data.suspicion && data.suspicion !== 'differs'"
          type="button"
          class="link"
          @click="suspect.save('')"
        >
          That was a mistake: it was not
        </button>
        <button type="button" class="link" @click="edit(data)">Change its particulars</button>
        <button
          type="button"
          class="link"
          @click="change.save({ ...particularsOf(data), retired: !data.retired })"
        >
          {{ data.retired ? 'Back into use' : 'Retire it' }}
        </button>
        <Refusal :message="suspect.message.value || (editing ? '' : change.message.value)" />
      </div>
      <form v-if="editing" class="mt-3" novalidate @submit.prevent="change.save(particulars)">
        <GaugeParticulars
          v-model="particulars"
          :fields="change.fields.value"
          :devices="devices.data.value ?? []"
        />
        <div class="mt-3 flex items-center gap-4">
          <button class="button button-next" :disabled="change.busy.value">Save</button>
          <button type="button" class="link" @click="editing = false">Leave it</button>
          <Refusal :message="change.message.value" />
        </div>
      </form>
      <Opening v-if="data.changes.length" label="What was done to it" class="mt-3">
        <p v-for="(c, i) in data.changes" :key="i" class="text-sm text-soft">{{ c }}</p>
      </Opening>
    </section>
  </main>
  <p v-else class="px-5 py-10 text-soft">Fetching the gauge …</p>
</template>
