import { ref, toRaw } from 'vue'
import { answered, api, queryClient, Refused, Unreachable, type Schemas } from '@/api/client'
import { meNow } from '@/kit/here'
import { newId } from '@/kit/ids'
import { scaledDown } from '@/kit/picture'
import { roomOf, store, type Act, type Log, type Measure, type NotTaken, type Waiting } from './store'

export type { Act, Log, NotTaken, Waiting }

/** Changes whenever the queue does, in this window or another. */
export const queueChanged = ref(0)
/** Whether the last try to reach the server failed, and what is waited for in words. */
export const unreachable = ref(false)
export const waitsFor = ref('')
/** False where this browser keeps nothing: what waits would be gone with the page. */
export const lasting = ref(true)
const channel = 'BroadcastChannel' in window ? new BroadcastChannel('niddy-queue') : undefined
if (channel) channel.onmessage = () => queueChanged.value++
function changed(): void {
  queueChanged.value++
  channel?.postMessage('changed')
}

/** Put an act into the queue. Once this resolves it survives a closed browser, where the browser keeps anything. */
export async function enqueue(waiting: Waiting): Promise<void> {
  const kept = await store()
  lasting.value = kept.lasting
  const me = meNow()
  const log = { room: roomOf(waiting), number: waiting.number }
  const job = waiting.job ?? (await kept.jobOf(keyOf(log)))
  await kept.add({
    ...waiting,
    ...(job ? { job } : {}),
    ...(waiting.picture ? { picture: await scaledDown(waiting.picture) } : {}),
    ...(me ? { maker: { id: me.id, name: me.name } } : {}),
  })
  changed()
}
const isOf = (log?: Log) => (entry: { room?: string; number: number }) =>
  !log || (roomOf(entry) === log.room && entry.number === log.number)
/** What waits, of one log or of all. */
export const waitingFor = async (log?: Log): Promise<Waiting[]> =>
  (await (await store()).waiting()).filter(isOf(log))
/** What was refused when it came at last, of one log or of all. */
export const notTakenFor = async (log?: Log): Promise<NotTaken[]> =>
  (await (await store()).notTaken()).filter(isOf(log))

/** What the stream of a log tells of its job: acts made from now on are for no other. */
export async function noteJob(log: Log, job: string): Promise<void> {
  await (await store()).noteJob(keyOf(log), job)
}

/** Send a refused act once more, put right where `measure` says so; or to another of its room's, by number. */
export async function tryAgain(refused: NotTaken, measure?: Measure, to?: number): Promise<void> {
  if (!refused.act) return
  const kept = await store()
  // A plain copy: what is kept in the browser cannot be one of a screen's own objects.
  const plain = JSON.parse(JSON.stringify(refused.act)) as Act
  const act = measure ? ({ ...plain, id: newId(), measure } as Act) : plain
  const { words } = refused
  const picture = toRaw(refused.picture)
  const number = to ?? refused.number
  const me = meNow()
  const maker = me ? { maker: { id: me.id, name: me.name } } : {}
  await kept.add({ room: roomOf(refused), number, act, words, ...maker, ...(picture ? { picture } : {}) })
  await kept.forget(refused.id)
  changed()
  await flush()
}

/** Give a refused act up: what it was and why stays as a note in its log. */
export async function giveUp(refused: NotTaken, why: string): Promise<void> {
  const kept = await store()
  const made_at = refused.act?.made_at ?? new Date().toISOString()
  const text = `not taken and given up: ${refused.words}. ${why}`.slice(0, 2000)
  const act = { id: newId(), made_at, kind: 'note', text } as Act
  await kept.add({ room: roomOf(refused), number: refused.number, act, words: `note: ${text}` })
  await kept.forget(refused.id)
  changed()
  await flush()
}

const ACT_PATIENCE_MS = 15_000
const PICTURE_PATIENCE_MS = 90_000

/** What every room answers to an act: its view after it, whatever that is. */
export type View = { status: string; now: string }

/** Every room with a log takes its acts and pictures at the same addresses under its name. */
async function send(waiting: Waiting, waited: boolean): Promise<View> {
  const { number, act, picture, job } = waiting
  const room = roomOf(waiting)
  const headers = {
    'niddy-clock': new Date(Date.now() + (waiting.ahead ?? 0)).toISOString(),
    ...(job ? { 'niddy-job': job } : {}),
  }
  if (!picture)
    return answered(
      api.POST(`/api/${room}/{number}/acts` as '/api/slab/{number}/acts', {
        params: { path: { number } },
        headers,
        body: { ...act, waited } as Schemas['Note'],
        signal: AbortSignal.timeout(ACT_PATIENCE_MS),
      }),
    )
  const path = { number, photo_id: act.id }
  const query = { made_at: act.made_at, text: act.text || '' }
  return answered(
    api.POST(`/api/${room}/{number}/photos/{photo_id}` as '/api/slab/{number}/photos/{photo_id}', {
      params: { path, query },
      body: picture as unknown as string,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { ...headers, 'content-type': picture.type || 'image/jpeg' },
      signal: AbortSignal.timeout(PICTURE_PATIENCE_MS),
    }),
  )
}

type Outcome = {
  /** The view of each log that grew, by its key. */
  views: Map<string, { log: Log; view: View }>
  acknowledged: Set<string>
  refused: Map<string, Refused>
}

/** One word for a log. */
export const keyOf = (log: Log): string => `${log.room}/${log.number}`

const TURN_MS = 8_000
const ASK_AGAIN_MS = 120
const me = newId()
let turn: Promise<unknown> = Promise.resolve()
/**
 * One at a time, over all windows. Locks of the browser's own are not there on plain http, so the turn is kept where
 * the acts are: taken for some seconds, kept while it lasts, and free again where its window was closed meanwhile.
 */
function alone<T>(work: () => Promise<T>): Promise<T> {
  const mine = turn.then(
    () => inTurn(work),
    () => inTurn(work),
  )
  turn = mine.catch(() => undefined)
  return mine
}
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const kept = await store()
  // A full store gives no turns: what it has is sent all the same, which is what makes room in it again.
  const mine = () => kept.takeTurn(me, TURN_MS).catch(() => true)
  while (!(await mine())) await new Promise((then) => setTimeout(then, ASK_AGAIN_MS))
  const keeping = setInterval(() => void mine(), TURN_MS / 4)
  try {
    return await work()
  } finally {
    clearInterval(keeping)
    await kept.endTurn(me).catch(() => undefined)
  }
}

/**
 * Send what waits, in order, oldest first; sending again what another window sent already changes nothing, since
 * every act has its id from the start. Only a refusal with a reason takes an act out unsent; whatever else goes wrong
 * leaves it, and those of its log behind it, where they are. `watched` is the act just made: its refusal stands
 * beside its field.
 */
export async function flush(watched?: string): Promise<Outcome> {
  return alone(async () => {
    const outcome: Outcome = { views: new Map(), acknowledged: new Set(), refused: new Map() }
    const kept = await store()
    const held = new Set<string>()
    let went = true
    for (const place of await kept.places()) {
      const next = await kept.at(place)
      if (!next) continue
      const log = { room: roomOf(next), number: next.number }
      if (held.has(keyOf(log))) continue
      if (next.maker && meNow()?.id !== next.maker.id) {
        held.add(keyOf(log))
        went = false
        waitsFor.value = `It waits for ${next.maker.name} to sign in here.`
        continue
      }
      try {
        outcome.views.set(keyOf(log), { log, view: await send(next, next.act.id !== watched) })
        outcome.acknowledged.add(next.act.id)
        await kept.remove(place)
      } catch (problem) {
        if (!(problem instanceof Refused) || !problem.withReason) {
          held.add(keyOf(log))
          went = false
          waitsFor.value = problem instanceof Unreachable ? problem.message : 'The server does not take it.'
          // Nobody answers: the rest would only wait as long.
          if (!(problem instanceof Unreachable) || problem.silent) break
          continue
        }
        outcome.refused.set(next.act.id, problem)
        if (next.act.id === watched) await kept.remove(place)
        else {
          const { words, act, picture } = next
          const why = problem.words
          const elsewhere = problem.problem.status === 404 || !!problem.at('job')
          await kept.turnAway(place, {
            ...log,
            id: act.id,
            words,
            why,
            act,
            ...(picture ? { picture } : {}),
            ...(elsewhere ? { elsewhere } : {}),
          })
        }
      }
      changed()
    }
    unreachable.value = !went
    if (went) waitsFor.value = ''
    for (const { log, view } of outcome.views.values()) queryClient.setQueryData([log.room, log.number], view)
    return outcome
  })
}

const RETRY_MS = 2_000

/** Keep trying while the application is open, whichever screen is shown. */
export function keepSending(): void {
  let busy = false
  const waits = async () => {
    if (busy) return
    busy = true
    try {
      if ((await (await store()).places()).length > 0) await flush()
    } catch {
      // The browser's own store failed: tried again with the next round.
    } finally {
      busy = false
    }
  }
  setInterval(() => void waits(), RETRY_MS)
  window.addEventListener('online', () => void waits())
  void waits()
}
