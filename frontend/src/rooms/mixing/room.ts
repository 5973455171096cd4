import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { digits } from '@/kit/format'
import { useLog } from '@/kit/log/follow'

type Without<A, K extends string> = A extends unknown ? Omit<A, K> : never
type Sent = paths['/api/mixing/charts/{number}/acts']['post']['requestBody']['content']['application/json']
/** An act on a chart as a screen says it, before it has an id and a time. */
export type ChartSaid = Without<Sent, 'id' | 'made_at' | 'waited'>
export type Chart = Schemas['ChartView']
export type Cell = Schemas['ChartCell']
export type Line = Schemas['PaintLine']

/** Where the queue sends a chart's acts. */
export const CHARTS = 'mixing/charts'

export const useMixing = () =>
  useQuery({ queryKey: ['mixing'], queryFn: () => answered(api.GET('/api/mixing')) })

export const usePaint = (number: Ref<number>) =>
  useQuery({
    queryKey: ['mixing', 'paint', number],
    queryFn: () =>
      answered(api.GET('/api/mixing/paints/{paint_id}', { params: { path: { paint_id: number.value } } })),
  })

/** One chart, kept in step with every other window. */
export const useChart = (number: Ref<number>) =>
  useLog<Chart, ChartSaid>(
    CHARTS,
    number,
    (of) => answered(api.GET('/api/mixing/charts/{number}', { params: { path: { number: of } } })),
    (said) =>
      said.kind === 'strike'
        ? 'undid something'
        : said.kind === 'note'
          ? `note: ${said.text}`
          : said.kind === 'judged' || said.kind === 'hides'
            ? `${said.code} by eye`
            : said.squares.length === 1
              ? `square ${said.squares[0]!.code}`
              : `${said.squares.length} squares`,
  )

/** What a paint is known from, in words. */
export const HOW: Record<Schemas['KnownBy'], string> = {
  spectra: 'masstone and tint, spectra',
  figures: 'masstone and tint, three figures each',
  masstone: 'masstone alone',
  guess: 'never read: the library’s swatch, a guess',
}
/** How sure a paint is: four steps, for four bars. */
export const SURE: Record<Schemas['KnownBy'], number> = { spectra: 4, figures: 3, masstone: 2, guess: 1 }

/** What a paint still wants, as an order to the maker; nothing where it wants nothing. */
export function wants(line: Line): string {
  if (line.white) return line.lab ? '' : 'read it alone'
  if (line.trouble) return line.trouble
  if (line.missing.includes('masstone'))
    return line.missing.includes('tint') ? 'read masstone and tint' : 'read the masstone'
  if (line.missing.includes('tint')) return 'read the tint'
  if (line.missing.includes('white')) return 'read the white'
  return line.spectrum_helps ? 'a strong colour: a spectrum would say more' : ''
}

/** A paint by name, with the batch where it is one. */
export const nameOf = (line: Pick<Line, 'name' | 'batch_number'>) =>
  line.batch_number != null ? `${line.name}, batch ${line.batch_number}` : line.name

/** How strong painted squares found a paint, beside what its readings say: the band of it. */
export function strength(line: Line): string {
  if (line.strength == null || line.strength_low == null || line.strength_high == null) return ''
  return `${digits(line.strength_low, 2)} to ${digits(line.strength_high, 2)} times`
}

/** A difference of colours in honest digits. */
export const dE = (value: number) => digits(value, value < 9.95 ? 1 : 0)

/** How well a thin film hides, in words. */
export const HIDES: Record<Schemas['Hides'], string> = {
  nothing: 'nothing',
  some: 'some',
  nearly: 'nearly all',
  fully: 'all',
}

/** What parts are of, in words. */
export const PARTS_BY: Record<Schemas['PartsBy'], string> = { weight: 'by weight', volume: 'by volume' }
export const BY = Object.entries(PARTS_BY) as [Schemas['PartsBy'], string][]

/** Every paint of the room, whether here or used up. */
export const everyPaint = (room: Schemas['MixingRoom'] | undefined): Line[] => [
  ...(room?.here ?? []).flatMap(({ first, older }) => [first, ...older]),
  ...(room?.gone ?? []),
]

/** Parts of a square in words: "1 Red ochre + 2 white". */
export function partsOf(cell: Cell, chart: Chart): string {
  return cell.parts
    .map(({ place, parts }) => {
      const name = place === -1 ? (chart.white?.name ?? 'white') : (chart.paints[place]?.name ?? '')
      return `${parts} ${name}`
    })
    .join(' + ')
}
