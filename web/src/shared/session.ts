/** Who is here, and what they may do: asked once, changed by signing in and out. */
import { QueryClient, useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef, watch } from 'vue'
import { answer, api, refusedOf, signedIn, signInExpired, somebodyElse, type Schemas } from '@/shared/api/client'
import { adrift, forgetAll, keep, kept } from '@/shared/kept'
import { isHere } from '@/shared/outbox'
import { takeUnits } from '@/shared/units'

export type Session = Schemas['SessionOut']

export const queries = new QueryClient({
  // Asked whatever the browser believes of the network: without it, what was kept is shown.
  defaultOptions: {
    queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: true, networkMode: 'always' },
  },
})

/** The session as it was when somebody was last signed in: it stays on the screen when the sign-in expires. */
const lastSignedIn = shallowRef<Session | null>(null)
const key = (s: Session | null) => (s?.workspace ? `${s.person}.${s.workspace.id}` : '')
/** Counts changes of person or workspace: the page begins anew, in the Yard. */
export const changes = ref(0)
/** Counts sessions that were taken, so that an answer of before the last one is not taken for now. */
let taken = 0

const NOBODY = { person: null, name: null, role: null, may: [], workspace: null, workspaces: [], demo: [] }

/** Makes a session the one in hand. Of another person or workspace nothing of the last one's may show through. */
function settle(session: Session): void {
  const before = key(lastSignedIn.value)
  const now = key(session)
  takeUnits(session)
  if (now) lastSignedIn.value = session
  // An expired sign-in leaves the page where it is, until it is known who comes.
  if (!now) return
  signedIn(now)
  isHere({
    person: session.person!,
    name: session.name ?? '',
    workspace: session.workspace!.id,
    workspaceName: session.workspace!.name,
  })
  if (before === '' || before === now) return
  changes.value++
  queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
  // What was kept for times without a network is one person's in one workspace, and goes with them.
  void forgetAll().then(() => keep('session', session))
}

async function fetchSession(): Promise<Session> {
  const asked = taken
  await endWhatWasLeft()
  const session = await kept('session', () => answer(api.GET('/api/v1/session')))
  const now = queries.getQueryData<Session>(['session'])
  if (asked !== taken && now) {
    void keep('session', now)
    return now
  }
  // Left, and the server does not know it yet: nobody is here.
  if (leftUntold.value) return { ...session, ...NOBODY }
  settle(session)
  if (!session.workspace && !signInExpired.value) void forgetAll()
  return session
}

export function takeSession(session: Session): void {
  taken++
  // Whoever signs in ends what the one before left open.
  if (session.workspace) remember(false)
  void queries.cancelQueries({ queryKey: ['session'], exact: true })
  settle(session)
  void keep('session', session)
  queries.setQueryData(['session'], session)
}

/** Takes another of one's workspaces in hand. */
export async function takeInHand(workspace: number): Promise<void> {
  takeSession(await answer(api.PUT('/api/v1/session/workspace', { body: { workspace } })))
}

// -- leaving -----------------------------------------------------------------------------------
/** Somebody left while the server did not answer: it has yet to be told. Kept over a reload where storage is allowed. */
export const leftUntold = ref(false)
function remember(leaving: boolean): void {
  leftUntold.value = leaving
  try {
    if (leaving) localStorage.setItem('leaving', '1')
    else localStorage.removeItem('leaving')
  } catch {
    // Storage may be forbidden; it is then known as long as the page.
  }
}
try {
  leftUntold.value = localStorage.getItem('leaving') !== null
} catch {
  leftUntold.value = false
}

function gone(session: Session): void {
  taken++
  void queries.cancelQueries()
  queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
  lastSignedIn.value = null
  isHere(null)
  signedIn('')
  changes.value++
  void forgetAll().then(() => keep('session', session))
  queries.setQueryData(['session'], session)
}

/** Signs out; without a network this page is emptied all the same, and the server is told when it answers. */
export async function leave(): Promise<void> {
  const before = lastSignedIn.value
  try {
    gone(await answer(api.DELETE('/api/v1/session')))
  } catch (error) {
    if (!refusedOf(error).unreachable && refusedOf(error).status !== 401) throw error
    remember(refusedOf(error).unreachable)
    if (before) gone({ ...before, ...NOBODY })
  }
}

async function endWhatWasLeft(): Promise<void> {
  if (!leftUntold.value) return
  try {
    await answer(api.DELETE('/api/v1/session'))
  } catch (error) {
    if (refusedOf(error).status !== 401) return
  }
  remember(false)
  void queries.refetchQueries({ queryKey: ['session'], exact: true })
}
setInterval(() => void endWhatWasLeft(), 4000)

// While nobody answers the server is asked now and then; there again, what is shown is asked anew.
setInterval(() => adrift.value && void answer(api.GET('/api/v1/session')).catch(() => null), 3000)
watch(adrift, (is) => {
  if (is) return
  void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'session' })
  if (!lastSignedIn.value) void queries.refetchQueries({ queryKey: ['session'], exact: true })
})
watch(somebodyElse, (is) => is && void queries.refetchQueries({ queryKey: ['session'], exact: true }))

export function useSession() {
  const { data, error, refetch } = useQuery({
    queryKey: ['session'],
    queryFn: fetchSession,
    staleTime: Infinity,
  })
  /** Whose page is shown: also while a sign-in over it waits. */
  const shown = computed(() => (signInExpired.value && lastSignedIn.value) || data.value)
  const may = (what: string) => Boolean(shown.value?.may.includes(what))
  return { session: data, shown, error, refetch, may, kinds: computed(() => shown.value?.kinds ?? []) }
}

/** The choices that the server names, as a list takes them. */
export const pairs = <T extends string>(of: { key: string; name: string }[] | undefined) =>
  (of ?? []).map((o) => ({ key: o.key as T, name: o.name }))
