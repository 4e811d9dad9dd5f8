/** The lines of the Yard that are on the screen, and no others: asked of the server page by page, where it is scrolled to. */
import { keepPreviousData, useQueries, useQuery } from '@tanstack/vue-query'
import { useWindowVirtualizer, type VirtualItem } from '@tanstack/vue-virtual'
import { computed, onScopeDispose, ref, useTemplateRef, watch, type Ref } from 'vue'
import { adrift } from '@/shared/kept'
import { ALL, dawnsOf, fits, rigText, yardPage, type Asked, type Line } from './queries'
import { say } from '@/shared/units'

/** How high the lines were when the Yard was left, so that whoever comes back finds the same place. */
let left: { of: string; heights: VirtualItem[] } = { of: '', heights: [] }

/** `height`: of a line as it is drawn before it is measured [px]. */
export function useYard(wanted: Ref<Asked>, height: Ref<number>, first: (rigs: Line[]) => Line[]) {
  // Without a network what is kept is searched and ordered here.
  const asked = computed(() => (adrift.value ? ALL : wanted.value))
  const of = computed(() => JSON.stringify([asked.value, height.value]))
  const head = useQuery(computed(() => ({ ...yardPage(asked.value, 0), placeholderData: keepPreviousData })))
  const own = computed(() =>
    adrift.value
      ? first(
          (head.data.value?.rigs ?? []).filter((r) =>
            fits(`${rigText(r)} ${say(r.words)}`.toLowerCase(), wanted.value.find),
          ),
        )
      : null,
  )
  const page = computed(() => head.data.value?.page ?? 1)
  const count = computed(() => own.value?.length ?? head.data.value?.found ?? 0)

  const starts = ref<number[]>([])
  const more = useQueries({
    queries: computed(() => starts.value.map((first) => yardPage(asked.value, first))),
  })
  const at = computed(() => {
    const pages = new Map([[0, own.value ?? head.data.value?.rigs ?? []]])
    starts.value.forEach((first, i) => pages.set(first, more.value[i]?.data?.rigs ?? []))
    return pages
  })
  /** Which rig stands where, as far as it was asked for; as text, so that just another order counts as a change. */
  const order = computed(() =>
    [...at.value].flatMap(([first, rigs]) => rigs.map((r, i) => `${first + i}:${r.id}`)).join(' '),
  )
  /** A height belongs to its rig: another that comes to stand in its place has one of its own. */
  const keyOf = computed(() => {
    const rigs = new Map(order.value.split(' ').map((pair) => pair.split(':') as [string, string]))
    return (index: number) => rigs.get(String(index)) ?? `at ${index}`
  })
  /** What a dawn ahead asks for hangs on the air of the hour: asked apart, of the rigs that are here. */
  const dawned = useQueries({
    queries: computed(() =>
      [...at.value.values()].map((rigs) => ({
        ...dawnsOf(rigs.map((r) => r.id)),
        enabled: rigs.length > 0 && !adrift.value,
      })),
    ),
  })
  const dawns = computed(() => new Map(dawned.value.flatMap((q) => q.data ?? []).map((d) => [d.rig, d.words])))
  const list = useTemplateRef<HTMLElement>('list')
  const rows = useWindowVirtualizer(
    computed(() => ({
      count: count.value,
      getItemKey: keyOf.value,
      estimateSize: () => height.value,
      // A page of rigs is there whole: only what is more than that is drawn as it is scrolled to.
      overscan: count.value <= page.value ? count.value : 6,
      scrollMargin: list.value?.offsetTop ?? 0,
      initialMeasurementsCache: left.of === of.value ? left.heights : [],
    })),
  )
  onScopeDispose(() => (left = { of: of.value, heights: rows.value.measurementsCache }))
  const onScreen = computed(() => rows.value.getVirtualItems())
  watch(
    () => [...new Set(onScreen.value.map((item) => item.index - (item.index % page.value)))].filter(Boolean),
    (now) => String(now) !== String(starts.value) && (starts.value = now),
    { immediate: true },
  )
  /** The lines on the screen, each at its place; null: it is on its way. */
  const lines = computed(() =>
    onScreen.value.map((item) => {
      const rig = own.value
        ? own.value[item.index]
        : at.value.get(item.index - (item.index % page.value))?.[item.index % page.value]
      return { item, rig: rig ?? null, dawn: rig ? (dawns.value.get(rig.id) ?? null) : null }
    }),
  )
  return { head, count, lines, rows, margin: computed(() => rows.value.options.scrollMargin) }
}
