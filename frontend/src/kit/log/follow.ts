import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, onBeforeUnmount, ref, watch, type Ref } from 'vue'
import { refusedHere, type Refused, type Schemas } from '@/api/client'
import { newId } from '@/kit/ids'
import {
  enqueue,
  flush,
  keyOf,
  lasting,
  noteJob,
  queueChanged,
  unreachable,
  waitingFor,
  waitsFor,
  type Act,
  type View,
  type Waiting,
} from './queue'

export type Reading = Schemas['BalanceReading']
export type Acidity = { ph: number | null; state: string; says: string }
export type Warmth = { temperature_c: number | null; state: string; says: string }

/** So long after a server that is not ready refused to be followed it is asked again. */
const AGAIN_MS = 3_000

/**
 * One log of a room: its view, kept in step with every other window, and acts that are kept in the browser
 * until they are acknowledged. An act gets its id here, once, so that sending it again cannot count twice.
 *
 * `fetch` asks for the view, `words` says an act as the queue shows it.
 */
export function useLog<V extends View, S extends { kind: string }>(
  room: string,
  number: Ref<number>,
  fetch: (number: number) => Promise<V>,
  words: (said: S, view: V | undefined) => string,
) {
  const queries = useQueryClient()
  const key = computed(() => [room, number.value])
  const log = () => ({ room, number: number.value })
  const {
    data: view,
    error,
    isError,
  } = useQuery<V>({
    queryKey: key,
    queryFn: () => fetch(number.value),
  })

  const waiting = ref<Waiting[]>([])
  async function look(): Promise<void> {
    waiting.value = await waitingFor(log())
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

  /** When the last act of this window was made: the next is later, whatever the clock was set to meanwhile. */
  let latest = 0
  const stamp = () => (latest = Math.max(latest + 1, Date.now() + ahead.value))
  /** Log an act; true once the server has acknowledged it, false where it was refused or waits for the server. */
  async function record(said: S, picture?: Blob): Promise<boolean> {
    refusal.value = undefined
    // A plain copy: what is kept in the browser cannot be one of the view's own objects.
    const plain = JSON.parse(JSON.stringify(said)) as S
    const act = {
      ...plain,
      id: newId(),
      made_at: new Date(stamp()).toISOString(),
    } as Act
    sending.value = true
    try {
      const told = { act, words: words(said, view.value), ahead: ahead.value }
      await enqueue({ ...log(), ...told, ...(picture ? { picture } : {}) })
      const status = view.value?.status
      const outcome = await flush(act.id)
      refusal.value = outcome.refused.get(act.id)
      const after = outcome.views.get(keyOf(log()))?.view
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
  /** What the thermometer shows; nothing where none is set up or the server is away. */
  const temperature = ref<Warmth>()
  /** What the pH meter shows; nothing where none is set up or the server is away. */
  const acidity = ref<Acidity>()
  const refresh = () => void queries.invalidateQueries({ queryKey: key.value })
  let stream: EventSource
  let again: ReturnType<typeof setTimeout> | undefined
  function follow(): void {
    stream = new EventSource(`/api/${room}/${number.value}/follow`)
    stream.addEventListener('ready', (event) => {
      noteJob(log(), (JSON.parse(event.data) as { job: string }).job).catch(() => undefined)
      followed.value = true
      unreachable.value = false
      refresh()
    })
    stream.addEventListener('grew', refresh)
    stream.addEventListener('weight', (event) => (weight.value = JSON.parse(event.data) as Reading))
    stream.addEventListener('temperature', (event) => (temperature.value = JSON.parse(event.data) as Warmth))
    stream.addEventListener('ph', (event) => (acidity.value = JSON.parse(event.data) as Acidity))
    stream.addEventListener('error', () => {
      followed.value = false
      weight.value = temperature.value = acidity.value = undefined
      // A lost line is taken up by the browser; one that was answered with a refusal, while a server starts, is not.
      if (stream.readyState === EventSource.CLOSED) again = setTimeout(follow, AGAIN_MS)
    })
  }
  follow()
  onBeforeUnmount(() => {
    clearTimeout(again)
    stream.close()
  })

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
    temperature,
    acidity,
    ahead,
    refresh,
  }
}
