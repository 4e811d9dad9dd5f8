/**
 * Readings and notes on their way to the server. Each is written to the browser's database before it is sent and leaves
 * it only when the server says that it is stored, so neither a dead server nor a closed page loses one. Sending twice is
 * safe: the UUID is made here, once.
 */
import { createStore, del, entries, set } from 'idb-keyval'
import { v4 as uuid } from 'uuid'
import { ref } from 'vue'
import { answer, api, refusedOf, type Schemas } from './api/client'

export type Reading = Omit<Schemas['ReadingIn'], 'not_rolled' | 'after'> &
  Partial<Pick<Schemas['ReadingIn'], 'not_rolled' | 'after'>>
export interface Unsent {
  uuid: string
  round: number
  /** When it was entered, to send in that order. */
  at: number
  reading?: Reading
  note?: Schemas['WheelNoteIn']
  /** Why the server would not have it; empty while it is only waiting. */
  refused: string
}

const store = createStore('gentle-ballast', 'outbox')
export const unsent = ref<Unsent[]>([])
const stored = new Set<(round: Schemas['RoundOut']) => void>()
let sending = false

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

async function keep(item: Unsent): Promise<void> {
  const at = unsent.value.findIndex((u) => u.uuid === item.uuid)
  if (at < 0) unsent.value.push(item)
  else unsent.value[at] = item
  try {
    await set(item.uuid, plain(item), store)
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
    const left = (await entries<string, Unsent>(store)).map(([, item]) => item)
    for (const item of left.sort((a, b) => (a.at ?? 0) - (b.at ?? 0))) {
      if (!unsent.value.some((u) => u.uuid === item.uuid)) unsent.value.push(item)
    }
  } catch {
    return
  }
  void send()
}

function put(item: Unsent) {
  const path = { round_id: item.round, uuid: item.uuid }
  return item.note
    ? api.PUT('/api/v1/rounds/{round_id}/notes/{uuid}', { params: { path }, body: item.note })
    : api.PUT('/api/v1/rounds/{round_id}/readings/{uuid}', {
        params: { path },
        body: item.reading as Schemas['ReadingIn'],
      })
}

/** Sends what waits, oldest first. The server's view of the round goes to whoever listens. */
export async function send(): Promise<void> {
  if (sending) return
  sending = true
  try {
    for (let item = next(); item; item = next()) {
      try {
        const round = await answer<Schemas['RoundOut']>(put(item))
        // Told first: a reading is never, not for a moment, neither on its way nor on the server.
        stored.forEach((tell) => tell(round))
        await drop(item.uuid)
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
const next = () => unsent.value.find((u) => !u.refused)

async function add(item: Omit<Unsent, 'uuid' | 'at' | 'refused'>): Promise<Unsent | undefined> {
  const id = uuid()
  await keep({ ...item, uuid: id, at: Date.now(), refused: '' })
  await send()
  return unsent.value.find((u) => u.uuid === id)
}

/** Keeps a reading and sends it. Resolves with it as it stands then: gone from the outbox when it is stored. */
export const enter = (round: number, reading: Reading) => add({ round, reading })

/** Keeps what was seen at a wheel and sends it, in the same way. */
export const jot = (round: number, note: Schemas['WheelNoteIn']) => add({ round, note })

/** Takes a refused entry back, so that its wheel can be read again. */
export const withdraw = drop

export function onStored(tell: (round: Schemas['RoundOut']) => void): () => void {
  stored.add(tell)
  return () => stored.delete(tell)
}

setInterval(() => unsent.value.length && void send(), 4000)
window.addEventListener('online', () => void send())
