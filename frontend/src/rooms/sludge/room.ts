import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { useJob, type Unsent } from '@/kit/job/job'

type CanSent = paths['/api/sludge/cans/{number}/acts']['post']['requestBody']['content']['application/json']
type DishSent =
  paths['/api/sludge/dishes/{number}/acts']['post']['requestBody']['content']['application/json']
/** An act on a can as a screen says it, before it has an id and a time. */
export type CanSaid = Unsent<CanSent>
/** An act on a dish as a screen says it. */
export type DishSaid = Unsent<DishSent>
export type Can = Schemas['CanView']
export type Dish = Schemas['DishView']
export type Line = Schemas['LogLine']

/** Where the queue sends a can's acts, and a dish's. */
export const CANS = 'sludge/cans'
export const DISHES = 'sludge/dishes'

export const useSludge = () =>
  useQuery({ queryKey: ['sludge'], queryFn: () => answered(api.GET('/api/sludge')) })
export const useSolvents = () =>
  useQuery({
    queryKey: ['solvents'],
    queryFn: () => answered(api.GET('/api/sludge/solvents')),
    staleTime: 3_600_000,
  })

/** One can, kept in step with every other window. */
export const useCan = (number: Ref<number>, kept: (said: CanSaid) => void) =>
  useJob<Can, CanSaid>({
    room: CANS,
    who: 'cans',
    number,
    fetch: (of) => answered(api.GET('/api/sludge/cans/{number}', { params: { path: { number: of } } })),
    words: canWords,
    every: 60_000,
    changes: ['sludge'],
    kept,
  })

/** One dish, kept in step with every other window. */
export const useDish = (number: Ref<number>) =>
  useJob<Dish, DishSaid>({
    room: DISHES,
    who: 'dishes',
    number,
    fetch: (of) => answered(api.GET('/api/sludge/dishes/{number}', { params: { path: { number: of } } })),
    words: dishWords,
    every: 60_000,
    changes: ['sludge', 'lots', 'home'],
  })

export const MUCH: Record<Schemas['Much'], string> = {
  little: 'a little',
  brushful: 'a brushful',
  palette: "a palette's worth",
}

function canWords(said: CanSaid): string {
  switch (said.kind) {
    case 'washing': {
      const count = said.paints?.length ?? 0
      return `a washing, ${count ? `${count} ${count === 1 ? 'paint' : 'paints'}` : 'not sure what'}`
    }
    case 'solvent_in':
      return `${said.ml} ml of solvent in`
    case 'found':
      return `about ${said.sludge_ml} ml of old sludge in it`
    case 'pour_off':
      return `poured off ${said.ml != null ? `${said.ml} ml` : `${said.g} g`}`
    case 'sludge_out':
      return 'sludge out'
    case 'height':
      return `${said.clear_mm} mm clear of ${said.total_mm} mm`
    case 'weighed':
      return `weighs ${said.g} g`
    case 'note':
      return `note: ${said.text}`
    case 'close':
      return 'out of use'
    case 'strike':
      return 'undid something'
  }
}

function dishWords(said: DishSaid): string {
  switch (said.kind) {
    case 'weigh':
      return `weighs ${said.g} g`
    case 'added':
      return `more sludge in, now ${said.g} g`
    case 'squeezed':
      return 'squeezed'
    case 'judged':
      return `judged: smells of ${said.smell}, paper ${said.paper}`
    case 'strained':
      return 'strained'
    case 'note':
      return `note: ${said.text}`
    case 'to_stock':
      return `into stock as ${said.code}`
    case 'throw':
      return 'kept for disposal'
    case 'strike':
      return 'undid something'
  }
}
