import type { Ref } from 'vue'
import { answer, api } from '@/shared/api/client'

export function loadStates(id: Ref<number>) {
  return {
    queryKey: ['rig', id, 'load-states'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/load-states', { params: { path: { rig_id: id.value } } })),
  }
}
