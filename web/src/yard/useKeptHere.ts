/** What of the Yard can be opened without a network: sheets, rounds and cards that this browser has kept. */
import { computed, ref, watch } from 'vue'
import { cardOf, rigName } from '@/rigs/queries'
import { adrift, keptAt, keptNames } from '@/shared/kept'
import { unsent } from '@/shared/outbox'
import { changes, queries } from '@/shared/session'
import type { Line } from './queries'

/** So many cards are taken along unasked, those of what asks first; the others when they are looked at. */
const ALONG = 20
let along = 0
watch(changes, () => (along = 0))

/** Takes the cards of the first rigs along, one after the other, once for a page. */
export async function takeCardsAlong(rigs: Line[]): Promise<void> {
  for (const rig of rigs.filter((r) => r.head === null).slice(along, ALONG)) {
    if (adrift.value) return
    along++
    await queries.prefetchQuery({ ...cardOf(ref(rig.id)), staleTime: 600_000 })
  }
}

export function useKeptHere() {
  const names = ref(new Set<string>())
  const asOf = ref<number>()
  watch(
    adrift,
    async (is) => {
      if (!is) return
      names.value = new Set(await keptNames())
      asOf.value = await keptAt('yard')
    },
    { immediate: true },
  )
  const opens = (rig: number) => names.value.has(`sheet ${rig}`)
  const card = (rig: number) => names.value.has(`card ${rig}`)
  const waiting = (rig: Line) => unsent.value.filter((u) => [rig.name, rigName(rig)].includes(u.rig)).length
  /** What wants a hand here comes first: entries that are not sent, then open rounds, then what can be opened. */
  const rank = (rig: Line) =>
    waiting(rig) ? 0 : rig.round_open ? 1 : opens(rig.head ?? rig.id) || card(rig.head ?? rig.id) ? 2 : 3
  const first = (rigs: Line[]) => (adrift.value ? [...rigs].sort((a, b) => rank(a) - rank(b)) : rigs)
  return { adrift: computed(() => adrift.value), asOf, opens, card, waiting, first }
}
