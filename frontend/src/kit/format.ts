import type { Schemas } from '@/api/client'

type Figure = Schemas['Figure']

/** A number with a fixed count of digits after the point; thousands set apart by a thin space. */
export function digits(value: number, count: number): string {
  const [whole = '0', rest] = Math.abs(value).toFixed(count).split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole
  const sign = value < 0 && Number(value.toFixed(count)) !== 0 ? '-' : ''
  return sign + grouped + (rest ? `.${rest}` : '')
}

/** Grams as weighed on the bench. */
export const grams = (value: number) => digits(value, 1)

/** An input of a working: as many digits as tell something. */
export function telling(value: number | string): string {
  if (typeof value === 'string') return value
  if (Number.isInteger(value)) return digits(value, 0)
  const size = Math.abs(value)
  return digits(value, size >= 100 ? 1 : size >= 10 ? 2 : size >= 1 ? 3 : 4)
}

/** The spread of a figure in words, or nothing where it has none. */
export function spread(figure: Figure): string {
  if (figure.low == null || figure.high == null) return ''
  return `${digits(figure.low, figure.digits)} to ${digits(figure.high, figure.digits)}`
}

export const BASIS_WORDS: Record<Schemas['Basis'], string> = {
  library: 'library, approximate',
  entered: 'as entered',
  measured: 'measured here',
  learned: 'learned here',
  assumed: 'assumed',
}

/** A day as the bench writes it: 14 Mar 2026. */
export function day(iso: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })
}

/** The time of day: 14:05. */
export function clock(iso: string): string {
  return new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
}

/** Minutes as a person says them: 45 min, 2 h 10 min. */
export function minutes(value: number): string {
  const whole = Math.round(value)
  if (whole < 60) return `${whole} min`
  return whole % 60 ? `${Math.floor(whole / 60)} h ${whole % 60} min` : `${whole / 60} h`
}

/** How long ago, in words, as seen from `now`. */
export function ago(iso: string, now: string): string {
  const passed = (Date.parse(now) - Date.parse(iso)) / 60_000
  if (passed < 1) return 'just now'
  if (passed < 60) return `${Math.round(passed)} min ago`
  if (passed < 60 * 24) return `${Math.round(passed / 60)} h ago`
  const days = Math.round(passed / 1440)
  return days === 1 ? 'yesterday' : `${days} days ago`
}
