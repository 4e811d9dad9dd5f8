/** Weight-distribution bars, as they stood or would stand. */
export const BARS = [
  { key: '' as const, name: 'None' },
  { key: 'slack' as const, name: 'Slack' },
  { key: 'engaged' as const, name: 'Engaged' },
]
