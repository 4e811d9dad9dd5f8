/** Where the air comes from: by hand, or a place of the weather service. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answer, api } from './api/client'
import { showWhole } from './units'

export function usePlaces() {
  const places = useQuery({ queryKey: ['places'], queryFn: () => answer(api.GET('/api/v1/weather/places')) })
  const choices = computed(() => [
    { key: '', name: 'By hand' },
    ...(places.data.value ?? []).map((p) => ({ key: p.key, name: p.name, note: showWhole('length', p.elevation_m) })),
  ])
  return { places: computed(() => places.data.value ?? []), choices, refetch: places.refetch }
}
