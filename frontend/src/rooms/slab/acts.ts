import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { answered, api, type Refused, refusedHere, type Schemas } from '@/api/client'
import { newId } from '@/kit/ids'
import {
  enqueue,
  flush,
  lasting,
  queueChanged,
  unreachable,
  waitingFor,
  waitsFor,
  type Act,
  type Said,
  type Waiting,
} from '@/kit/log/queue'
import { wordsOf } from './words'

export type { Said }
export type Reading = Schemas['BalanceReading']

/**
 * One batch's slab: its view, kept in step with every other window, and acts that are kept in the browser
 * until they are acknowledged. An act gets its id here, once, so that sending it again cannot count twice.
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

  const waiting = ref<Waiting[]>([])
  async function look(): Promise<void> {
    waiting.value = await waitingFor(number.value)
  }
  watch(queueChanged, () => void look(), { immediate: true })

  const refusal = ref<Refused>()
  const sending = ref(false)
  /** The server's clock less ours, so that times agree wherever the clock is kept. */
  const ahead = ref(0)
  watch(view, (now) => now && (ahead.value = Date.parse(now.now) - Date.now()), {
    flush: 'sync',
    immediate: true,
  })
  const names = computed(() =>
    Object.fromEntries(
      [
        ...(view.value?.pigments ?? []),
        ...(view.value ? [view.value.oil] : []),
        ...(view.value?.additives ?? []),
      ].map((m) => [m.source, m.name]),
    ),
  )

  /** Log an act; true once the server has acknowledged it, false where it was refused or waits for the server. */
  async function record(said: Said, picture?: Blob): Promise<boolean> {
    refusal.value = undefined
    // A plain copy: what is kept in the browser cannot be one of the view's own objects.
    const plain = JSON.parse(JSON.stringify(said)) as Said
    const act: Act = {
      ...plain,
      id: newId(),
      made_at: new Date(Date.now() + ahead.value).toISOString(),
    }
    sending.value = true
    try {
      await enqueue({
        number: number.value,
        act,
        words: wordsOf(said, names.value),
        ...(picture ? { picture } : {}),
      })
      const status = view.value?.status
      const outcome = await flush(act.id)
      refusal.value = outcome.refused.get(act.id)
      const after = outcome.views.get(number.value)
      if (after && after.status !== status) void queries.invalidateQueries({ queryKey: ['home'] })
      // At once, so that what was open closes with the view it led to.
      if (outcome.acknowledged.has(act.id) || refusal.value) return !refusal.value
      // Not sent by this window: it waits, unless another window sent it for us.
      await look()
      return !waiting.value.some((w) => w.act.id === act.id)
    } catch {
      const problem = 'this browser had no room to keep it, and it was not recorded'
      refusal.value = refusedHere(problem, 'the same again, once what waits was sent')
      return false
    } finally {
      sending.value = false
    }
  }

  const followed = ref(false)
  /** What the balance shows; nothing where none is set up or the server is away. */
  const weight = ref<Reading>()
  const stream = new EventSource(`/api/slab/${number.value}/follow`)
  const again = () => void queries.invalidateQueries({ queryKey: key.value })
  stream.addEventListener('ready', () => {
    followed.value = true
    unreachable.value = false
    again()
  })
  stream.addEventListener('grew', again)
  stream.addEventListener('weight', (event) => (weight.value = JSON.parse(event.data) as Reading))
  stream.addEventListener('error', () => {
    followed.value = false
    weight.value = undefined
  })
  onBeforeUnmount(() => stream.close())

  const offline = computed(
    () => unreachable.value || (waiting.value.length > 0 && !followed.value && !sending.value),
  )
  return {
    view,
    error,
    isError,
    record,
    refusal,
    waiting,
    waitsFor,
    lasting,
    sending,
    followed,
    offline,
    weight,
    ahead,
    refresh: again,
  }
}
