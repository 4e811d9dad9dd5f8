import { rigName } from '@/rigs/queries'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import { adrift, kept, keptBefore } from '@/shared/kept'
import { whileAnew } from '@/shared/soon'

export type Line = Schemas['YardRigOut']
export type Sort = 'urgency' | 'number' | 'weighed' | 'read'
/** What a matter of a rig is about. */
export type About = Schemas['YardLineOut']['key']
/** What of the Yard is asked for. */
export interface Asked {
  find: string
  lines: About[]
  sort: Sort
  /** Only rigs whose round is due and that nobody has to do. */
  unassigned: boolean
  /** Only rigs of which a tire wants air today, by prediction. */
  air: boolean
  /** Only rigs that a dawn before their next check asks for a round at once. */
  dawn: boolean
  /** Only rigs that have each of these tags. */
  tags: number[]
}
export const ALL: Asked = {
  find: '',
  lines: [],
  sort: 'urgency',
  unassigned: false,
  air: false,
  dawn: false,
  tags: [],
}
const SORTS: Sort[] = ['urgency', 'number', 'weighed', 'read']
/** What is asked for by an address of the Yard, as it stands behind the question mark. */
export function askedOf(query: string): Asked {
  const said = new URLSearchParams(query)
  return {
    find: said.get('find') ?? '',
    lines: said.getAll('lines').filter(Boolean) as About[],
    sort: SORTS.find((s) => s === said.get('sort')) ?? 'urgency',
    unassigned: Boolean(said.get('unassigned')),
    air: Boolean(said.get('air')),
    dawn: Boolean(said.get('dawn')),
    tags: said.getAll('tags').map(Number).filter(Boolean),
  }
}
/** The same, as it stands in the address. */
export const addressOf = ({ find, lines, sort, unassigned, air, dawn, tags }: Asked) => ({
  ...(find && { find }),
  ...(lines.length && { lines }),
  ...(sort !== 'urgency' && { sort }),
  ...(unassigned && { unassigned: '1' }),
  ...(air && { air: '1' }),
  ...(dawn && { dawn: '1' }),
  ...(tags.length && { tags: tags.map(String) }),
})
/** Whether some rigs do not fit. */
export const narrows = (of: Asked) =>
  Boolean(of.find || of.lines.length || of.unassigned || of.air || of.dawn || of.tags.length)
export const queryOf = (path: string) => path.split('?')[1] ?? ''
export const yardQuery = (asked: Asked, first: number) => ({ ...asked, first })

/** The lines of the Yard from one on. As it opens it is kept, so that it is at hand without a network. */
export const yardPage = (asked: Asked, first: number) => ({
  queryKey: ['yard', asked, first],
  queryFn: async (): Promise<Schemas['YardOut']> => {
    const ask = () => answer(api.GET('/api/v1/yard', { params: { query: yardQuery(asked, first) } }))
    if (!narrows(asked) && asked.sort === 'urgency') return kept(first ? `yard ${first}` : 'yard', ask)
    try {
      return await ask()
    } catch (error) {
      // What is kept is searched here instead.
      adrift.value ||= refusedOf(error).unreachable
      throw error
    }
  },
  refetchInterval: (query: { state: { data?: Schemas['YardOut'] } }) => whileAnew(query.state.data?.anew) as false,
})

/** Which of some rigs a dawn before their next check asks for a round at once. */
export const dawnsOf = (rigs: number[]) => ({
  queryKey: ['yard', 'dawns', rigs],
  queryFn: () => answer(api.GET('/api/v1/morning/dawns', { params: { query: { rigs } } })),
})

export const rigText = (r: { fleet_number: string; name: string; kind_name: string }) =>
  `${rigName(r)} ${r.kind_name}`.toLowerCase()
export const fits = (text: string, typed: string) =>
  typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word))

/** The rigs that what is typed may mean; without a network, of those that are kept. */
export const finder = (find: string) => ({
  queryKey: ['yard', 'finder', find],
  queryFn: async (): Promise<Schemas['FoundOut'][]> => {
    try {
      return await answer(api.GET('/api/v1/finder', { params: { query: { find } } }))
    } catch (error) {
      if (!refusedOf(error).unreachable) throw error
      const yard = await keptBefore<Schemas['YardOut']>('yard')
      if (!yard) throw error
      return yard.rigs.filter((r) => fits(rigText(r), find)).slice(0, 8)
    }
  },
})
