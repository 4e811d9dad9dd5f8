/** What waits to be sent as the browser's own database has it: whatever is written there is there after a reload. */
import { createStore, del, entries, set } from 'idb-keyval'
import { ref } from 'vue'

type Entry = { uuid: string }
const store = createStore('gentle-ballast', 'outbox')
const written = ref(new Set<string>())
export const isWritten = (entry: Entry) => written.value.has(entry.uuid)
/** Whether the browser keeps anything: not where it has no database of its own, or that is full. */
export const keeps = ref(true)

export async function write(entry: Entry): Promise<void> {
  try {
    await set(entry.uuid, JSON.parse(JSON.stringify(entry)), store)
    written.value.add(entry.uuid)
    keeps.value = true
  } catch {
    // It is on the page still, and said to be there alone.
    keeps.value = false
  }
}

export async function erase(uuid: string): Promise<void> {
  written.value.delete(uuid)
  try {
    await del(uuid, store)
  } catch {
    // It was never there.
  }
}

/** What an earlier page left; nothing where there is no database. */
export async function left<E extends Entry>(): Promise<E[]> {
  try {
    const all = (await entries<string, E>(store)).map(([, entry]) => entry)
    for (const entry of all) written.value.add(entry.uuid)
    return all
  } catch {
    return []
  }
}
