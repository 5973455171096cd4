import { useSessionStorage } from '@vueuse/core'
import type { Schemas } from '@/api/client'
import { keyOf, lotOf } from '@/kit/source'

export type Colour = {
  name: string
  parts: { source: string; parts: number | null }[]
  mould: number
  count: number | null
  school: Schemas['Loading']
  /** Reduced PVC, or percent by weight; null is the usual of its school. */
  share: number | null
  dent: number
  recipe: number | null
}
export type Draft = {
  name: string
  base: number
  block: number
  oil: string
  way: Schemas['PigmentWay']
  pot?: number | null
  crayon: boolean
  colours: Colour[]
}

export const FIRST_DENT = 34
export const newColour = (mould: number, source = ''): Colour => ({
  name: '',
  parts: source ? [{ source, parts: 1 }] : [],
  mould,
  count: 1,
  school: 'volume',
  share: null,
  dent: FIRST_DENT,
  recipe: null,
})
/** What is being planned outlives a reload of the page. */
export const useDraft = () =>
  useSessionStorage<Draft>('niddy-set', {
    name: '',
    base: 0,
    block: 0,
    oil: '',
    way: 'mulled',
    crayon: false,
    colours: [],
  })

/** What is asked of the server; nothing while something is missing. */
export function asked(draft: Draft): Schemas['SetAsked'] | undefined {
  if (!draft.base || !draft.oil || !draft.colours.length) return undefined
  if (
    draft.colours.some(
      (c) => !c.mould || c.count == null || c.parts.some((p) => p.parts == null || !p.source),
    )
  )
    return undefined
  return {
    name: draft.name,
    base_id: draft.base,
    block_lot_id: draft.block || null,
    oil_lot_id: lotOf(draft.oil) ?? null,
    oil_key: lotOf(draft.oil) ? null : keyOf(draft.oil),
    way: draft.way,
    pot_ml: draft.pot ?? null,
    crayon: draft.crayon,
    colours: draft.colours.map((c) => ({
      name: c.name,
      pigments: c.parts.map((p) => ({
        lot_id: lotOf(p.source) ?? null,
        pigment_key: lotOf(p.source) ? null : keyOf(p.source),
        parts: p.parts!,
      })),
      moulds: [{ mould_id: c.mould, count: Math.round(c.count!) }],
      school: c.school,
      share: c.share == null ? null : c.school === 'weight' ? c.share / 100 : c.share,
      dent_dmm: c.dent,
      recipe_id: c.recipe,
    })),
  }
}
