import createClient from 'openapi-fetch'
import { ref } from 'vue'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

/** Set when the server no longer knows the session; the page stays as it is, with a sign-in over it. */
export const signInExpired = ref(false)
/** Set when the server says that somebody else is signed in here by now, or another workspace is in hand. */
export const somebodyElse = ref(false)

/** As whom this page speaks, "person.workspace": the server turns away what is meant as another. */
let speaksAs = ''

/** Counts sign-ins, so that a late refusal from before the last one does not ask for another. */
let signIns = 0
const askedAt = new WeakMap<Request, number>()

export function signedIn(as: string): void {
  signIns++
  speaksAs = as
  signInExpired.value = somebodyElse.value = false
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

/** A request that is not answered in this time is given up: a hanging one holds nothing back. */
export const PATIENCE_MS = 30_000

const heard = new Set<() => void>()
/** Tells whenever the server answers, whatever it says. */
export function onHeard(tell: () => void): void {
  heard.add(tell)
}

/** Given up by whoever asked, or when it takes too long. By hand: not every browser joins signals itself. */
function patiently(request: Request): Promise<Response> {
  const own = new AbortController()
  const late = () => own.abort(new DOMException('It took too long.', 'TimeoutError'))
  const timer = setTimeout(late, PATIENCE_MS)
  request.signal.addEventListener('abort', () => own.abort(request.signal.reason))
  return fetch(request, { signal: own.signal }).finally(() => clearTimeout(timer))
}

export const api = createClient<paths>({ baseUrl: '', fetch: patiently })
api.use({
  onRequest({ request, schemaPath }) {
    request.headers.set('X-CSRFToken', csrfToken())
    const ofOneself = schemaPath.startsWith('/api/v1/session') || request.headers.has('X-Ballast-As')
    if (speaksAs && !ofOneself) request.headers.set('X-Ballast-As', speaksAs)
    askedAt.set(request, signIns)
    return request
  },
  async onResponse({ request, response, schemaPath }) {
    if (response.status < 502) heard.forEach((tell) => tell())
    if (schemaPath === '/api/v1/session' || askedAt.get(request) !== signIns) return
    if (response.status === 401) signInExpired.value = true
    if (response.status === 409) {
      const said = (await response
        .clone()
        .json()
        .catch(() => null)) as Problem | null
      if (said?.fields?.some((f) => f.field === 'session')) somebodyElse.value = true
    }
  },
})

/** A refusal of the server, or of the network, in plain words. */
export class Refused extends Error {
  readonly fields: Record<string, string>
  /** Of what somebody changed meanwhile: what is stored by now. Sent with it, the same is saved over it. */
  readonly version: string
  constructor(
    readonly status: number,
    problem: Partial<Problem> & { message: string },
    /** It took too long: others may be answered. */
    readonly hung = false,
  ) {
    super(problem.message)
    this.fields = Object.fromEntries((problem.fields ?? []).map((f) => [f.field, f.message]))
    this.version = problem.version ?? ''
  }
  /** Nobody answered: what was sent may be sent again. */
  get unreachable(): boolean {
    return this.status === 0 || (this.status >= 502 && this.status <= 504)
  }
}

type Outcome<T> = { data?: T; error?: unknown; response: Response }

/** The answer of a call, or a Refused. */
export async function answer<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>
  try {
    outcome = await call
  } catch (error) {
    const hung = error instanceof DOMException && /^(Timeout|Abort)Error$/.test(error.name)
    const message = 'The server does not answer. What you entered is still here: try again.'
    throw new Refused(0, { message }, hung)
  }
  if (outcome.response.ok) return outcome.data as T
  const said = outcome.error as Partial<Problem> | undefined
  throw new Refused(outcome.response.status, {
    ...said,
    message: said?.message ?? `The server could not do that (${outcome.response.status}). Try again.`,
  })
}

export function refusedOf(error: unknown): Refused {
  return error instanceof Refused ? error : new Refused(0, { message: String(error) })
}

/** There is no such thing, or it is not this person's to see. */
export const missing = (error: unknown): boolean => error instanceof Refused && error.status === 404
