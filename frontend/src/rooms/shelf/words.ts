import type { Schemas } from '@/api/client'

export const STATUSES: Record<string, string> = {
  kept: 'here',
  waiting: 'waits to be topped up',
  given: 'given away',
  sold: 'sold',
  used_up: 'used up',
  discarded: 'discarded',
  reground: 'ground again',
}

/** What is wrong with a piece, the worst alone, and whether it can hurt or is lost; nothing where it is well. */
export function wrong(item: Schemas['ItemLine']): { words: string; harm: boolean } | undefined {
  if (item.unknown_hazard) return { words: 'unknown hazard', harm: true }
  if (item.past_use_by) return { words: 'past its use-by', harm: true }
  const seen = item.last_outcome && item.last_outcome !== 'good' ? item.last_seen : ''
  return seen ? { words: seen, harm: false } : undefined
}

/** How long ago, in years and months, as seen from `now`. */
export function age(from: string, now: string): string {
  const months = Math.floor((Date.parse(now) - Date.parse(from)) / 2_629_800_000)
  if (months < 1) return 'this month'
  if (months < 12) return `${months} ${months === 1 ? 'month' : 'months'}`
  const years = Math.floor(months / 12)
  return `${years} ${years === 1 ? 'year' : 'years'}${months % 12 ? ` ${months % 12} mo` : ''}`
}
