import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import { adrift, kept, keptBefore } from '@/shared/kept'

export type Line = Schemas['YardRigOut']
export type Order = 'urgency' | 'number' | 'weighed' | 'read'
/** What a matter of a rig is about. */
export type About = Schemas['YardLineOut']['key']
/** What of the Yard is asked for. */
export interface Asked {
  find: string
  lines: About[]
  order: Order
}
export const ALL: Asked = { find: '', lines: [], order: 'urgency' }

/** So many lines the server gives at a time. */
export const PAGE = 50
/** Soon again, while something is still worked out [ms]. */
const SOON = 1500

/** A page of the Yard. As it opens it is kept, so that it is at hand without a network. */
export const yardPage = (asked: Asked, page: number) => ({
  queryKey: ['yard', asked, page],
  queryFn: async () => {
    const ask = () =>
      answer(api.GET('/api/v1/yard', { params: { query: { ...asked, skip: page * PAGE } } })) as Promise<
        Schemas['YardOut']
      >
    if (!asked.find && !asked.lines.length && asked.order === 'urgency')
      return kept(page ? `yard ${page}` : 'yard', ask)
    try {
      return await ask()
    } catch (error) {
      // What is kept is searched here instead.
      adrift.value ||= refusedOf(error).unreachable
      throw error
    }
  },
  refetchInterval: (query: { state: { data?: Schemas['YardOut'] } }) =>
    (query.state.data?.anew ? SOON : false) as false,
})

export const rigText = (r: { fleet_number: string; name: string; kind_name: string }) =>
  `${r.fleet_number} ${r.name} ${r.kind_name}`.toLowerCase()
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
