import { openDB, type DBSchema, type IDBPDatabase } from 'idb'
import type { Schemas } from '@/api/client'

export type Measure = Schemas['AmountAsked']
/** An act of any room as the browser keeps it; what else it carries is known to its room. */
export type Act = { id: string; made_at: string; kind: string; text?: string | null; measure?: Measure }
/** The measure of an act, where it has one. */
export const measureOf = (act?: object): Measure | undefined =>
  act && 'measure' in act ? (act.measure as Measure) : undefined
/** Which log an act belongs to: a room's, by the room's own number. */
export type Log = { room: string; number: number }
/** An act that waits in this browser: what will be sent, what it is in words, and the picture if it is one. */
export type Waiting = {
  place?: number
  room?: string
  number: number
  act: Act
  words: string
  picture?: Blob
  /** The job's own id, where it was known: it lands in no other, whatever becomes of numbers. */
  job?: string
  /** How far this device was thought to be behind the server's clock when it was stamped, in ms. */
  ahead?: number
  /** Who made it, where one signs in: it goes out under their name or waits for them. */
  maker?: { id: number; name: string }
}
/** An act the server refused when it came at last: kept, act and all, until it is put right or given up. */
export type NotTaken = {
  id: string
  room?: string
  number: number
  words: string
  why: string
  act?: Act
  picture?: Blob
  /** What it was made for is not here any more: somebody says where it belongs. */
  elsewhere?: boolean
}
const SLAB = 'slab'
/** The room an act belongs to; what was kept before rooms were told apart is the slab's. */
export const roomOf = (entry: { room?: string }): string => entry.room ?? SLAB

interface Kept extends DBSchema {
  waiting: { key: number; value: Waiting; indexes: { number: number } }
  not_taken: { key: string; value: NotTaken; indexes: { number: number } }
  jobs: { key: string; value: string }
  turn: { key: string; value: Turn }
}
/** Which window sends, and until when it need not be asked whether it still does. */
type Turn = { by: string; until: number }

/** Where acts are kept in this browser until the server has them. */
export interface Store {
  /** False where the browser keeps nothing: what waits is gone with the page. */
  readonly lasting: boolean
  add(waiting: Waiting): Promise<void>
  places(): Promise<number[]>
  at(place: number): Promise<Waiting | undefined>
  remove(place: number): Promise<void>
  waiting(): Promise<Waiting[]>
  turnAway(place: number, refused: NotTaken): Promise<void>
  notTaken(): Promise<NotTaken[]>
  forget(id: string): Promise<void>
  /** Take the turn to send, or keep it for so long again; false while another window has it. */
  takeTurn(by: string, forMs: number): Promise<boolean>
  endTurn(by: string): Promise<void>
  /** The own id of the job of a log, as its stream told it last. */
  jobOf(log: string): Promise<string | undefined>
  noteJob(log: string, job: string): Promise<void>
}

class InBrowser implements Store {
  readonly lasting = true
  constructor(private readonly db: IDBPDatabase<Kept>) {}
  async add(waiting: Waiting): Promise<void> {
    await this.db.add('waiting', waiting)
  }
  places = (): Promise<number[]> => this.db.getAllKeys('waiting')
  at = (place: number): Promise<Waiting | undefined> => this.db.get('waiting', place)
  remove = (place: number): Promise<void> => this.db.delete('waiting', place)
  waiting = (): Promise<Waiting[]> => this.db.getAll('waiting')
  async turnAway(place: number, refused: NotTaken): Promise<void> {
    const both = this.db.transaction(['waiting', 'not_taken'], 'readwrite')
    await Promise.all([
      both.objectStore('waiting').delete(place),
      both.objectStore('not_taken').put(refused),
      both.done,
    ])
  }
  notTaken = (): Promise<NotTaken[]> => this.db.getAll('not_taken')
  forget = (id: string): Promise<void> => this.db.delete('not_taken', id)
  async takeTurn(by: string, forMs: number): Promise<boolean> {
    const turn = this.db.transaction('turn', 'readwrite')
    const kept = await turn.store.get('sending')
    const now = Date.now()
    // A turn that ends later than any is given was taken before the clock was set back.
    const free = !kept || kept.by === by || kept.until <= now || kept.until > now + 10 * forMs
    if (free) await turn.store.put({ by, until: now + forMs }, 'sending')
    await turn.done
    return free
  }
  async endTurn(by: string): Promise<void> {
    const turn = this.db.transaction('turn', 'readwrite')
    if ((await turn.store.get('sending'))?.by === by) await turn.store.delete('sending')
    await turn.done
  }
  jobOf = (log: string): Promise<string | undefined> => this.db.get('jobs', log)
  async noteJob(log: string, job: string): Promise<void> {
    await this.db.put('jobs', job, log)
  }
}

/** For a browser that keeps nothing for this page (a private window, storage switched off). */
class InMemory implements Store {
  readonly lasting = false
  private next = 1
  private readonly acts = new Map<number, Waiting>()
  private readonly refused = new Map<string, NotTaken>()
  async add(waiting: Waiting): Promise<void> {
    const place = this.next++
    this.acts.set(place, { ...waiting, place })
  }
  places = async () => [...this.acts.keys()]
  at = async (place: number) => this.acts.get(place)
  remove = async (place: number) => void this.acts.delete(place)
  waiting = async () => [...this.acts.values()]
  async turnAway(place: number, refused: NotTaken): Promise<void> {
    this.acts.delete(place)
    this.refused.set(refused.id, refused)
  }
  notTaken = async () => [...this.refused.values()]
  forget = async (id: string) => void this.refused.delete(id)
  private readonly jobs = new Map<string, string>()
  takeTurn = async () => true
  endTurn = async () => undefined
  jobOf = async (log: string) => this.jobs.get(log)
  noteJob = async (log: string, job: string) => void this.jobs.set(log, job)
}

let opened: Promise<Store> | undefined
/** The store of this browser, opened once; opened anew where the browser closed it. */
export const store = (): Promise<Store> =>
  (opened ??= openDB<Kept>('niddy', 3, {
    async upgrade(db, before, _after, change) {
      if (before < 1)
        db.createObjectStore('waiting', { keyPath: 'place', autoIncrement: true }).createIndex(
          'number',
          'number',
        )
      if (before < 2) db.createObjectStore('not_taken', { keyPath: 'id' }).createIndex('number', 'number')
      db.createObjectStore('jobs')
      db.createObjectStore('turn')
      if (before !== 1) return
      // What the first version kept of a refused act had no act with it, only its words.
      const old = db as unknown as IDBPDatabase
      for (const entry of await change.objectStore('turned_away' as 'waiting').getAll())
        await change
          .objectStore('not_taken')
          .put({ ...(entry as unknown as NotTaken), id: `old-${entry.place}` })
      old.deleteObjectStore('turned_away')
    },
    terminated: () => (opened = undefined),
  }).then(
    (db) => new InBrowser(db),
    () => new InMemory(),
  ))
