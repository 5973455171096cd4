import { ref } from 'vue'
import { Refused } from '@/api/client'

/**
 * Work asked of the server: what it refused stands beside its field, a server that is away is said, and `busy` holds
 * the button while it lasts. `tried` tells whether the work was done.
 */
export function useTried(kept = 'what you typed is kept') {
  const refusal = ref<Refused>()
  const trouble = ref('')
  const busy = ref(false)
  const said = (field: string) => refusal.value?.at(field)
  async function tried(work: () => Promise<unknown>): Promise<boolean> {
    refusal.value = undefined
    trouble.value = ''
    busy.value = true
    try {
      await work()
      return true
    } catch (problem) {
      if (problem instanceof Refused) refusal.value = problem
      else trouble.value = `The server does not answer; ${kept}. Try again.`
      return false
    } finally {
      busy.value = false
    }
  }
  return { refusal, trouble, busy, said, tried }
}
