/** A rotation in words. */
import { show } from '@/shared/units'

export const spoken = (moves: Record<string, string>) =>
  Object.entries(moves)
    .map(([from, to]) => `${from} → ${to}`)
    .join(', ')

export const airShown = (kpa: number | null) => (kpa === null ? 'not known' : show('pressure', kpa, 'up'))
