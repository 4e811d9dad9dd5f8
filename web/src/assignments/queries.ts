import { ref } from 'vue'
import { sheet } from '@/rigs/queries'
import { answer, api, type Schemas } from '@/shared/api/client'
import { adrift, kept } from '@/shared/kept'
import { queries } from '@/shared/session'

export type Given = Schemas['DayRoundOut']
export type To = Schemas['ToIn']

/** What others do is seen without a reload [ms]. */
const AGAIN = 20_000
/** So many sheets are taken along for where there is no network. */
const ALONG = 12

/** A person's own day; kept, so that it is at hand without a network. */
export const ownDay = {
  queryKey: ['yard', 'day'],
  queryFn: () => kept('day', () => answer(api.GET('/api/v1/day'))),
  refetchInterval: AGAIN,
}
export const everybody = (who: string) => ({
  queryKey: ['yard', 'everybody', who],
  queryFn: () => answer(api.GET('/api/v1/day/everybody', { params: { query: { who } } })),
  refetchInterval: AGAIN,
})
/** Who has a rig's round to do. */
export const assignedOf = (rig: number) => ({
  queryKey: ['rig', rig, 'assigned'],
  queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/assigned', { params: { path: { rig_id: rig } } })),
})
export const people = { queryKey: ['people'], queryFn: () => answer(api.GET('/api/v1/people')) }
export const crews = { queryKey: ['crews'], queryFn: () => answer(api.GET('/api/v1/crews')) }

export async function refreshGiven(rig?: number): Promise<void> {
  await Promise.all([
    queries.invalidateQueries({ queryKey: ['yard'] }),
    queries.invalidateQueries({ queryKey: rig === undefined ? ['rig'] : ['rig', rig] }),
  ])
}

/** Takes the sheets of a day's first rigs along, one after the other. */
export async function takeAlong(rounds: Given[]): Promise<void> {
  for (const round of rounds.slice(0, ALONG)) {
    if (adrift.value) return
    await queries.prefetchQuery({ ...sheet(ref(round.rig)), staleTime: 600_000 })
  }
}
