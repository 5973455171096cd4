import type { Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { useLog } from '@/kit/log/follow'
import { wordsOf } from './words'

export type { Reading } from '@/kit/log/follow'

type Sent = paths['/api/slab/{number}/acts']['post']['requestBody']['content']['application/json']
type Without<A, K extends string> = A extends unknown ? Omit<A, K> : never
/** An act of the slab as a screen says it, before it has an id and a time. */
export type Said = Without<Sent, 'id' | 'made_at' | 'waited'>

const namesOf = (view?: Schemas['SlabView']): Record<string, string> =>
  Object.fromEntries(
    (view ? [...view.pigments, view.oil, ...view.additives] : []).map((m) => [m.source, m.name]),
  )

/** Where a slab's acts go: to a batch's log, or to a practice that is no record of anything. */
export type SlabRoom = 'slab' | 'practice'

/** One batch's slab, or that of a practice, kept in step with every other window. */
export function useSlab(number: Ref<number>, room: SlabRoom = 'slab') {
  return useLog<Schemas['SlabView'], Said>(
    room,
    number,
    (of) =>
      answered(
        api.GET(`/api/${room}/{number}` as '/api/slab/{number}', { params: { path: { number: of } } }),
      ),
    (said, view) => wordsOf(said, namesOf(view)),
  )
}
