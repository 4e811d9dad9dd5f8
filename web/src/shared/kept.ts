/** Answers of the server kept in the browser, shown again while it cannot be reached. */
import { clear, createStore, get, keys, set } from 'idb-keyval'
import { ref } from 'vue'
import { onHeard, refusedOf } from './api/client'

const store = createStore('gentle-ballast-kept', 'answers')
/** Whether what is shown was kept because nobody answered. */
export const adrift = ref(false)
// Whatever the server says, it is there again.
onHeard(() => (adrift.value = false))

/** Writes an answer down. Without a database of the browser's own it is simply not there later. */
export async function keep(key: string, value: unknown): Promise<void> {
  try {
    await set(key, JSON.parse(JSON.stringify(value)), store)
  } catch {
    return
  }
}

/** What was written down under a name, if anything was. */
export const keptBefore = <T>(key: string) => get<T>(key, store).catch(() => undefined)

/** When an answer was kept, and under which names there are answers. */
export const keptAt = (key: string) => keptBefore<number>(`at ${key}`)
export const keptNames = (): Promise<string[]> =>
  keys<string>(store).then(
    (names) => names,
    () => [],
  )

/** Asks; keeps what was answered; where nobody answers, gives what was kept. */
export async function kept<T>(key: string, ask: () => Promise<T>): Promise<T> {
  try {
    const answer = await ask()
    void keep(key, answer)
    void keep(`at ${key}`, Date.now())
    return answer
  } catch (error) {
    if (!refusedOf(error).unreachable) throw error
    const before = await keptBefore<T>(key)
    if (before === undefined) throw error
    adrift.value = true
    return before
  }
}

/** After leaving: nothing of a person's stays behind. What waits in the outbox is not touched. */
export async function forgetAll(): Promise<void> {
  await clear(store).catch(() => undefined)
}
