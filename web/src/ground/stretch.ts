import { show } from '@/shared/units'

/** A stretch with its speed, in a few words: over the plan of the rig. */
export const stretchSaid = (s: { name: string; speed_kmh: number | null }) =>
  s.speed_kmh === null ? s.name : `${s.name}, at most ${show('speed', s.speed_kmh, 'down')}`
