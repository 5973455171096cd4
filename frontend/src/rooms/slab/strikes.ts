import { computed, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Said } from './acts'

/** Undoing: an act is struck out of the log, and back in it where that strike-out is struck. */
export function useStrikes(
  view: Ref<Schemas['SlabView'] | undefined>,
  record: (said: Said) => Promise<boolean>,
) {
  const strike = (id: string) => record({ kind: 'strike', strikes: id })
  function undo(): void {
    const last = view.value?.timeline.findLast((e) => e.can_strike)
    if (last) void strike(last.id)
  }
  /** The strike-out that was the last act: one tap takes it back. */
  const struckLast = computed(() => {
    const last = view.value?.timeline.at(-1)
    return last?.can_restore ? last : undefined
  })
  return { struckLast, strike, undo }
}
