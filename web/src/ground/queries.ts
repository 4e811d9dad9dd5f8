import type { Ref } from 'vue'
import { answer, api, type Schemas } from '@/shared/api/client'
import { kept } from '@/shared/kept'

export type Ground = Schemas['GroundOut']
export type OpenPlan = Schemas['OpenPlan']
export type Goal = Schemas['Goal']

/** All that the ground asks of a combination, as data; kept, so that a plan is opened and walked without a network. */
export function groundOf(id: Ref<number>) {
  return {
    queryKey: ['rig', id, 'ground'],
    queryFn: () =>
      kept(`ground ${id.value}`, () =>
        answer(api.GET('/api/v1/rigs/{rig_id}/ground', { params: { path: { rig_id: id.value } } })),
      ),
  }
}
