/** The choices of the target stage, what they give as they are made, and putting it in force. */
import { computed, reactive, ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { refreshRig } from '@/rigs/queries'
import { answer, api } from '@/shared/api/client'
import { queries } from '@/shared/session'
import type { Entry } from '@/shared/units'
import { inPlace, useDraft } from '@/shared/useDraft'
import { useOnce, useSave } from '@/shared/useSave'
import { useWork } from '@/shared/useWork'

export function useTargets() {
  const { id, sheet } = useFrame()
  const rig = computed(() => sheet.value.rig)
  const inForce = computed(() => sheet.value.targets)
  const fresh = computed(() => Boolean(inForce.value && !inForce.value.out_of_date.length))

  const perAxle = <T>(value: T) => rig.value.axles.map(() => value)
  const way = () => {
    const { reserve, edge, step, school, between, spare_over } = sheet.value.way
    return { reserve, edge, step, school, between, spare_over }
  }
  /** The other end of each target's range and how it felt; null end: it is one number. */
  const rangeOf = (i: number) => {
    const a = fresh.value ? inForce.value!.axles[i] : undefined
    return { to: (a?.range_kpa ?? null) as Entry, feel: a?.feel ?? '' }
  }
  const form = reactive({
    weighing: fresh.value ? inForce.value!.weighing : null,
    tables: (fresh.value ? [...inForce.value!.tables] : perAxle(null)) as (number | null)[],
    own: (fresh.value ? [...inForce.value!.own] : perAxle(null)) as Entry[],
    trials: inForce.value?.trials.length ? [...inForce.value.trials] : perAxle(''),
    ranges: rig.value.axles.map((_, i) => rangeOf(i)),
    ...way(),
  })
  const draft = useDraft(() => `targets ${id.value} ${inForce.value?.id ?? 'none'}`, inPlace(form))

  const choice = computed(() => ({
    ...form,
    tables: [...form.tables],
    own: [...form.own],
    trials: [...form.trials],
    ranges: form.ranges.map((r) => (r.to === null ? null : { to: r.to, feel: r.feel })),
  }))
  /** Counts what was changed besides the choice: a sample taken, a chalk result. */
  const again = ref(0)
  const inputs = computed(() => ({ choice: choice.value, again: again.value }))
  const work = useWork(inputs, (now) =>
    answer(api.POST('/api/v1/work/targets', { body: { rig: id.value, ...now.choice } })),
  )
  const answered = computed(() => work.answer.value)

  const { save: take, message: takeMessage } = useSave(async (key: string) => {
    await answer(api.POST('/api/v1/tables/samples', { body: { key } }))
    again.value++
    await Promise.all(['tables', 'samples'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
  })
  /** Which of the label's two rows counts: it goes with the load state. */
  const row = useSave(async (light: boolean) => {
    await answer(
      api.PUT('/api/v1/rigs/{rig_id}/placard-row', { params: { path: { rig_id: id.value } }, body: { light } }),
    )
    again.value++
    await refreshRig(id.value)
  })
  const once = useOnce()
  const {
    save: put,
    busy,
    fields,
    message,
  } = useSave(async () => {
    await answer(
      api.POST('/api/v1/rigs/{rig_id}/targets', {
        params: { path: { rig_id: id.value } },
        body: { ...choice.value, uuid: once.idOf(choice.value) },
      }),
    )
    once.stored()
    draft.saved()
    await refreshRig(id.value)
    draft.saved(true)
  })
  /** The rig follows the workspace's way again. */
  const back = useSave(async () => {
    const none = {
      version: back.newer.value || sheet.value.way.version,
      reserve: null,
      edge: null,
      step: null,
      school: null,
      between: null,
      spare_over: null,
    }
    await answer(api.PUT('/api/v1/rigs/{rig_id}/policy', { params: { path: { rig_id: id.value } }, body: none }))
    await refreshRig(id.value)
    Object.assign(form, way())
  })

  const same = computed(() => {
    const now = answered.value?.axles.map((a) => a.target_kpa)
    const then = inForce.value?.axles.map((a) => a.target_kpa)
    const s = inForce.value
    return Boolean(
      now &&
      s &&
      fresh.value &&
      JSON.stringify(now) === JSON.stringify(then) &&
      answered.value!.axles.every((a, i) => a.range_kpa === s.axles[i]?.range_kpa && a.feel === s.axles[i]?.feel) &&
      JSON.stringify(answered.value!.tables) === JSON.stringify(s.tables) &&
      JSON.stringify(answered.value!.spares.map((p) => p.target_kpa)) ===
        JSON.stringify(s.spares.map((p) => p.target_kpa)) &&
      (['reserve', 'step', 'edge', 'school', 'between'] as const).every((n) => form[n] === s[n]) &&
      answered.value!.axles.every((a, i) => !a.below_placard || (form.trials[i] ?? '') === (s.trials[i] ?? '')),
    )
  })
  /** Also that no pressure carries it is put in force: an older one must not stay that carries less. */
  const any = computed(() => answered.value?.axles.some((a) => !['not weighed', 'no table'].includes(a.state)))
  const no = (field: string) => fields.value[field] ?? work.fields.value[field]
  const elsewhere = computed(() => {
    const beside = /^(own|tables|trials|ranges)\.\d+(\.|$)|^weighing$/
    return Object.entries({ ...work.fields.value, ...fields.value }).find(([f]) => !beside.test(f))?.[1]
  })

  return reactive({
    form,
    draft,
    answered,
    stale: work.stale,
    changed: () => again.value++,
    take,
    put,
    back: back.save,
    chooseRow: row.save,
    busy,
    same,
    any,
    no,
    /** What is refused and belongs beside no entry. */
    refused: computed(() => (message.value && !Object.keys(fields.value).length ? message.value : elsewhere.value)),
    choicesRefused: computed(() => takeMessage.value || row.message.value || back.message.value),
  })
}
export type TargetForm = ReturnType<typeof useTargets>['form']
