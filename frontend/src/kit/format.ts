import { ref } from 'vue'
import type { Schemas } from '@/api/client'

type Figure = Schemas['Figure']

/** A number with a fixed count of digits after the point; thousands set apart by a thin space. */
export function digits(value: number, count: number): string {
  const [whole = '0', rest] = Math.abs(value).toFixed(count).split('.')
  const grouped = whole.length > 4 ? whole.replace(/\B(?=(\d{3})+$)/g, '\u2009') : whole
  const sign = value < 0 && Number(value.toFixed(count)) !== 0 ? '-' : ''
  return sign + grouped + (rest ? `.${rest}` : '')
}

const GRAMS_PER_OUNCE = 28.349523125
const shown = ref<'g' | 'oz'>('g')

/** Show masses in grams or in ounces, as the studio likes; what is kept is always grams. */
export const showMassIn = (unit: 'g' | 'oz') => (shown.value = unit)
/** The unit masses are shown in. */
export const massUnit = () => shown.value

/** Grams as weighed on the bench, in the unit shown: to 0.1 g or 0.001 oz. */
export const grams = (value: number) =>
  shown.value === 'g' ? digits(value, 1) : digits(value / GRAMS_PER_OUNCE, 3)

/** A figure in the units shown. */
export function inShownUnit(figure: Figure): Figure {
  if (figure.unit !== 'g' || shown.value === 'g') return figure
  const turn = (value: number | null | undefined) => (value == null ? value : value / GRAMS_PER_OUNCE)
  return {
    ...figure,
    unit: 'oz',
    digits: 3,
    value: turn(figure.value)!,
    low: turn(figure.low),
    high: turn(figure.high),
  }
}

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

/** A day with its hour, as the bench says it: 14 Mar, 10:00. */
export const moment = (iso: string) => `${day(iso).slice(0, -5)}, ${clock(iso)}`

const PARTS = ['night', 'morning', 'afternoon', 'evening'] as const
/** A day and the part of it, where the hour is not known so well: 14 Mar, morning. */
export const about = (iso: string) =>
  `${day(iso).slice(0, -5)}, ${PARTS[Math.floor(new Date(iso).getHours() / 6)]}`
