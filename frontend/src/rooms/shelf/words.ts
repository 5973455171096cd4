export const STATUSES: Record<string, string> = {
  kept: 'here',
  waiting: 'waits to be topped up',
  given: 'given away',
  sold: 'sold',
  used_up: 'used up',
  discarded: 'discarded',
  reground: 'ground again',
}

/** How long ago, in years and months, as seen from `now`. */
export function age(from: string, now: string): string {
  const months = Math.floor((Date.parse(now) - Date.parse(from)) / 2_629_800_000)
  if (months < 1) return 'this month'
  if (months < 12) return `${months} ${months === 1 ? 'month' : 'months'}`
  const years = Math.floor(months / 12)
  return `${years} ${years === 1 ? 'year' : 'years'}${months % 12 ? ` ${months % 12} mo` : ''}`
}
