/** What rides with a rig, as the server keeps it. */
import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answer, api } from './api/client'

export const useKit = (id: Ref<number>) =>
  useQuery({
    queryKey: ['rig', id, 'kit'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/kit', { params: { path: { rig_id: id.value } } })),
  })
