/** What is put aboard, where it rides, and moving it about by hand and by keys. */
import { computed, nextTick, ref, watch, type Ref } from 'vue'
import type { Sheet } from '@/rigs/queries'
import type { Schemas } from '@/shared/api/client'
import type { Placed } from '@/shared/drawing'
import { pairs, useSession } from '@/shared/session'
import { metersOf, show, type Entry } from '@/shared/units'

export interface Item {
  what: Schemas['PlacedIn']['what']
  label: string
  liters: Entry
  mass: Entry
  rig: number
  x: number
  y: number
}

/** What may be put aboard, and what of it is told in liters. */
export function useCargo() {
  const { session } = useSession()
  const what = computed(() => pairs<Item['what']>(session.value?.cargo))
  const isLiquid = (key: string) => Boolean(session.value?.cargo.find((c) => c.key === key)?.liquid)
  return { what, isLiquid }
}

/** Vehicles: those it may ride in, beginning with the rig's own. */
export function useAboard(
  own: Ref<number>,
  vehicles: { readonly value: Sheet['train'] },
  isLiquid: (what: string) => boolean,
) {
  const items = ref<Item[]>([])
  const chosen = ref(0)
  const item = computed(() => items.value[chosen.value])
  const middle = (v: { axles: { drawn: { position_m: number } }[] }) =>
    Math.round((v.axles.at(-1)!.drawn.position_m / 2) * 10) / 10

  function add() {
    const where = item.value
    items.value.push({
      what: 'cargo',
      label: '',
      liters: null,
      mass: null,
      rig: where?.rig ?? own.value,
      x: where ? Math.round((where.x + 0.5) * 10) / 10 : middle(vehicles.value[0]!),
      y: 0,
    })
    chosen.value = items.value.length - 1
    void nextTick(() => document.querySelector<HTMLElement>('#put input')?.focus())
  }
  const gone = ref<{ at: number; item: Item } | null>(null)
  function remove(i: number) {
    gone.value = { at: i, item: items.value[i]! }
    items.value.splice(i, 1)
    chosen.value = Math.max(0, Math.min(chosen.value, items.value.length - 1))
  }
  function bringBack() {
    if (gone.value) items.value.splice(gone.value.at, 0, gone.value.item)
    gone.value = null
  }
  watch(
    () => item.value?.what,
    (now) => {
      if (item.value && now && !isLiquid(now)) item.value.liters = null
    },
  )

  /** Puts a mass somewhere on the drawing: it rides on the vehicle that is nearest there. */
  function moveTo(i: Item, at: { x: number; y: number }, placed: Placed[]) {
    const off = (p: Placed) => Math.max(p.nose - at.x, at.x - p.tail, 0)
    const on = [...placed].sort((p, q) => off(p) - off(q))[0]!
    i.rig = on.id
    i.x = Math.round((at.x - on.at) * 20) / 20
    const side = on.width / 2
    i.y = Math.round(Math.min(side, Math.max(-side, at.y)) * 20) / 20
  }
  function onKey(event: KeyboardEvent, i: number, placed: Placed[]) {
    const step = event.shiftKey ? 1 : 0.1
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key]
    if (by) {
      event.preventDefault()
      const it = items.value[i]!
      const from = placed.find((p) => p.id === it.rig)!
      moveTo(it, { x: from.at + it.x + by[0]!, y: it.y + by[1]! }, placed)
    } else if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault()
      remove(i)
    }
  }
  const x = computed({
    get: () => item.value?.x as Entry,
    set: (entry: Entry) => item.value && (item.value.x = metersOf(entry) ?? item.value.x),
  })
  const y = computed({
    get: () => item.value?.y as Entry,
    set: (entry: Entry) => item.value && (item.value.y = metersOf(entry) ?? item.value.y),
  })
  /** Into another vehicle: its middle, since the old place means nothing there. */
  function into(vehicle: number) {
    if (!item.value || item.value.rig === vehicle) return
    item.value.rig = vehicle
    item.value.x = middle(vehicles.value.find((v) => v.id === vehicle)!)
  }

  const reach = (i: Item) => {
    const v = vehicles.value.find((t) => t.id === i.rig)
    const side = Math.abs(i.y) < 0.05 ? 'center' : `${show('length', Math.abs(i.y))} ${i.y < 0 ? 'left' : 'right'}`
    const along = i.x < 0 ? `${show('length', -i.x)} ahead of` : `${show('length', i.x)} behind`
    return `${along} axle 1 of ${v?.name ?? ''}, ${side}`
  }

  return { items, chosen, item, gone, x, y, add, remove, bringBack, moveTo, onKey, into, reach }
}
