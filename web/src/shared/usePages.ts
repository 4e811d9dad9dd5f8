/** A list that the server gives page by page, more of it as it is asked for. */
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'

interface Page {
  page: number
  found: number
}
/** `again`: in how many milliseconds it is asked once more by itself. */
export function usePages<P extends Page>(
  key: Ref<unknown[]>,
  ask: (first: number) => Promise<P>,
  again?: (first: P | undefined) => number | false,
) {
  const { data, fetchNextPage, isFetchingNextPage, refetch } = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => ask(pageParam),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (pages.length * last.page < last.found ? pages.length * last.page : undefined),
    placeholderData: keepPreviousData,
    refetchInterval: (query) => again?.(query.state.data?.pages[0] as P | undefined) ?? false,
  })
  const pages = computed(() => (data.value?.pages ?? []) as P[])
  /** What is said of all that fit stands on every page. */
  const last = computed(() => pages.value.at(-1) ?? null)
  const left = computed(() => (last.value ? Math.max(0, last.value.found - pages.value.length * last.value.page) : 0))
  const more = computed(() => Math.min(last.value?.page ?? 0, left.value))
  return { pages, last, left, more, fetchMore: () => fetchNextPage(), fetching: isFetchingNextPage, refetch }
}
