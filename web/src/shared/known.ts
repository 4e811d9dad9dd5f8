/** Yes, no, or not known, as a form takes it: unknown is a choice of its own. */
export type Known = 'yes' | 'no' | ''
export const KNOWN: { key: Known; name: string }[] = [
  { key: '', name: 'Not known' },
  { key: 'yes', name: 'Yes' },
  { key: 'no', name: 'No' },
]
export const knownOf = (v: boolean | null): Known => (v === null ? '' : v ? 'yes' : 'no')
export const meant = (v: Known) => (v === '' ? null : v === 'yes')
