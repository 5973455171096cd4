import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import { ref } from 'vue'
import { answered, api, queryClient, Refused, Unreachable, type Schemas } from '@/api/client'

export type Act = Schemas['Act']
/** An act as a screen says it, before it has an id and a time. */
export type Said = Omit<Act, 'id' | 'made_at'>
/** An act that waits in this browser: what will be sent, what it is in words, and the picture if it is one. */
export type Waiting = { place?: number; number: number; act: Act; words: string; picture?: Blob }
/** An act the server would not take when it came at last: kept until the maker has read it. */
export type TurnedAway = { place?: number; number: number; words: string; why: string }

interface Kept extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { number: number } }
  turned_away: { key: number; value: TurnedAway; indexes: { number: number } }
}

let opened: Promise<IDBPDatabase<Kept>> | undefined
const database = () =>
  (opened ??= openDB<Kept>('niddy', 1, {
    upgrade(db) {
      for (const name of ['waiting', 'turned_away'] as const)
        db.createObjectStore(name, { keyPath: 'place', autoIncrement: true }).createIndex('number', 'number')
    },
    terminated: () => (opened = undefined),
  }))

/** Changes whenever the queue does, in this window or another. */
export const queueChanged = ref(0)
/** Whether the last try to reach the server failed. */
export const unreachable = ref(false)
const channel = new BroadcastChannel('niddy-queue')
channel.onmessage = () => queueChanged.value++
function changed(): void {
  queueChanged.value++
  channel.postMessage('changed')
}

/** Put an act into the queue. Once this resolves it survives a closed browser. */
export async function enqueue(waiting: Waiting): Promise<void> {
  await (await database()).add('waiting', waiting)
  changed()
}
export const waitingFor = async (number: number): Promise<Waiting[]> =>
  (await database()).getAllFromIndex('waiting', 'number', number)
export const turnedAwayFor = async (number: number): Promise<TurnedAway[]> =>
  (await database()).getAllFromIndex('turned_away', 'number', number)
export async function dismiss(place: number): Promise<void> {
  await (await database()).delete('turned_away', place)
  changed()
}

async function send(waiting: Waiting): Promise<Schemas['SlabView']> {
  const { number, act, picture } = waiting
  if (!picture)
    return answered(api.POST('/api/slab/{number}/acts', { params: { path: { number } }, body: act }))
  const path = { number, photo_id: act.id }
  const query = { made_at: act.made_at, text: act.text ?? '' }
  return answered(
    api.POST('/api/slab/{number}/photos/{photo_id}', {
      params: { path, query },
      body: picture as unknown as string,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { 'content-type': picture.type || 'image/jpeg' },
    }),
  )
}

type Outcome = {
  views: Map<number, Schemas['SlabView']>
  acknowledged: Set<string>
  refused: Map<string, Refused>
}

/**
 * Send what waits, in order, oldest first. One window at a time does it; sending again what another window
 * sent already changes nothing, since every act has its id from the start.
 */
export async function flush(watched?: string): Promise<Outcome> {
  return navigator.locks.request('niddy-queue', async () => {
    const outcome: Outcome = { views: new Map(), acknowledged: new Set(), refused: new Map() }
    const db = await database()
    for (;;) {
      const next = (await db.getAll('waiting', undefined, 1))[0]
      if (!next) break
      try {
        outcome.views.set(next.number, await send(next))
        outcome.acknowledged.add(next.act.id)
        unreachable.value = false
      } catch (problem) {
        if (!(problem instanceof Refused)) {
          unreachable.value = problem instanceof Unreachable
          break
        }
        unreachable.value = false
        outcome.refused.set(next.act.id, problem)
        // Whoever made it just now is told beside the field; an act that waited is told when the slab is seen next.
        if (next.act.id !== watched)
          await db.add('turned_away', { number: next.number, words: next.words, why: problem.words })
      }
      await db.delete('waiting', next.place!)
      changed()
    }
    for (const [number, view] of outcome.views) queryClient.setQueryData(['slab', number], view)
    return outcome
  })
}

const RETRY_MS = 2_000

/** Keep trying while the application is open, whichever screen is shown. */
export function keepSending(): void {
  const waits = async () => {
    try {
      if ((await (await database()).count('waiting')) > 0) await flush()
    } catch {
      // A browser without storage for this page: acts then go straight to the server.
    }
  }
  setInterval(() => void waits(), RETRY_MS)
  window.addEventListener('online', () => void waits())
  void waits()
}
