import { useQueryClient } from '@tanstack/vue-query'
import { computed, type Ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import type { Reading } from '@/kit/log/follow'
import { usePracticeBalance } from './balance'
import { throwAway } from './room'

/**
 * What a slab has besides where its paste is a practice: a balance of its own that is poured at, a clock that is moved
 * on, an end without tubes. Everywhere else nothing of it is there.
 */
export function usePracticeSlab(
  room: string,
  number: number,
  view: Ref<Schemas['SlabView'] | undefined>,
  onBalance: Ref<Reading | undefined>,
) {
  const router = useRouter()
  const queries = useQueryClient()
  const practice = computed(() => view.value?.practice)
  const balance =
    room === 'practice'
      ? usePracticeBalance(() => ({
          streamGPerS: practice.value?.stream_g_per_s ?? 1,
          dropG: practice.value?.drop_g ?? 0.02,
        }))
      : undefined
  /** Who spoons has no balance, in practice neither. */
  const weight = computed(() =>
    balance ? (view.value?.habit.how === 'scale' ? balance.reading.value : undefined) : onBalance.value,
  )
  return {
    practice,
    balance,
    weight,
    seenAnew: (seen: Schemas['SlabView']) => queries.setQueryData([room, number], seen),
    /** It is over: its score stands at the top, and in the room. */
    over(): void {
      void queries.invalidateQueries({ queryKey: ['practice'] })
      scrollTo({ top: 0 })
    },
    async throwItAway(): Promise<void> {
      await throwAway(number)
      void queries.invalidateQueries({ queryKey: ['practice'] })
      await router.push('/practice')
    },
  }
}
