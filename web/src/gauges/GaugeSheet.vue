<script setup lang="ts">
/** One gauge: its correction curve with the band of uncertainty, a comparison as it is typed, its history. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { useRoute } from 'vue-router'
import { answer, api, missing, type Schemas } from '@/shared/api/client'
import EntryForm from '@/shared/EntryForm.vue'
import Awaited from '@/shared/Awaited.vue'
import Opening from '@/shared/Opening.vue'
import Refusal from '@/shared/Refusal.vue'
import { queries, useSession } from '@/shared/session'
import { say, show, spokenDay } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import CompareForm from './CompareForm.vue'
import CorrectionCurve from './CorrectionCurve.vue'
import GaugeComparisons from './GaugeComparisons.vue'
import GaugeParticulars from './GaugeParticulars.vue'
import { particularsOf, sent, type Particulars } from './particulars'
import { useComparison } from './useComparison'

type Sheet = Schemas['GaugeSheetOut']
const props = defineProps<{ gauge: number }>()
const id = toRef(props, 'gauge')
const { may } = useSession()
const { data, error, refetch } = useQuery({
  queryKey: ['gauges', id],
  queryFn: () => answer(api.GET('/api/v1/gauges/{gauge_id}', { params: { path: { gauge_id: id.value } } })),
})
const devices = useQuery({
  queryKey: ['gauges', 'devices'],
  queryFn: () => answer(api.GET('/api/v1/gauges/devices')),
})
const use = useQuery({
  queryKey: ['gauges', id, 'use'],
  queryFn: () => answer(api.GET('/api/v1/gauges/{gauge_id}/use', { params: { path: { gauge_id: id.value } } })),
})
const changed = () => queries.invalidateQueries({ queryKey: ['gauges'] })
const newest = computed(() => data.value?.calibrations[0])

// -- a comparison -------------------------------------------------------------------------------
const comparing = ref(useRoute().query.compare === '1')
const comparison = useComparison(id, comparing, newest)
const shownCurve = computed(() => (comparing.value && comparison.answer ? comparison.answer : newest.value))
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
</script>

<template>
  <Awaited v-if="!data || missing(error)" what="The gauge" :error="error" @again="refetch()" />
  <main v-else id="stage" class="mx-auto max-w-5xl px-4 py-6 lg:px-7">
    <p class="flex gap-5 print:hidden">
      <RouterLink to="/gauges">All gauges</RouterLink>
      <RouterLink v-if="typeof $route.query.back === 'string'" :to="$route.query.back">Back to the round</RouterLink>
    </p>
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
          }}<template v-if="data.claimed_kpa !== null">, claims ± {{ show('pressure', data.claimed_kpa) }}</template
          >{{ data.dual_foot ? ', dual foot' : ', single foot' }}{{ data.keeper ? `; ${data.keeper}` : ''
          }}{{ data.battery ? `; battery: ${data.battery}` : '' }}
        </p>
        <p v-if="data.retired" class="font-medium">Retired.</p>
        <p v-else-if="data.condition" class="font-bold text-rust">{{ say(data.condition) }}</p>
        <p v-else class="font-medium text-green">
          Sure within {{ show('pressure', data.uncertainty_kpa, 'up') }}, compared {{ spokenDay(data.compared_on!) }},
          due again {{ spokenDay(data.due_on!) }}
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

    <CompareForm
      v-if="comparing"
      :comparison="comparison"
      :label="data.label"
      :in-use="use.data.value?.in_use_kpa ?? []"
      :bench="onBench"
      @leave="comparing = false"
    />

    <section v-if="shownCurve" class="mt-5" :class="{ stale: comparing && comparison.stale }">
      <h2>{{ comparing && comparison.answer ? 'The curve these pairs give' : 'Correction curve' }}</h2>
      <p class="text-soft">What it reads over the truth, by what it shows; around it how sure that is, 95 %.</p>
      <CorrectionCurve
        :curve="shownCurve.curve"
        :pairs="comparing && comparison.answer ? [] : (newest?.pairs ?? [])"
        class="mt-2"
      />
      <p v-if="!comparing && use.data.value?.uncovered" class="font-medium text-rust">
        {{ say(use.data.value.uncovered) }}
      </p>
      <p v-for="(r, i) in shownCurve.remarks" :key="i" class="font-medium text-rust">{{ say(r) }}</p>
    </section>
    <p v-else class="mt-6 text-soft">
      No correction yet: what it shows is taken as it is.
      <span v-if="data.worth" class="mt-1 block max-w-2xl text-ink">{{ say(data.worth) }}</span>
    </p>

    <p v-if="use.data.value?.learned" class="mt-4">
      Learned from rounds: <b>{{ say(use.data.value.learned.words) }}</b>
    </p>
    <p v-else-if="data.learns" class="mt-4 text-soft">
      Read beside a gauge three times in rounds (under “Tread, damage, its own sensor, a note”), it learns its offset.
    </p>

    <GaugeComparisons v-if="data.calibrations.length" :comparisons="data.calibrations" />

    <section class="mt-6 print:hidden">
      <div v-if="may('gauges')" class="flex flex-wrap gap-x-5 gap-y-2">
        <template v-if="!data.retired && !data.suspicion">
          <button type="button" class="link" @click="suspect.save('drop')">It was dropped</button>
          <button type="button" class="link" @click="suspect.save('over-pressure')">It was over-pressed</button>
        </template>
        <button v-else-if="data.noted" type="button" class="link" @click="suspect.save('')">
          That was a mistake: it was not
        </button>
        <button type="button" class="link" @click="edit(data)">Change its particulars</button>
        <button type="button" class="link" @click="change.save({ ...particularsOf(data), retired: !data.retired })">
          {{ data.retired ? 'Back into use' : 'Retire it' }}
        </button>
        <Refusal :message="suspect.message.value || (editing ? '' : change.message.value)" />
      </div>
      <EntryForm v-if="editing" :refused="change.fields.value" class="mt-3" @submit="change.save(particulars)">
        <GaugeParticulars v-model="particulars" :devices="devices.data.value ?? []" />
        <div class="mt-3 flex items-center gap-4">
          <button class="button button-next" :disabled="change.busy.value">Save</button>
          <button type="button" class="link" @click="editing = false">Leave it</button>
          <Refusal :message="change.message.value" />
        </div>
      </EntryForm>
      <Opening v-if="data.changes.length" label="What was done to it" class="mt-3">
        <p v-for="(c, i) in data.changes" :key="i" class="text-sm text-soft">{{ c }}</p>
      </Opening>
    </section>
  </main>
</template>
