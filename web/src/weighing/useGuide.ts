/** The passes to do on the scale that is there, with what was read at each. */
import { useQuery } from '@tanstack/vue-query'
import { ref, watch, type Ref } from 'vue'
import { useFrame } from '@/rigs/frame'
import { answer, api, type Schemas } from '@/shared/api/client'
import type { Pass } from './PassGuide.vue'
import type { TicketForm } from './ticketForm'

export function useGuide(form: Ref<TicketForm>) {
  const { id, standing, whole } = useFrame()
  const passes = ref<Pass[]>([])
  /** Passes that came from a file or an older ticket stand as they are. */
  const brought = ref(false)
  const guide = useQuery({
    queryKey: ['rig', id, 'guide', () => form.value.way, () => form.value.with_trailers],
    queryFn: () =>
      answer(
        api.POST('/api/v1/work/weighing/guide', {
          body: {
            rig: id.value,
            way: form.value.way as Schemas['GuideIn']['way'],
            with_trailers: form.value.with_trailers,
            hitch: true,
          },
        }),
      ),
    enabled: () => form.value.way !== 'ticket' && !brought.value,
  })
  watch(
    [guide.data, () => form.value.way, () => form.value.with_trailers],
    () => {
      if (brought.value || form.value.way === 'ticket' || !guide.data.value) return
      const before = new Map(passes.value.map((p) => [p.words, p.kg]))
      passes.value = guide.data.value.map((s) => ({ ...s, kg: before.get(s.words) ?? null }))
    },
    { immediate: true },
  )
  watch([() => form.value.way, () => form.value.with_trailers], () => {
    if (form.value.way === 'ticket') standing.value = []
    whole.value = form.value.way !== 'ticket' && form.value.with_trailers
  })
  return { passes, brought }
}
