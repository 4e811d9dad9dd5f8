/** The rig that is being described: its form, what the server makes of it, and what is done to its axles. */
import { until } from '@vueuse/core'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useSession } from '@/shared/session'
import { answer, api } from '@/shared/api/client'
import { metersOf, say } from '@/shared/units'
import { useDraft } from '@/shared/useDraft'
import { useWork } from '@/shared/useWork'
import { blankRig, outline, rigBody, rigValue, spare, tireOf, type AxleForm } from './rigForm'

/** `id`: of a stored rig that is changed; `copy`: of one that another is like. */
export function useRigForm(props: { id?: number; copy?: number }) {
  const source = computed(() => props.id ?? props.copy)
  const { kinds } = useSession()
  const kindOf = (key: string) => kinds.value.find((k) => k.key === key)
  const form = ref(blankRig(kindOf('coach')))
  const ownAxles = ref(false)
  const { data: stored } = useQuery({
    queryKey: ['rig', source],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}', { params: { path: { rig_id: source.value! } } })),
    enabled: computed(() => source.value !== undefined),
  })
  async function fill() {
    if (source.value === undefined) return
    const rig = await until(stored).toBeTruthy()
    ownAxles.value = true
    form.value = rigValue(rig, props.copy !== undefined)
  }
  const draft = useDraft(() => `rig ${props.id ?? `like ${props.copy ?? 'none'}`}`, form, { begin: fill() })
  watch(draft.taken, (is) => (ownAxles.value ||= is))
  watch([() => form.value.kind, kinds], ([now]) => {
    const begun = form.value.axles.some((a) => a.tire_size || a.gawr_kg !== null)
    if (!ownAxles.value && !begun) form.value.axles = outline(kindOf(now))
  })

  // -- axles -----------------------------------------------------------------------------------
  const removed = ref<{ at: number; axle: AxleForm } | null>(null)
  function addAxle(behind = form.value.axles.length - 1) {
    ownAxles.value = true
    const like = form.value.axles[behind]!
    form.value.axles.splice(behind + 1, 0, { ...like, position_m: null, gawr_kg: null, lift: false, role: '' })
  }
  function moveAxle(i: number, position: number) {
    ownAxles.value = true
    form.value.axles[i]!.position_m = position
    if (form.value.axles.length === 2 && form.value.wheelbase_m !== null) form.value.wheelbase_m = position
  }
  function toggleDual(i: number) {
    ownAxles.value = true
    const a = form.value.axles[i]!
    a.wheels = a.wheels === 4 ? 2 : 4
  }
  function removeAxle(i: number) {
    if (form.value.axles.length === 1) return
    ownAxles.value = true
    removed.value = { at: i, axle: form.value.axles[i]! }
    form.value.axles.splice(i, 1)
  }
  function undoRemove() {
    if (removed.value) form.value.axles.splice(removed.value.at, 0, removed.value.axle)
    removed.value = null
  }
  function sameAllRound(i: number) {
    const like = tireOf(form.value.axles[i]!)
    for (const a of form.value.axles) Object.assign(a, like)
  }
  function addSpare() {
    const { tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa } = form.value.axles.at(-1)!
    form.value.spares.push({ ...spare(), tire_size, tire_make, load_range, sidewall_max_kpa, wheel_max_kpa })
  }

  // -- what the server makes of it -------------------------------------------------------------
  const kind = computed(() => kindOf(form.value.kind))
  const trailer = computed(() => kind.value?.trailer ?? false)
  const body = computed(() => rigBody(form.value, trailer.value))
  // A stored rig is asked about only once it has filled the form.
  const inputs = computed(() => (source.value === undefined || stored.value ? body.value : null))
  const work = useWork(inputs, (data) => answer(api.POST('/api/v1/work/rigs', { body: data })))
  function caution(field: string): string | undefined {
    const doubt = work.answer.value?.cautions.find((c) => c.field === field)
    return doubt && say(doubt.words)
  }
  const axleName = (i: number) => kind.value?.axles[form.value.axles.length - 1]?.[i] ?? ''
  /** As it is drawn: what is typed at once, the rest as the server draws it. */
  const axles = computed(() => {
    const drawn = work.answer.value?.axles.map((a) => a.drawn) ?? kind.value?.outline ?? []
    return form.value.axles.map((a, i) => ({
      number: i + 1,
      name: axleName(i),
      drawn: {
        position_m: metersOf(a.position_m) ?? drawn[i]?.position_m ?? (drawn.at(-1)?.position_m ?? 0) + 1,
        track_m: metersOf(a.track_m) ?? drawn[i]?.track_m ?? drawn.at(-1)?.track_m ?? 1,
      },
      wheels: a.wheels,
      lift: a.lift,
    }))
  })
  return {
    ...{ form, stored, draft, kind, trailer, body, work, caution, axleName, axles, removed, ownAxles },
    ...{ addAxle, moveAxle, toggleDual, removeAxle, undoRemove, sameAllRound, addSpare },
  }
}
