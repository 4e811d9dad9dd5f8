/**
 * Readings, notes and pictures on their way to the server. Each is written to the browser's database before it is sent and leaves
 * it only when the server says that it is stored, so neither a dead server nor a closed page loses one. Sending twice is
 * safe: the UUID is made here, once. An entry is its person's in its workspace: it is sent as that person, or waits for them.
 */
import { v4 as uuid } from 'uuid'
import { computed, ref } from 'vue'
import { answer, api, refusedOf, type Schemas } from './api/client'
import { erase, left, write } from './entryStore'
import { adrift } from './kept'

export type Reading = Omit<Schemas['ReadingIn'], 'not_rolled' | 'after'> &
  Partial<Pick<Schemas['ReadingIn'], 'not_rolled' | 'after'>>

/** Whose an entry is. */
export interface Owner {
  person: number
  name: string
  workspace: number
  workspaceName: string
}
export type GroundItem = { plan: string; rig: number } & (
  { open: Schemas['OpenIn'] } | { step: Schemas['StepIn'] } | { entry: Schemas['EntryIn'] }
)
export interface Unsent {
  uuid: string
  /** 0: of no round. */
  round: number
  /** What the round is of, for whoever looks at the list. */
  rig: string
  owner: Owner | null
  /** When it was entered, to send in that order. */
  at: number
  reading?: Reading
  note?: Schemas['WheelNoteIn']
  picture?: { rig: number; body: Schemas['PictureIn'] }
  /** Of a ground plan: opened, a stretch taken in hand, something done at a wheel. All of one plan go in turn. */
  ground?: GroundItem
  /** What a lamp that came on came to. */
  lamp?: { rig: number; body: Schemas['LampKeptIn'] }
  /** Why the server would not have it; empty while it is only waiting. */
  refused: string
  /** The server broke on it, or did not answer it in time: others went past it, and it is tried again after a while. */
  failed?: string
  tries?: number
  again?: number
}

export const unsent = ref<Unsent[]>([])
const stored = new Set<(entered: Schemas['EnteredOut']) => void>()
const pictured = new Set<() => void>()
const lamps = new Set<(sensors: Schemas['SensorsOut']) => void>()
const walked = new Set<(ground: Schemas['GroundOut']) => void>()
const me = ref<Owner | null>(null)
let sending = false
let onItsWay: { uuid: string; done: Promise<unknown>; giveUp: () => void } | null = null

/** So long one entry is waited for [ms]; then it is passed by. */
const PATIENCE = 15_000
/** It is tried again soon, for the server may only have been starting; then ever later [ms]. */
const again = (tries: number) => Date.now() + Math.min(60_000, 4_000 * 2 ** tries)

const plain = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T

/** Entries of before owners were kept belong to nobody: whoever is here decides. */
export const isMine = (item: Unsent) =>
  item.owner !== null && item.owner.person === me.value?.person && item.owner.workspace === me.value?.workspace
export const mine = computed(() => unsent.value.filter(isMine))
/** What waits for somebody else, or for another workspace. */
export const others = computed(() => unsent.value.filter((u) => !isMine(u)))

/** Says who is here, and sends what waits for them. */
export function isHere(owner: Owner | null): void {
  me.value = owner
  if (owner) void send()
}

async function keep(item: Unsent): Promise<void> {
  const at = unsent.value.findIndex((u) => u.uuid === item.uuid)
  if (at < 0) unsent.value.push(item)
  else unsent.value[at] = item
  await write(item)
}

async function drop(id: string): Promise<void> {
  unsent.value = unsent.value.filter((u) => u.uuid !== id)
  await erase(id)
}

/** Reads what an earlier page left unsent. */
export async function recall(): Promise<void> {
  const entries = await left<Unsent>()
  for (const item of entries.sort((a, b) => (a.at ?? 0) - (b.at ?? 0))) {
    if (!unsent.value.some((u) => u.uuid === item.uuid))
      unsent.value.push({ ...item, owner: item.owner ?? null, rig: item.rig ?? '' })
  }
  void send()
}

function putGround({ ground, uuid: entry }: Unsent, how: { signal: AbortSignal; headers: Record<string, string> }) {
  const of = ground!
  if ('open' in of)
    return api.POST('/api/v1/rigs/{rig_id}/ground', { params: { path: { rig_id: of.rig } }, body: of.open, ...how })
  if ('step' in of)
    return api.PUT('/api/v1/ground/{uuid}/step', { params: { path: { uuid: of.plan } }, body: of.step, ...how })
  return api.PUT('/api/v1/ground/{uuid}/entries/{entry}', {
    params: { path: { uuid: of.plan, entry } },
    body: of.entry,
    ...how,
  })
}

function put(item: Unsent, signal: AbortSignal) {
  const path = { round_id: item.round, uuid: item.uuid }
  const headers = { 'X-Ballast-As': `${item.owner!.person}.${item.owner!.workspace}` }
  if (item.ground) return putGround(item, { signal, headers })
  if (item.lamp)
    return api.PUT('/api/v1/rigs/{rig_id}/lamps/{uuid}', {
      params: { path: { rig_id: item.lamp.rig, uuid: item.uuid } },
      body: item.lamp.body,
      signal,
      headers,
    })
  if (item.picture)
    return api.PUT('/api/v1/rigs/{rig_id}/pictures/{uuid}', {
      params: { path: { rig_id: item.picture.rig, uuid: item.uuid } },
      body: item.picture.body,
      signal,
      headers,
    })
  return item.note
    ? api.PUT('/api/v1/rounds/{round_id}/notes/{uuid}', {
        params: { path },
        body: item.note,
        signal,
        headers,
      })
    : api.PUT('/api/v1/rounds/{round_id}/readings/{uuid}', {
        params: { path },
        body: item.reading as Schemas['ReadingIn'],
        signal,
        headers,
      })
}

const wheelOf = (item: Unsent) => item.reading?.wheel ?? item.note?.wheel
/** The next to be sent: of one wheel never a later entry before an earlier one. */
const next = (): Unsent | undefined => {
  const now = Date.now()
  const held = new Set<string>()
  for (const item of mine.value) {
    const wheel = item.picture || item.lamp ? item.uuid : (item.ground?.plan ?? `${item.round} ${wheelOf(item)}`)
    const waits = item.refused !== '' || (item.again ?? 0) > now
    if (!waits && !held.has(wheel)) return item
    if (!item.refused) held.add(wheel)
  }
  return undefined
}

/** Sends what waits, oldest first. What the server says that it changed goes to whoever listens. */
export async function send(): Promise<void> {
  if (sending) return
  sending = true
  try {
    for (let item = next(); item; item = next()) {
      const line = new AbortController()
      const giveUp = () => line.abort(new DOMException('It took too long.', 'TimeoutError'))
      const timer = setTimeout(giveUp, PATIENCE)
      try {
        const asked = answer<
          Schemas['EnteredOut'] | Schemas['PictureOut'] | Schemas['GroundOut'] | Schemas['SensorsOut']
        >(put(item, line.signal))
        onItsWay = { uuid: item.uuid, done: asked.catch(() => null), giveUp }
        const now = await asked
        // Told first: a reading is never, not for a moment, neither on its way nor on the server.
        if (item.ground) walked.forEach((tell) => tell(now as Schemas['GroundOut']))
        else if (!item.picture && !item.lamp) stored.forEach((tell) => tell(now as Schemas['EnteredOut']))
        await drop(item.uuid)
        if (item.picture) pictured.forEach((tell) => tell())
        if (item.lamp) lamps.forEach((tell) => tell(now as Schemas['SensorsOut']))
      } catch (error) {
        const no = refusedOf(error)
        const away = (no.unreachable && !no.hung) || no.status === 401 || no.fields.session
        // Nobody there, or signed out, or somebody else by now: all wait.
        if (away) {
          adrift.value ||= no.unreachable
          break
        }
        if (no.hung || no.status >= 500) {
          // On this one it breaks: the others go past it.
          const failed = no.hung ? 'The server did not answer it in time.' : no.message
          const tries = item.tries ?? 0
          await keep({ ...item, failed, tries: tries + 1, again: again(tries) })
        } else await keep({ ...item, refused: Object.values(no.fields)[0] ?? no.message })
      } finally {
        clearTimeout(timer)
      }
    }
  } finally {
    sending = false
    onItsWay = null
  }
}

/** Sends all that waits at once, also what was passed by or hangs; what was refused, again as it is. */
export async function sendNow(): Promise<void> {
  onItsWay?.giveUp()
  await onItsWay?.done
  for (const item of mine.value) if (item.again || item.refused) await keep({ ...item, again: 0, refused: '' })
  await send()
}

/** Takes what waits for somebody else over, in one's own name; only within the same workspace. */
export async function takeOver(item: Unsent): Promise<void> {
  if (!me.value || (item.owner && item.owner.workspace !== me.value.workspace)) return
  await keep({ ...item, owner: plain(me.value), refused: '' })
  await send()
}

async function add(
  item: Pick<Unsent, 'round' | 'rig' | 'reading' | 'note' | 'picture' | 'ground' | 'lamp'>,
): Promise<Unsent | undefined> {
  const id = uuid()
  await keep({ ...item, uuid: id, owner: me.value && plain(me.value), at: Date.now(), refused: '' })
  await send()
  return unsent.value.find((u) => u.uuid === id)
}

/** Keeps a reading and sends it. Resolves with it as it stands then: gone from the outbox when it is stored. */
export const enter = (round: number, rig: string, reading: Reading) => add({ round, rig, reading })

/** Keeps what was seen at a wheel and sends it, in the same way. */
export const jot = (round: number, rig: string, note: Schemas['WheelNoteIn']) => add({ round, rig, note })

/** Keeps a picture and sends it, in the same way. */
export const photograph = (rig: number, name: string, body: Schemas['PictureIn']) =>
  add({ round: body.round ?? 0, rig: name, picture: { rig, body } })

/** Keeps something of a ground plan and sends it, in the same way. */
export const walk = (rig: string, ground: GroundItem) => add({ round: 0, rig, ground })

/** Keeps what a lamp came to and sends it, in the same way. */
export const lampCameTo = (rig: number, name: string, body: Schemas['LampKeptIn']) =>
  add({ round: 0, rig: name, lamp: { rig, body } })

/** Takes an entry back before it is stored; false where it was on its way already, and is stored by now. */
export async function withdraw(id: string): Promise<boolean> {
  if (onItsWay?.uuid === id) await onItsWay.done
  if (!unsent.value.some((u) => u.uuid === id)) return false
  await drop(id)
  return true
}

export function onStored(tell: (entered: Schemas['EnteredOut']) => void): () => void {
  stored.add(tell)
  return () => stored.delete(tell)
}

/** Tells how the ground stands once something of a plan is on the server. */
export function onGround(tell: (ground: Schemas['GroundOut']) => void): () => void {
  walked.add(tell)
  return () => walked.delete(tell)
}

/** Tells how a rig's sensors stand once a lamp's end is on the server. */
export function onLamp(tell: (sensors: Schemas['SensorsOut']) => void): () => void {
  lamps.add(tell)
  return () => lamps.delete(tell)
}

/** Tells when a picture is on the server. */
export function onPicture(tell: () => void): () => void {
  pictured.add(tell)
  return () => pictured.delete(tell)
}

setInterval(() => mine.value.length && void send(), 4000)
window.addEventListener('online', () => void send())
