/** A comparison with a master as it is typed: the curve it gives, and recording it. */
import { computed, reactive, watch, type Ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import { queries } from '@/shared/session'
import { today, type Entry } from '@/shared/units'
import { useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'

export function useComparison(
  gauge: Ref<number>,
  comparing: Ref<boolean>,
  newest: Readonly<Ref<Schemas['GaugeSheetOut']['calibrations'][number] | undefined>>,
) {
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
          gauge: gauge.value,
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
  const at = (row: Row, name: string) => {
    const i = filled.value.indexOf(row)
    const key = `pairs.${i}.${name}`
    return i < 0 ? undefined : (recorded.fields.value[key] ?? work.fields.value[key])
  }
  const recorded = useSave(async () => {
    const body = { ...form, certificate_until: form.certificate_until || null, pairs: filled.value }
    await answer(
      api.POST('/api/v1/gauges/{gauge_id}/calibrations', {
        params: { path: { gauge_id: gauge.value } },
        body: body as Schemas['CalibrationIn'],
      }),
    )
    comparing.value = false
    form.pairs = [fresh(), fresh(), fresh(), fresh('down')]
    await queries.invalidateQueries({ queryKey: ['gauges'] })
  })
  const bench = useSave(async (row: Row) => {
    const set = row.reference ?? (form.pairs.indexOf(row) + 1) * 200
    const shown = await answer(
      api.POST('/api/v1/gauges/{gauge_id}/bench', {
        params: { path: { gauge_id: gauge.value } },
        body: { set_kpa: set, way: row.direction || 'up' },
      }),
    )
    row.reference = shown.master.kpa
    row.reading = shown.gauge.kpa
  })

  return reactive({
    form,
    filled,
    at,
    answer: work.answer,
    stale: work.stale,
    busy: recorded.busy,
    fields: recorded.fields,
    record: recorded.save,
    fromBench: bench.save,
    more: () => form.pairs.push(fresh('down')),
    /** What is refused and belongs beside no entry. */
    refused: computed(
      () =>
        work.fields.value.pairs ??
        (recorded.message.value && !Object.keys(recorded.fields.value).length
          ? recorded.message.value
          : (recorded.fields.value.pairs ?? bench.message.value)),
    ),
  })
}
export type Comparison = ReturnType<typeof useComparison>
