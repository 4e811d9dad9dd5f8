/** What was refused of the entries below, by the API's own names: a form gives it once, each entry finds its own. */
import { computed, inject, provide, type InjectionKey } from 'vue'

type Refused = (name: string) => string | undefined
const REFUSED: InjectionKey<Refused> = Symbol('what was refused')
const nothing: Refused = () => undefined

export const provideRefusals = (of: Refused) => provide(REFUSED, of)

/** For a part of a form, whose entries know only their own names: an axle of a rig. */
export function refusalsUnder(part: () => string) {
  const whole = useRefusals()
  provide(REFUSED, (name) => whole(`${part()}.${name}`))
}

/** What was refused around here, asked for by name. */
export const useRefusals = () => inject(REFUSED, nothing)

/** What an entry shows: what it was given itself, or what the form holds under its name. */
export function useRefusal(entry: { name?: string | undefined; message?: string | undefined }) {
  const whole = useRefusals()
  return computed(() => entry.message ?? (entry.name ? whole(entry.name) : undefined))
}
