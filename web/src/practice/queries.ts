/** Practice as the server has it, and how it is entered and left. */
import { nextTick } from 'vue'
import type { Router } from 'vue-router'
import { answer, api, type Schemas } from '@/shared/api/client'
import { queries, takeInHand, takeSession } from '@/shared/session'

export type Try = Schemas['TryOut']

export const practice = {
  queryKey: ['practice', 'list'],
  queryFn: () => answer(api.GET('/api/v1/practice')),
  staleTime: 0,
}
export const theTry = {
  queryKey: ['practice', 'try'],
  queryFn: () => answer(api.GET('/api/v1/practice/try')),
  staleTime: 0,
}

/** Goes where the work of a try is done: a stage of its rig, or the drawer. */
async function goTo(of: Try, router: Router): Promise<void> {
  takeSession(await answer(api.GET('/api/v1/session')))
  queries.setQueryData(theTry.queryKey, of)
  // The page begins anew with the workspace, in the Yard; from there it goes on.
  await nextTick()
  const stage = of.exercise.stage
  await router.push(stage === 'gauges' ? { name: 'gauges' } : { name: stage, params: { id: of.rig } })
}

export async function begin(exercise: string, again: boolean, router: Router): Promise<void> {
  await goTo(await answer(api.POST('/api/v1/practice/tries', { body: { exercise, again } })), router)
}

export async function goOn(workspace: number, router: Router): Promise<void> {
  await takeInHand(workspace)
  await goTo(await answer(api.GET('/api/v1/practice/try')), router)
}

/** Back to where the work is real. */
export async function leavePractice(router: Router): Promise<void> {
  await answer(api.POST('/api/v1/practice/leave'))
  takeSession(await answer(api.GET('/api/v1/session')))
  await nextTick()
  await router.push({ name: 'practice' })
}
