/** What rounds say of each gauge: found out where a rig is read with another than the time before. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'

export function useByRounds() {
  const { data } = useQuery({
    queryKey: ['gauges', 'by-rounds'],
    queryFn: () => answer(api.GET('/api/v1/gauges-by-rounds')),
  })
  const named = computed(() => (data.value ?? []).filter((g) => g.named))
  /** What is to be said of a gauge before it is believed, by itself or by its rounds; null: nothing, or it is not known yet. */
  const doubt = (gauge: Pick<Schemas['GaugeOut'], 'id' | 'condition'>) =>
    gauge.condition ?? named.value.find((g) => g.gauge === gauge.id)?.words ?? null
  return { data, named, doubt }
}
