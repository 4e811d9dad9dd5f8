import type { Schemas } from '@/shared/api/client'

export type Role = Schemas['MemberOut']['role']

export const ROLES: { key: Role; name: string; note: string }[] = [
  { key: 'manager', name: 'Manager', note: 'everything' },
  { key: 'technician', name: 'Technician', note: 'weighs, sets the air, does rounds, compares gauges' },
  { key: 'viewer', name: 'Viewer', note: 'looks, changes nothing' },
]
