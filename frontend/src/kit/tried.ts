import { ref } from 'vue'
import { Refused, Unreachable } from '@/api/client'
import { useOnce } from './ids'

/**
 * Work asked of the server: what it refused stands beside its field, a server that is away is said, and `busy` holds
 * the button while it lasts. `tried` tells whether the work was done. `once` gives what is asked an id that stays the
 * same until it was done or refused, or until something else is asked.
 */
export function useTried(kept = 'what you typed is kept') {
  const refusal = ref<Refused>()
  const trouble = ref('')
  const busy = ref(false)
  const { once, settled } = useOnce()
  const said = (field: string) => refusal.value?.at(field)
  async function tried(work: () => Promise<unknown>): Promise<boolean> {
    refusal.value = undefined
    trouble.value = ''
    busy.value = true
    try {
      await work()
      settled()
      return true
    } catch (problem) {
      if (problem instanceof Refused) {
        refusal.value = problem
        settled()
      } else {
        const why = problem instanceof Unreachable ? problem.message : 'Something went wrong on this screen.'
        trouble.value = `${why.replace(/\.$/, '')}; ${kept}. Try again.`
      }
      return false
    } finally {
      busy.value = false
    }
  }
  return { refusal, trouble, busy, said, tried, once }
}
