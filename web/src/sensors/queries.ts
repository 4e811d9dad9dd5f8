/** What is asked of a rig's sensors. */
import { useQuery } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { kept } from '@/shared/kept'
import { answer, api, type Schemas } from '@/shared/api/client'

export type Sensors = Schemas['SensorsOut']
export type AxleAlarms = Sensors['axles'][number]

export const useSensors = (id: Ref<number>, more: { meta?: { carried: boolean } } = {}) =>
  useQuery({
    ...more,
    queryKey: ['rig', id, 'sensors'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/sensors', { params: { path: { rig_id: id.value } } })),
    // Ages go on while the page lies open.
    staleTime: 0,
  })

/** The lamp's way as data, kept on the phone: when it comes on there may be no network. */
export const useLampCarried = (id: Ref<number>) =>
  useQuery({
    queryKey: ['rig', id, 'lamp'],
    queryFn: () =>
      kept(`lamp ${id.value}`, () =>
        answer(api.GET('/api/v1/rigs/{rig_id}/lamp', { params: { path: { rig_id: id.value } } })),
      ),
    staleTime: 10 * 60_000,
  })

export type Drive = Schemas['DriveOut']

export const useDrives = (id: Ref<number>) =>
  useQuery({
    queryKey: ['rig', id, 'drives'],
    queryFn: () => answer(api.GET('/api/v1/rigs/{rig_id}/drives', { params: { path: { rig_id: id.value } } })),
    staleTime: 0,
  })

/** A drive, asked for again while it goes: the browser asks with its ETag, and mostly there is nothing new. */
export const useDrive = (id: Ref<number>, uuid: Ref<string | null>) =>
  useQuery({
    queryKey: ['rig', id, 'drive', uuid],
    queryFn: () =>
      answer(
        api.GET('/api/v1/rigs/{rig_id}/drives/{uuid}', { params: { path: { rig_id: id.value, uuid: uuid.value! } } }),
      ),
    enabled: computed(() => uuid.value !== null),
    staleTime: 0,
    refetchInterval: ({ state }) => (state.data?.going ? (state.data.simulated ? 1000 : 2000) : false),
  })
