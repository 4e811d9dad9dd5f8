/** A rig to scale from above, nose left: where its vehicles, axles and ends lie, in meters from the first axle of all. */

export interface DrawnAxle {
  number: number
  drawn: { position_m: number; track_m: number }
  wheels: number
  lift?: boolean
  /** Nobody has read its tires yet. */
  open?: boolean
}
export interface Drawn {
  id: number
  name: string
  trailer: boolean
  pulled: boolean
  axles: DrawnAxle[]
  coupler_m: number | null
  hitch_m: number | null
}
export interface Placed extends Drawn {
  /** Where its first axle lies. */
  at: number
  nose: number
  tail: number
  width: number
}

const OVERHANG = { front: 1.1, rear: 1.4 }
const UNKNOWN_COUPLING = 2.5

/** Puts vehicles one behind another. Lengths that are not known are drawn as usual ones. */
export function layOut(vehicles: Drawn[]): Placed[] {
  let at = 0
  return vehicles.map((v, i) => {
    const last = v.axles.at(-1)?.drawn.position_m ?? 0
    const coupler = v.coupler_m ?? UNKNOWN_COUPLING
    if (i) {
      const front = vehicles[i - 1]!
      const hitch = front.hitch_m ?? (front.axles.at(-1)?.drawn.position_m ?? 0) + OVERHANG.rear
      at += hitch + coupler
    }
    const width = Math.max(1, ...v.axles.map((a) => a.drawn.track_m)) + 0.25
    const solo = v.axles.every((a) => a.wheels === 1)
    return {
      ...v,
      at,
      nose: at - (v.trailer ? coupler * (v.pulled ? 0.75 : 0.4) : solo ? 0.4 : OVERHANG.front),
      tail: at + last + (solo ? 0.4 : OVERHANG.rear),
      width: solo ? 0.35 : width,
    }
  })
}
