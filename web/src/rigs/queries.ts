import type { Ref } from 'vue'
import { computed, watch } from 'vue'
import { changes, queries } from '@/shared/session'
import { answer, api, type Schemas } from '@/shared/api/client'
import { kept } from '@/shared/kept'

/** All that the screens of one rig stand on. */
export function sheet(id: Ref<number | null>) {
  return {
    queryKey: ['sheet', id],
    queryFn: () =>
      kept(`sheet ${id.value}`, () =>
        answer(api.GET('/api/v1/yard/{rig_id}', { params: { path: { rig_id: id.value! } } })),
      ),
    enabled: computed(() => id.value !== null),
  }
}

/** The round as it came last, by the mark of its content: one that did not change is not sent again. */
let last: { id: number; mark: string; round: Schemas['RoundOut'] } | null = null
// Another person's page holds nothing of the last one's.
watch(changes, () => (last = null))

async function fetchRound(id: number): Promise<Schemas['RoundOut']> {
  const before = last?.id === id ? last : null
  const call = api.GET('/api/v1/rounds/{round_id}', {
    params: { path: { round_id: id } },
    headers: before ? { 'If-None-Match': before.mark } : {},
    cache: 'no-store',
  })
  if (before && (await call.catch(() => null))?.response.status === 304) return before.round
  const round = await answer(call)
  const mark = (await call).response.headers.get('ETag')
  last = mark ? { id, mark, round } : null
  return round
}

/**
 * A round with what an entry changed in it. Where nothing else had changed since it came it is known whole by now, and is not
 * asked for again; else the next question brings the rest.
 */
export function withEntry(round: Schemas['RoundOut'], entered: Schemas['EnteredOut']): Schemas['RoundOut'] {
  const { mark_before, mark, wheels, ...more } = entered
  const whole = last?.id === entered.id && mark_before && bare(last.mark) === mark_before ? last.round : null
  const changed = new Map(wheels.map((w) => [w.code, w]))
  const from = whole ?? round
  const now = { ...from, ...more, wheels: from.wheels.map((w) => changed.get(w.code) ?? w) }
  if (whole) last = { id: entered.id, mark: `"${mark}"`, round: now }
  return now
}
/** A mark without what the way it was sent put around it. */
const bare = (mark: string) => mark.replace(/^W\/|"/g, '')

export function openRound(id: Ref<number | null>) {
  return {
    queryKey: ['round', id],
    queryFn: () => kept(`round ${id.value}`, () => fetchRound(id.value!)),
    enabled: computed(() => id.value !== null),
    // Taken whole and never changed in place: nothing watches its many parts.
    shallow: true,
  }
}

/** The pressure card; kept, so that it is at hand without a network. */
export function cardOf(id: Ref<number>) {
  return {
    queryKey: ['card', id],
    queryFn: () =>
      kept(`card ${id.value}`, () =>
        answer(api.GET('/api/v1/rigs/{rig_id}/card', { params: { path: { rig_id: id.value } } })),
      ),
  }
}

/** What a rig may be hitched to; of many the first, and those that fit what is typed. */
export const hitchable = (rig: number, find: string) => ({
  queryKey: ['rig', rig, 'hitchable', find],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/hitch', { params: { path: { rig_id: rig }, query: { find } } })),
})

export function tiresOf(id: Ref<number>) {
  return {
    queryKey: ['rig', id, 'tires'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/tires', { params: { path: { rig_id: id.value } } })),
  }
}

/** What the treads of a rig say, and where its tires may go. */
export function wearOf(id: Ref<number>) {
  return {
    queryKey: ['rig', id, 'wear'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/wear', { params: { path: { rig_id: id.value } } })),
  }
}

/** After something of a rig was saved: what hangs on it is asked again. */
export async function refreshRig(id: number): Promise<void> {
  await Promise.all([
    queries.invalidateQueries({ queryKey: ['sheet', id] }),
    queries.invalidateQueries({ queryKey: ['yard'] }),
    queries.invalidateQueries({ queryKey: ['rig', id] }),
  ])
}

/** After something that touches several rigs: hitching, an import. */
export async function refreshAll(): Promise<void> {
  await Promise.all(['sheet', 'yard', 'rig'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
}

/** A tire just taken off, to be put back with one press. */
export interface TakenOff {
  wheel: string
  tire: number
  on: string
  retired: boolean
  name: string
}
export type Sheet = Schemas['SheetOut']
/** The wheels of the whole in the order in which it is walked. */
export const walked = (sheet: Sheet) => {
  const wheels = sheet.train.flatMap((v) => v.wheels)
  return sheet.walk.map((code) => wheels.find((w) => w.code === code)!)
}
export const rigName = (rig: { fleet_number: string; name: string }) =>
  [rig.fleet_number, rig.name].filter(Boolean).join(' ')
