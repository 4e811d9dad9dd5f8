/** Who is here, and what they may do: asked once, changed by signing in and out. */
import { QueryClient, useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, signInExpired, type Schemas } from '@/shared/api/client'
import { takeUnits } from '@/shared/units'

export type Session = Schemas['SessionOut']

export const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: true } },
})

async function fetchSession(): Promise<Session> {
  const session = await answer(api.GET('/api/v1/session'))
  takeUnits(session)
  return session
}

export function takeSession(session: Session): void {
  const before = queries.getQueryData<Session>(['session'])
  takeUnits(session)
  // Another person or workspace: nothing of the last one's may show through.
  if (before?.workspace?.id !== session.workspace?.id || before?.name !== session.name) {
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
  }
  queries.setQueryData(['session'], session)
  signInExpired.value = false
}

export function useSession() {
  const { data, error, refetch } = useQuery({
    queryKey: ['session'],
    queryFn: fetchSession,
    staleTime: Infinity,
  })
  const may = (what: string) => Boolean(data.value?.may.includes(what))
  return { session: data, error, refetch, may, kinds: computed(() => data.value?.kinds ?? []) }
}
