import { digits } from '@/kit/format'
import { measureOf, type Measure } from '@/kit/log/store'
import type { Said } from './acts'

/** An act in the maker's words, for the queue: nothing is computed, only said. */
export function wordsOf(act: Said, names: Record<string, string>): string {
  const material = 'source' in act ? (names[act.source] ?? act.source) : ''
  const much = amountWords(measureOf(act))
  switch (act.kind) {
    case 'ready':
      return 'kit checked'
    case 'powder':
      return `${material} in, ${much}`
    case 'oil':
      return `${material} poured, ${much}`
    case 'additive':
      return `${material} stirred in, ${much}`
    case 'leave_out':
      return `${material} left out`
    case 'by_eye':
      return `${material} poured by eye`
    case 'bottle':
      return `oil bottle weighed, ${act.bottle_g} g`
    case 'came_out':
      return `${act.guessed ? 'guessed' : 'said'} how much oil came out, ${much}`
    case 'sample':
      return `sample taken, ${much}`
    case 'draw_oil':
      return `oil drawn out, ${much}`
    case 'mull':
      return 'muller started'
    case 'pause':
      return 'muller paused'
    case 'scrape':
      return 'scraped together'
    case 'fineness':
      return `fineness ${act.fineness_um} µm`
    case 'load_done':
      return 'load mulled out'
    case 'gather':
      return 'loads gathered'
    case 'look':
      return ['looked', act.stage.replace('_', ' '), act.body].filter(Boolean).join(', ')
    case 'phase':
      return `went back to ${act.phase}`
    case 'photo':
      return act.text ? `picture: ${act.text}` : 'picture'
    case 'cleaned':
      return 'slab cleaned'
    case 'note':
      return `note: ${act.text}`
    case 'choose_way':
      return `chose a way: ${act.way.replace('_', ' ')}`
    case 'amend':
      return `an amount put right, ${much}`
    case 'answer':
      return {
        looks_aside: 'set the looks aside',
        missed: 'an entry was missing',
        believe_eye: 'believed the eye',
        as_entered: 'kept an amount as it was entered',
      }[act.answer]
    case 'strike':
      return 'undid something'
    case 'finish':
      return `finished, ${act.verdict}`
    default:
      return `given up: ${act.text}`
  }
}

const counted = (amount: number | null | undefined, unit: string) =>
  `${amount} ${unit.startsWith('own_') ? 'of your own measure' : unit.replaceAll('_', ' ')}`

function amountWords(measure?: Measure): string {
  if (!measure) return 'no amount'
  if (measure.before_g != null && measure.after_g != null)
    return `${digits(Math.abs(measure.after_g - measure.before_g), 2)} g by difference`
  if (measure.parts?.length) return measure.parts.map((part) => counted(part.amount, part.unit)).join(' and ')
  return counted(measure.amount, measure.unit)
}
