/**
 * Readings on their way to the server. Each is written to the browser's database before it is sent
 * and leaves it only when the server says that it is stored, so neither a dead server nor a closed
 * page loses one. Sending twice is safe: the UUID is made here, once.
 */
import { createStore, del, entries, set } from 'idb-keyval'
import { v4 as uuid } from 'uuid'
import { ref } from 'vue'
import { answer, api, refusedOf, type Schemas } from './api/client'

export interface Unsent {
  uuid: string
  round: number
  reading: Schemas['ReadingIn']
  /** Why the server would not have it; empty while it is only waiting. */
  refused: string
}

const store = createStore('gentle-ballast', 'outbox')
export const unsent = ref<Unsent[]>([])
const stored = new Set<(round: Schemas['RoundOut']) => void>()
let sending = false

async function keep(item: Unsent): Promise<void> {
  const at = unsent.value.findIndex((u) => u.uuid === item.uuid)
  if (at < 0) unsent.value.push(item)
  else unsent.value[at] = item
  try {
    await set(item.uuid, { ...item, reading: { ...item.reading } }, store)
  } catch {
    // Without a database of the browser's own it is still kept on the page, and said to be unsent.
  }
}

async function drop(id: string): Promise<void> {
  unsent.value = unsent.value.filter((u) => u.uuid !== id)
  try {
    await del(id, store)
  } catch {
    // It was never there.
  }
}

/** Reads what an earlier page left unsent. */
export async function recall(): Promise<void> {
  try {
    for (const [, item] of await entries<string, Unsent>(store)) {
      if (!unsent.value.some((u) => u.uuid === item.uuid)) unsent.value.push(item)
    }
  } catch {
    return
  }
  void send()
}

/** Sends what waits, oldest first. The server's view of the round goes to whoever listens. */
export async function send(): Promise<void> {
  if (sending) return
  sending = true
  try {
    for (const item of [...unsent.value]) {
      if (item.refused) continue
      try {
        const round = await answer(
          api.PUT('/api/v1/rounds/{round_id}/readings/{uuid}', {
            params: { path: { round_id: item.round, uuid: item.uuid } },
            body: item.reading,
          }),
        )
        await drop(item.uuid)
        stored.forEach((tell) => tell(round))
      } catch (error) {
        const no = refusedOf(error)
        // Nobody there, or signed out: it waits. Anything else the person must see.
        if (no.unreachable || no.status === 401 || no.status >= 500) break
        await keep({ ...item, refused: Object.values(no.fields)[0] ?? no.message })
      }
    }
  } finally {
    sending = false
  }
}

/** Keeps a reading and sends it. Resolves with it as it stands then: gone from the outbox when it is stored. */
export async function enter(round: number, reading: Schemas['ReadingIn']): Promise<Unsent | undefined> {
  const id = uuid()
  await keep({ uuid: id, round, reading, refused: '' })
  await send()
  return unsent.value.find((u) => u.uuid === id)
}

/** Takes a refused reading back, so that its wheel can be read again. */
export const withdraw = drop

export function onStored(tell: (round: Schemas['RoundOut']) => void): () => void {
  stored.add(tell)
  return () => stored.delete(tell)
}

setInterval(() => unsent.value.length && void send(), 4000)
window.addEventListener('online', () => void send())
