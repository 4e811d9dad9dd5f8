/** A list that the server gives page by page: one of them is here, the ones before and after it are turned to. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, watch, type Ref } from 'vue'
import { useHere } from './useHere'

/** `where`: of a list whose lines are counted, which of how many are here. */
export type Turning = Pick<ReturnType<typeof usePages>, 'first' | 'next' | 'before' | 'further' | 'busy'> & {
  where?: Ref<{ from: number; shown: number; of: number } | null>
}

/**
 * `key`: what is asked for; another one begins at its first page. `ask`: a page by where it begins (nothing: the first).
 * `lines`: those of a page. `after`: where the page after one begins; null: it is the last. `again`: in how many milliseconds it is
 * asked once more by itself.
 */
export function usePages<P, L, S extends number | string = number>(
  key: Ref<readonly unknown[]>,
  ask: (start: S | undefined) => Promise<P>,
  lines: (page: P) => L[],
  after: (page: P, start: S | undefined) => S | null,
  again?: (page: P | undefined) => number | false,
) {
  /** Where the pages began that were turned over, and this one last; none: it is the first. */
  const turned = useHere<{ starts: S[] }>('page', { starts: [] })
  const start = computed(() => turned.value.starts.at(-1))
  const { data, error, refetch, isPlaceholderData } = useQuery({
    queryKey: computed(() => [...key.value, start.value ?? '']),
    queryFn: () => ask(start.value),
    placeholderData: keepPreviousData,
    refetchInterval: (query) => again?.(query.state.data) ?? false,
  })
  const page = computed(() => data.value ?? null)
  const rows = computed(() => (page.value ? lines(page.value) : []))
  const first = computed(() => !turned.value.starts.length)
  const next = computed(() => (page.value ? after(page.value, start.value) : null))
  const before = () => turned.value.starts.pop()
  const further = () => next.value !== null && turned.value.starts.push(next.value)
  watch(
    () => JSON.stringify(key.value),
    () => (turned.value.starts = []),
  )
  // What stood on it is gone since.
  watch(rows, (now) => !now.length && page.value && !isPlaceholderData.value && before())
  return { page, rows, start, first, next, before, further, busy: isPlaceholderData, error, refetch }
}

/** The same of a list whose lines are counted, and asked for from one on; `found`: how many there are in all. */
export function useCounted<P extends { page: number }, L>(
  key: Ref<readonly unknown[]>,
  ask: (first: number) => Promise<P>,
  lines: (page: P) => L[],
  found: (page: P) => number,
  again?: (page: P | undefined) => number | false,
) {
  const list = usePages(
    key,
    (first: number | undefined) => ask(first ?? 0),
    lines,
    (page, first = 0) => (first + page.page < found(page) ? first + page.page : null),
    again,
  )
  /** Which of them are here. */
  const where = computed(
    () => list.page.value && { from: list.start.value ?? 0, shown: list.rows.value.length, of: found(list.page.value) },
  )
  return { ...list, where }
}
