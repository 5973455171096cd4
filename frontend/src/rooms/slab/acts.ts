import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'

type Act = Schemas['Act']
export type Said = Omit<Act, 'id' | 'made_at'>
const RETRY_MS = 2_000

/**
 * One batch's slab: its view, kept in step with every other window, and acts that are sent until they are
 * acknowledged. An act gets its id here, once, so that sending it again cannot count twice.
 */
export function useSlab(number: Ref<number>) {
  const queries = useQueryClient()
  const key = computed(() => ['slab', number.value])
  const {
    data: view,
    error,
    isError,
  } = useQuery({
    queryKey: key,
    queryFn: () => answered(api.GET('/api/slab/{number}', { params: { path: { number: number.value } } })),
  })

  const waiting = useLocalStorage<Act[]>(`niddy-waiting-${number.value}`, [])
  const refusal = ref<Refused>()
  const sending = ref(false)
  /** The server's clock less ours, so that times agree wherever the clock is kept. */
  const ahead = computed(() => (view.value ? Date.parse(view.value.now) - fetchedAt.value : 0))
  const fetchedAt = ref(Date.now())
  watch(view, () => (fetchedAt.value = Date.now()), { flush: 'sync' })

  async function flush(): Promise<void> {
    if (sending.value) return
    sending.value = true
    try {
      while (waiting.value.length) {
        const act = waiting.value[0]!
        const answer = await answered(api.POST('/api/slab/{number}/acts', { params: { path: { number: number.value } }, body: act }))
        waiting.value = waiting.value.slice(1)
        queries.setQueryData(key.value, answer)
        if (act.kind === 'finish' || act.kind === 'abandon' || answer.status !== view.value?.status)
          void queries.invalidateQueries({ queryKey: ['home'] })
      }
    } catch (problem) {
      if (problem instanceof Refused) {
        refusal.value = problem
        waiting.value = waiting.value.slice(1)
      }
    } finally {
      sending.value = false
    }
  }

  /** Log an act; true once the server has acknowledged it, false where it was refused or waits for the server. */
  async function record(said: Said): Promise<boolean> {
    refusal.value = undefined
    const act: Act = { ...said, id: crypto.randomUUID(), made_at: new Date(Date.now() + ahead.value).toISOString() }
    waiting.value = [...waiting.value, act]
    await flush()
    return !refusal.value && !waiting.value.some((w) => w.id === act.id)
  }

  const timer = setInterval(() => void (waiting.value.length && flush()), RETRY_MS)
  onBeforeUnmount(() => clearInterval(timer))
  void flush()

  const followed = ref(false)
  const stream = new EventSource(`/api/slab/${number.value}/follow`)
  const look = () => void queries.invalidateQueries({ queryKey: key.value })
  stream.addEventListener('ready', () => {
    followed.value = true
    look()
  })
  stream.addEventListener('grew', look)
  stream.addEventListener('error', () => (followed.value = false))
  onBeforeUnmount(() => stream.close())

  return { view, error, isError, record, refusal, waiting, sending, followed }
}
