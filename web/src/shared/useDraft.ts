/** What is being typed into a form, kept in the browser: a reload, Back or an expired sign-in lose nothing of it. */
import { watchDebounced } from '@vueuse/core'
import { computed, onMounted, ref, type Ref, type WritableComputedRef } from 'vue'
import { keep, keptBefore } from './kept'

interface Kept<T> {
  at: number
  form: T
  /** As the form stood before anything was typed: what is unlike that was typed, and only that is put back. */
  was: T
}

function unlike<T extends object>({ form, was }: Kept<T>): T | null {
  if (Array.isArray(form)) return JSON.stringify(form) === JSON.stringify(was) ? null : form
  const typed = Object.entries(form).filter(([k, v]) => JSON.stringify(v) !== JSON.stringify(was[k as keyof T]))
  return typed.length ? (Object.fromEntries(typed) as T) : null
}

/**
 * Fills `form` with what was typed under that name before, unless it was saved or thrown away. `taken` is true once something
 * was. `begin`: what it waits for, so that what is stored may fill the form first; `lasts_ms`: how long it is good for.
 */
export function useDraft<T extends object>(
  name: () => string,
  form: Ref<T> | WritableComputedRef<T>,
  { begin, lasts_ms = Infinity }: { begin?: Promise<unknown> | undefined; lasts_ms?: number } = {},
) {
  const taken = ref(false)
  let blank = ''
  let watching = false
  const text = () => JSON.stringify(form.value)

  onMounted(async () => {
    await begin
    blank = text()
    const kept = await keptBefore<Kept<T> | null>(`draft ${name()}`)
    const typed = kept && Date.now() - kept.at < lasts_ms ? unlike(kept) : null
    if (typed) {
      form.value = Array.isArray(typed) ? typed : { ...form.value, ...typed }
      taken.value = true
    }
    watching = true
  })
  watchDebounced(
    text,
    (now) =>
      watching &&
      void keep(
        `draft ${name()}`,
        now === blank ? null : { at: Date.now(), form: form.value, was: JSON.parse(blank) as T },
      ),
    { debounce: 150 },
  )

  /** It was saved: the next one begins anew; with `stays` on this page. */
  function saved(stays = false) {
    watching = false
    taken.value = false
    void keep(`draft ${name()}`, null)
    if (!stays) return
    blank = text()
    watching = true
  }
  function throwAway() {
    form.value = JSON.parse(blank) as T
    taken.value = false
    void keep(`draft ${name()}`, null)
  }
  return { taken, saved, throwAway }
}

/** A form that keeps its identity, as `useDraft` takes it. */
export const inPlace = <T extends object>(form: T): WritableComputedRef<T> =>
  computed({ get: () => ({ ...form }), set: (now) => Object.assign(form, now) })
