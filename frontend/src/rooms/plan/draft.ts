import { keyOf, librarySource, lotOf, lotSource } from '@/kit/source'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'

export type Start = 'tubes' | 'pigment' | 'spoons'
export type DraftLine = {
  source: string
  parts: number | null
  spoons: number | null
  spoon: Schemas['Unit']
}
export type Draft = {
  lines: DraftLine[]
  oil: string
  reduced: number
  start: Start
  tubes: Record<string, number | null>
  /** So many tubes were asked for by somebody: they are not merely the first guess of a fresh plan. */
  tubes_meant?: boolean
  pigment_g: number | null
  slab_id: number | null
  muller_id: number | null
  fineness_um?: number | null
  recipe?: { id: number; version: number } | null
  /** Other oils stirred into the first, and the parts of the first. */
  more_oils?: { source: string; parts: number | null }[]
  oil_parts?: number | null
  additives?: { source: string; dose: number | null }[]
  trial?: boolean
  measuring?: Schemas['Measuring'] | null
  tool?: Schemas['Tool'] | null
  /** In loads, or all of it at once; the studio's own way where it is left open. */
  working?: Schemas['PlanAsked']['working']
  /** The body was wished for by itself: another powder does not take it back. */
  wished?: boolean
  /** A batch that is to come out the same again. */
  same_as?: number | null
  purpose?: Schemas['Purpose'] | null
  /** How smooth it is wanted. */
  grind?: Schemas['Grind']
  /** What the parts are, where a plan that was kept says so; else it follows from how one measures. */
  parts_by?: Schemas['PlanAsked']['parts_by']
}
type Asked = Schemas['PlanAsked']

export const emptyLine = (source = '', spoon: Schemas['Unit'] = 'teaspoon'): DraftLine => ({
  source,
  parts: 1,
  spoons: 2,
  spoon,
})

/** The plan being made; it survives a reload and a change of screen. */
export function usePlanDraft(): Ref<Draft> {
  return useLocalStorage<Draft>('niddy-plan-draft', {
    lines: [],
    oil: '',
    reduced: 0.86,
    start: 'tubes',
    tubes: {},
    pigment_g: 100,
    slab_id: null,
    muller_id: null,
  })
}

const named = (source: string, key: 'pigment_key' | 'oil_key' | 'additive_key') =>
  lotOf(source) != null ? { lot_id: lotOf(source) } : { [key]: keyOf(source) }

/** The request a draft stands for; undefined while nothing is chosen yet. */
export function asked(draft: Draft): Asked | undefined {
  const lines = draft.lines.filter((line) => line.source)
  if (!lines.length || !draft.oil) return undefined
  const spooned = draft.start === 'spoons'
  const more = (draft.more_oils ?? []).filter((part) => part.source && part.parts)
  return {
    lines: lines.map((line) => ({
      ...named(line.source, 'pigment_key'),
      ...(spooned
        ? line.spoons == null
          ? {}
          : { spoons: { amount: line.spoons, unit: line.spoon } }
        : { parts: lines.length === 1 ? 1 : line.parts }),
    })),
    oil: more.length
      ? {
          blend: [{ source: draft.oil, parts: draft.oil_parts ?? 1 }, ...more].map((part) => ({
            ...named(part.source, 'oil_key'),
            parts: part.parts!,
          })),
        }
      : named(draft.oil, 'oil_key'),
    additives: (draft.additives ?? [])
      // One without a dose is asked for, never left out silently.
      .filter((part) => part.source)
      .map((part) => ({ ...named(part.source, 'additive_key'), dose_pct: part.dose })),
    trial: draft.trial ?? false,
    reduced_pvc: draft.reduced,
    ...(draft.start === 'tubes' && {
      tubes: Object.entries(draft.tubes)
        .filter(([, count]) => count)
        .map(([id, count]) => ({ tube_type_id: Number(id), count: count! })),
    }),
    ...(draft.start === 'pigment' && draft.pigment_g != null && { pigment_g: draft.pigment_g }),
    slab_id: draft.slab_id,
    muller_id: draft.muller_id,
    ...(draft.recipe && { recipe_id: draft.recipe.id, recipe_version: draft.recipe.version }),
    ...(draft.fineness_um != null && { target_fineness_um: draft.fineness_um }),
    measuring: draft.measuring ?? null,
    tool: draft.tool ?? null,
    working: draft.working ?? null,
    same_as: draft.same_as ?? null,
    purpose: draft.purpose ?? null,
    grind: draft.grind ?? 'usual',
    parts_by: partsBy(draft, lines.length),
  }
}

/** Without a scale parts are level spoons; a recipe's parts stay by weight. */
const partsBy = (draft: Draft, lines: number) =>
  draft.parts_by ??
  (lines > 1 && !draft.recipe && draft.measuring && draft.measuring !== 'scale' ? 'spoons' : 'weight')

const source = (lot: number | null | undefined, key: string | null | undefined) =>
  lot ? lotSource(lot) : key ? librarySource(key) : ''

/** The draft that a request came from. */
export function draftOf(plan: Asked): Draft {
  const first = plan.lines[0]
  const [oil, ...more] = plan.oil.blend ?? []
  return {
    lines: plan.lines.map((line) => ({
      source: source(line.lot_id, line.pigment_key),
      parts: line.parts ?? 1,
      spoons: line.spoons?.amount ?? 2,
      spoon: line.spoons?.unit ?? 'teaspoon',
    })),
    oil: oil ? source(oil.lot_id, oil.oil_key) : source(plan.oil.lot_id, plan.oil.oil_key),
    oil_parts: oil?.parts ?? 1,
    more_oils: more.map((part) => ({ source: source(part.lot_id, part.oil_key), parts: part.parts })),
    additives: (plan.additives ?? []).map((part) => ({
      source: source(part.lot_id, part.additive_key),
      dose: part.dose_pct ?? null,
    })),
    trial: plan.trial ?? false,
    reduced: plan.reduced_pvc,
    start: plan.tubes ? 'tubes' : first?.spoons ? 'spoons' : 'pigment',
    tubes: Object.fromEntries((plan.tubes ?? []).map((t) => [String(t.tube_type_id), t.count])),
    tubes_meant: true,
    pigment_g: plan.pigment_g ?? 100,
    slab_id: plan.slab_id ?? null,
    muller_id: plan.muller_id ?? null,
    fineness_um: plan.target_fineness_um ?? null,
    measuring: plan.measuring ?? null,
    tool: plan.tool ?? null,
    working: plan.working ?? null,
    wished: true,
    purpose: plan.purpose ?? null,
    grind: plan.grind ?? 'usual',
    parts_by: plan.parts_by,
    recipe:
      plan.recipe_id && plan.recipe_version ? { id: plan.recipe_id, version: plan.recipe_version } : null,
  }
}

const TRY_AGAIN_MS = 3_000

/** The computed plan of whatever is asked, at once: one request under way, the newest wish next. */
export function useComputed(wish: Ref<Asked | undefined>) {
  const answer = ref<Schemas['Planned']>()
  const refusal = ref<Refused>()
  const offline = ref(false)
  let underWay = false
  let again = false

  async function ask(): Promise<void> {
    if (underWay) {
      again = true
      return
    }
    underWay = true
    do {
      again = false
      const body = wish.value
      if (!body) break
      try {
        answer.value = await answered(api.POST('/api/plan', { body }))
        refusal.value = undefined
        offline.value = false
      } catch (error) {
        if (error instanceof Refused) refusal.value = error
        else {
          offline.value = true
          setTimeout(() => void ask(), TRY_AGAIN_MS)
        }
      }
    } while (again)
    underWay = false
  }
  watch(
    computed(() => JSON.stringify(wish.value)),
    () => void ask(),
    { immediate: true },
  )
  return { answer, refusal, offline, ask }
}
