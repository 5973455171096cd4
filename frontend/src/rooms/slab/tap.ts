import { asTold } from '@/kit/units'
import type { Schemas } from '@/api/client'
import { digits, grams, massUnit } from '@/kit/format'
import type { Said } from './acts'

/** What can be open at the slab. */
export type Panel =
  | 'kit'
  | 'powder'
  | 'oil'
  | 'additive'
  | 'by_eye'
  | 'came_out'
  | 'sample'
  | 'draw_oil'
  | 'look'
  | 'note'
  | 'ways'
  | 'finish'
  | 'abandon'
/** The one tap of the moment: its name, and the act it records or the panel it opens. */
export type Tap = { name: string; said?: Said; panel?: Panel }

/** As finely as the bench weighs. */
function honest(value: number): number {
  return Math.max(0.01, Number(value.toFixed(value < 1 ? 2 : 1)))
}

/** An amount in grams as a button says it: what is read there is what is logged. */
export const inGrams = (value: number) => ({
  unit: 'g' as const,
  fill: 'level' as const,
  amount: honest(value),
})

/** The same amount in words, in the unit the studio weighs in. */
export const read = (measure: { amount: number }) =>
  `${massUnit() === 'g' ? digits(measure.amount, measure.amount < 1 ? 2 : 1) : grams(measure.amount)} ${massUnit()}`

const TOOLS: Record<Schemas['Tool'], string> = {
  muller: 'muller',
  knife: 'knife',
  jar: 'jar',
  glass: 'glass',
}
/** What is in the hand, in a word. */
export const toolOf = (view: Schemas['SlabView']) => TOOLS[view.tool]
/** Whether the load on the slab was begun and is not done. */
export const begunOf = ({ mulling }: Schemas['SlabView']) =>
  ['waiting', 'running'].includes(mulling.loads[mulling.load - 1]?.state ?? '')
/** Starting it, or going on with a load that waits. */
export const startWords = (view: Schemas['SlabView']) =>
  view.mulling.loads[view.mulling.load - 1]?.state === 'waiting' ? 'Go on' : `Start the ${toolOf(view)}`

/** The one tap: what the advice asks for, with its amount; a balance that is there is read instead. */
export function tapFor(view: Schemas['SlabView'], weighs: boolean, left: number): Tap | undefined {
  const now = view.advice
  const told = view.advice_told
  const measured = told && !weighs ? asTold(told) : undefined
  const byEye = view.habit.how === 'eye' && !weighs
  const measure = now.grams == null ? undefined : inGrams(now.grams)
  // What has no figure yet is poured or weighed in by the maker's own measure.
  const byHand = !measure || weighs
  switch (now.act) {
    case 'powder':
      if (byEye)
        return { name: 'It is in', said: { kind: 'powder', source: now.source, measure: { unit: 'eye' } } }
      if (measured)
        return {
          name: `In: ${told!.words.replace('level ', '')}`,
          said: { kind: 'powder', source: now.source, measure: measured },
        }
      if (byHand) return { name: 'Weigh in', panel: 'powder' }
      return {
        name: `Weighed in ${read(measure)}`,
        said: { kind: 'powder', source: now.source, measure },
      }
    case 'pour':
      if (byEye) return { name: 'Poured some', said: { kind: 'by_eye', source: view.oil.source } }
      if (measured)
        return {
          name: `Poured ${told!.words}`,
          said: { kind: 'oil', source: view.oil.source, measure: measured },
        }
      if (view.bottle_g != null && view.taps_by_eye) return { name: 'Pour by eye', panel: 'by_eye' }
      if (byHand) return { name: 'Pour', panel: 'oil' }
      return {
        name: `Poured ${read(measure)}`,
        said: { kind: 'oil', source: view.oil.source, measure },
      }
    case 'additive':
      if (measured)
        return {
          name: `In: ${told!.words}`,
          said: { kind: 'additive', source: now.source, measure: measured },
        }
      if (byHand) return { name: 'Weigh in', panel: 'additive' }
      return {
        name: `In, ${now.grams! < 5 ? digits(now.grams!, 2) : grams(now.grams!)} g`,
        said: {
          kind: 'additive',
          source: now.source,
          measure: { unit: 'g', amount: Number(now.grams!.toFixed(now.grams! < 5 ? 2 : 1)) },
        },
      }
    case 'draw_oil':
      if (!measure) return { name: 'Draw out', panel: 'draw_oil' }
      return { name: `Drew out ${read(measure)}`, said: { kind: 'draw_oil', measure } }
    case 'ready':
      return { name: 'Kit', panel: 'kit' }
    case 'bottle':
      return { name: 'Weigh the bottle', panel: 'by_eye' }
    case 'mull':
      return { name: startWords(view), said: { kind: 'mull' } }
    case 'mull_on':
      return { name: 'Pause', said: { kind: 'pause' } }
    case 'load_done':
      return { name: 'Load done', said: { kind: 'load_done', ended_by: left <= 0 ? 'minutes' : 'silence' } }
    case 'gather':
      return { name: 'Gathered', said: { kind: 'gather' } }
    case 'look':
    case 'rest':
      return { name: 'Look', panel: 'look' }
    case 'right':
      return { name: view.practice ? 'It is right' : 'Finish', panel: 'finish' }
    default:
      return undefined
  }
}
