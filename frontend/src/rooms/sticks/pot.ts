import { asTold } from '@/kit/units'
import type { Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { digits } from '@/kit/format'
import { useJob, type Unsent } from '@/kit/job/job'

type Sent = paths['/api/sticks/{number}/acts']['post']['requestBody']['content']['application/json']
/** An act at the pot as a screen says it, before it has an id and a time. */
export type Said = Unsent<Sent>
export type View = Schemas['PotView']

/** One pot, kept in step with every other window. */
export function usePot(number: Ref<number>) {
  return useJob<View, Said>({
    room: 'sticks',
    who: 'sticks',
    number,
    fetch: (of) => answered(api.GET('/api/sticks/{number}', { params: { path: { number: of } } })),
    words: wordsOf,
    every: 30_000,
  })
}

/** An act in words, for the queue: nothing is computed, only said. */
export function wordsOf(act: Said, view?: View): string {
  const name = (source: string) => view?.materials.find((m) => m.source === source)?.name ?? source
  switch (act.kind) {
    case 'ready':
      return 'kit checked'
    case 'base':
    case 'oil':
    case 'pigment':
      return `${name(act.source)} in, ${act.measure.amount ?? ''} ${(act.measure.unit ?? 'g').replaceAll('_', ' ')}`
    case 'mulled':
      return `in: ${act.parts.map((p) => `${name(p.source)} ${p.grams} g`).join(', ')}`
    case 'paste':
      return `${act.volume_ml} ml of paste in`
    case 'temperature':
      return `thermometer ${act.temperature_c} °C`
    case 'melted':
      return 'melted and clear'
    case 'heat_off':
      return 'heat off'
    case 'stir':
      return 'stirred'
    case 'drop':
    case 'dent':
      return `${act.kind === 'drop' ? 'a drop' : 'a stick'} ${act.feel ?? `dents ${act.dent_dmm}`}`
    case 'pour':
      return 'poured'
    case 'skin':
      return `a skin at ${act.temperature_c} °C`
    case 'out':
      return `${act.count} out of the moulds`
    case 'flaw':
      return `flaw: ${act.flaw.replace('_', ' ')}`
    case 'dry_trial':
      return 'drawn with, dry'
    case 'wet_trial':
      return act.tool === 'solvent' ? 'washed with solvent' : 'worked with the blending stick'
    case 'dried':
      return act.what
    case 'verdict':
      return `verdict: ${act.verdict.replace('_', ' ')}`
    case 'note':
      return `note: ${act.text}`
    case 'photo':
      return 'picture'
    case 'finish':
      return 'onto the shelf'
    case 'abandon':
      return 'given up'
    case 'strike':
      return 'undid something'
  }
}

/** What the large button does: an act at once, or an entry that opens. */
export type Tap = { name: string; said?: Said; panel?: string }

const rounded = (grams: number) => Number(grams.toFixed(1))

/** The tap of what is advised now; the amount is the one that was planned. */
export function tapFor(view: View, byBalance: boolean): Tap | undefined {
  const { act, source = '', grams } = view.advice
  const told = view.told[source]
  switch (act) {
    case 'ready':
      return { name: 'All at hand', said: { kind: 'ready' } }
    case 'base':
    case 'oil':
    case 'pigment':
      if (byBalance || grams == null) return { name: 'Weigh it in', panel: 'amount' }
      if (told) return { name: `${told.words} in`, said: { kind: act, source, measure: asTold(told) } }
      return {
        name: `${digits(grams, 1)} g is in`,
        said: { kind: act, source, measure: { unit: 'g', amount: rounded(grams) } },
      }
    case 'mulled': {
      const parts = Object.entries(view.advice.parts ?? {}).map(([of, g]) => ({
        source: of,
        grams: rounded(view.told[of]?.grams ?? g),
      }))
      return { name: 'It is in', said: { kind: 'mulled', parts: parts.filter((p) => p.grams > 0) } }
    }
    case 'melted':
      return {
        name: 'It is clear',
        said: { kind: 'melted', ...(view.strip.now_c != null ? { temperature_c: view.strip.now_c } : {}) },
      }
    case 'stir':
      return { name: 'Stirred', said: { kind: 'stir' } }
    case 'drop':
      return { name: 'Read the drop', panel: 'drop' }
    case 'pour':
      return { name: 'Poured', panel: 'pour' }
    case 'out':
      return { name: 'They are out', panel: 'out' }
    case 'finish':
      return { name: 'Onto the shelf', panel: 'finish' }
    default:
      return undefined
  }
}
