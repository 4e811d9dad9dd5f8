/** Who is here, and what they may do: asked once, changed by signing in and out. */
import { QueryClient, useQuery } from '@tanstack/vue-query'
import { computed, shallowRef, watch } from 'vue'
import { answer, api, signedIn, signInExpired, type Schemas } from '@/shared/api/client'
import { forgetAll, keep, kept } from '@/shared/kept'
import { takeUnits } from '@/shared/units'

export type Session = Schemas['SessionOut']

export const queries = new QueryClient({
  // Asked whatever the browser believes of the network: without it, what was kept is shown.
  defaultOptions: {
    queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: true, networkMode: 'always' },
  },
})

async function fetchSession(): Promise<Session> {
  const session = await kept('session', () => answer(api.GET('/api/v1/session')))
  takeUnits(session)
  if (!session.workspace) void forgetAll()
  return session
}

/** The session as it was when somebody was last signed in: it stays on the screen when the sign-in expires. */
const lastSignedIn = shallowRef<Session | null>(null)

export function takeSession(session: Session): void {
  const before = lastSignedIn.value
  takeUnits(session)
  // Another person or workspace: nothing of the last one's may show through.
  const other =
    before !== null && (before.workspace?.id !== session.workspace?.id || before.name !== session.name)
  if (other) {
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
  }
  lastSignedIn.value = session.workspace ? session : null
  // What was kept for times without a network is one person's in one workspace, and goes with them.
  void (other || !session.workspace ? forgetAll() : Promise.resolve()).then(() => keep('session', session))
  queries.setQueryData(['session'], session)
  signedIn()
}

export function useSession() {
  const { data, error, refetch } = useQuery({
    queryKey: ['session'],
    queryFn: fetchSession,
    staleTime: Infinity,
  })
  watch(data, (now) => now?.workspace && (lastSignedIn.value = now), { immediate: true })
  /** Whose page is shown: also while a sign-in over it waits. */
  const shown = computed(() => (signInExpired.value && lastSignedIn.value) || data.value)
  const may = (what: string) => Boolean(shown.value?.may.includes(what))
  return { session: data, shown, error, refetch, may, kinds: computed(() => shown.value?.kinds ?? []) }
}

/** The choices that the server names, as a list takes them. */
export const pairs = <T extends string>(of: { key: string; name: string }[] | undefined) =>
  (of ?? []).map((o) => ({ key: o.key as T, name: o.name }))
