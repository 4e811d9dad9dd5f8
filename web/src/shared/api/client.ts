import createClient from 'openapi-fetch'
import { ref } from 'vue'
import type { components, paths } from './schema'

export type Schemas = components['schemas']
export type Problem = Schemas['Problem']

/** Set when the server no longer knows the session; the page stays as it is, with a sign-in over it. */
export const signInExpired = ref(false)

/** Counts sign-ins, so that a late refusal from before the last one does not ask for another. */
let signIns = 0
const askedAt = new WeakMap<Request, number>()

export function signedIn(): void {
  signIns++
  signInExpired.value = false
}

function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? ''
}

export const api = createClient<paths>({ baseUrl: '' })
api.use({
  onRequest({ request }) {
    request.headers.set('X-CSRFToken', csrfToken())
    askedAt.set(request, signIns)
    return request
  },
  onResponse({ request, response, schemaPath }) {
    if (response.status !== 401 || schemaPath === '/api/v1/session') return
    if (askedAt.get(request) === signIns) signInExpired.value = true
  },
})

/** A refusal of the server, or of the network, in plain words. */
export class Refused extends Error {
  readonly fields: Record<string, string>
  constructor(
    readonly status: number,
    problem: Problem,
  ) {
    super(problem.message)
    this.fields = Object.fromEntries((problem.fields ?? []).map((f) => [f.field, f.message]))
  }
  /** Nobody answered: what was sent may be sent again. */
  get unreachable(): boolean {
    return this.status === 0 || this.status >= 502
  }
}

type Outcome<T> = { data?: T; error?: unknown; response: Response }

/** The answer of a call, or a Refused. */
export async function answer<T>(call: Promise<Outcome<T>>): Promise<T> {
  let outcome: Outcome<T>
  try {
    outcome = await call
  } catch {
    throw new Refused(0, {
      message: 'The server does not answer. What you entered is still here: try again.',
      fields: [],
    })
  }
  if (outcome.response.ok) return outcome.data as T
  const said = outcome.error as Partial<Problem> | undefined
  throw new Refused(outcome.response.status, {
    message: said?.message ?? `The server could not do that (${outcome.response.status}). Try again.`,
    fields: said?.fields ?? [],
  })
}

export function refusedOf(error: unknown): Refused {
  return error instanceof Refused ? error : new Refused(0, { message: String(error), fields: [] })
}
