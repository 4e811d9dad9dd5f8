/** What rounds say of each gauge: found out where a rig is read with another than the time before. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from '@/shared/api/client'

export function useByRounds() {
  const { data } = useQuery({
    queryKey: ['gauges', 'by-rounds'],
    queryFn: () => answer(api.GET('/api/v1/gauges-by-rounds')),
  })
  const named = computed(() => (data.value ?? []).filter((g) => g.named))
  /** What they say of one that they found out; null: nothing, or it is not known yet. */
  const foundOut = (gauge: number) => named.value.find((g) => g.gauge === gauge)?.words ?? null
  return { data, named, foundOut }
}
