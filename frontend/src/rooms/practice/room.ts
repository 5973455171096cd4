import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, refusedHere, type Schemas } from '@/api/client'
import { meNow } from '@/kit/here'
import { newId } from '@/kit/ids'

/** Who practises at this device, by name or initials. */
export function useMaker() {
  const kept = useLocalStorage('niddy-practice-maker', '')
  const me = meNow()
  if (me) kept.value = me.name
  return kept
}

export function usePractice(maker: { value: string }) {
  return useQuery({
    queryKey: ['practice', maker],
    queryFn: () => answered(api.GET('/api/practice', { params: { query: { maker: maker.value } } })),
  })
}

/** Begin a try and go to it; asked again with the same id, it is the same try. */
export function useBegin() {
  const router = useRouter()
  const queries = useQueryClient()
  const refusal = ref<Refused>()
  const busy = ref(false)
  async function begin(
    exercise: Schemas['Exercise'],
    maker: string,
    more: { seed?: number; advised?: boolean } = {},
  ): Promise<void> {
    busy.value = true
    refusal.value = undefined
    try {
      const body = { id: newId(), exercise, maker: maker.trim(), ...more }
      const begun = await answered(api.POST('/api/practice', { body }))
      void queries.invalidateQueries({ queryKey: ['practice'] })
      await router.push(begun.paste ? `/practice/${begun.number}` : `/practice/judging/${begun.number}`)
    } catch (problem) {
      refusal.value =
        problem instanceof Refused
          ? problem
          : refusedHere('the server does not answer', 'the same again in a moment')
    } finally {
      busy.value = false
    }
  }
  return { begin, refusal, busy }
}

/** Throw a try away that is not over. */
export const throwAway = (number: number) =>
  answered(api.DELETE('/api/practice/{number}', { params: { path: { number } } }))

export const BODIES: Schemas['Body'][] = ['crumbles', 'putty', 'stiff', 'tube', 'soft', 'loose', 'runs']
