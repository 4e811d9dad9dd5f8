/** What a gauge is, as its form holds it. */
import type { Schemas } from '@/shared/api/client'
import type { Entry } from '@/shared/units'

export interface Particulars {
  version: string
  label: string
  kind: Schemas['GaugeIn']['kind']
  low_kpa: Entry
  high_kpa: Entry
  resolution_kpa: Entry
  claimed_kpa: Entry
  dual_foot: boolean
  sealed: boolean
  battery: string
  keeper: string
  every_days: string
  radio: string
  retired: boolean
}
const NEW: Particulars = {
  version: '',
  label: '',
  kind: 'digital',
  low_kpa: 0,
  high_kpa: null,
  resolution_kpa: null,
  claimed_kpa: null,
  dual_foot: false,
  sealed: false,
  battery: '',
  keeper: '',
  every_days: '365',
  radio: '',
  retired: false,
}

/** A new gauge, or one as it stands. */
export function particularsOf(gauge?: Schemas['GaugeOut']): Particulars {
  if (!gauge) return { ...NEW }
  const known = Object.keys(NEW).map((key) => [key, gauge[key as keyof Schemas['GaugeOut']]])
  return { ...(Object.fromEntries(known) as Particulars), every_days: String(gauge.every_days) }
}

export const sent = (form: Particulars) => form as unknown as Schemas['GaugeIn']
