import { useIntervalFn, useMediaQuery } from '@vueuse/core'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, ref, shallowRef, type ComputedRef, type Ref } from 'vue'
import { Refused, type Schemas } from '@/api/client'
import { useLog, type Acidity, type Reading, type Warmth } from '@/kit/log/follow'
import type { View as LogView, Waiting } from '@/kit/log/queue'
import { useStay } from '@/kit/log/stay'
import { ends, provideWho } from '@/kit/log/who'

export type Entry = Schemas['Entry']
export type EntryField = Schemas['EntryField']
/** Something to pick from, as the server or a screen offers it. */
export type Offer = Partial<Schemas['Option']> & { value: Value; label: string }
export type Value = EntryField['value']
/** What the screen of any job shows; what else there is in it is known to its room. */
export type JobView = LogView & {
  number: number
  status: string
  timeline: Schemas['LogLine'][]
  entries: Entry[]
}
/** An act as a screen says it, before it has an id and a time. */
export type Unsent<Sent> = Sent extends unknown ? Omit<Sent, 'id' | 'made_at' | 'waited'> : never
/** A button beside the large one. `key` works while nothing is open; `always` afterwards too. */
export type Act = {
  name: string
  act: () => void
  figure?: string
  key?: string
  does?: string
  off?: boolean
  always?: boolean
}
/** What the large button does now. */
export type Tap = { name: string; act: () => void }

/**
 * One job at the bench, kept in step with every other window: its view, its acts, what is open, what is undone.
 *
 * `room` is where its acts go and `who` what its log is called; an open one is asked for again every so many ms, since
 * it changes by itself; `changes` are queries that are old once an act was kept.
 */
export function useJob<V extends JobView, S extends { kind: string }>(job: {
  room: string
  who: string
  number: Ref<number>
  fetch: (number: number) => Promise<V>
  words: (said: S, view: V | undefined) => string
  every: number
  changes?: string[]
  kept?: (said: S) => void
}) {
  const queries = useQueryClient()
  const log = useLog<V, S>(job.room, job.number, job.fetch, job.words)
  const { view, error, record, refusal, refresh } = log
  const open = computed(() => view.value?.status === 'open')
  provideWho(
    job.who,
    () => view.value?.number,
    () => ends(view.value?.timeline),
  )
  useIntervalFn(() => open.value && refresh(), job.every)
  useStay(
    computed(() => view.value?.status),
    log.offline,
  )
  const panel = shallowRef<string>()
  /** Where what is open stands: it comes into view. */
  const work = shallowRef<HTMLElement>()
  /** How often one was opened: the same panel opened anew is another. */
  let openings = 0
  function show(which: string): void {
    openings++
    refusal.value = undefined
    panel.value = undefined
    void nextTick(() => {
      panel.value = which
      void nextTick(() => work.value?.scrollIntoView({ block: 'start' }))
    })
  }
  /** Log an act; what was open closes once it was kept, and stays open where it was refused. */
  async function act(said: S): Promise<void> {
    const mine = openings
    const taken = await record(said)
    if (refusal.value) return
    if (mine === openings) panel.value = undefined
    if (!taken) return
    for (const key of job.changes ?? []) void queries.invalidateQueries({ queryKey: [key] })
    job.kept?.(said)
  }
  const last = computed(() => view.value?.timeline.find((line) => line.can_strike))
  const strike = (id: string) => void act({ kind: 'strike', strikes: id } as unknown as S)
  return {
    ...log,
    panel,
    work,
    show,
    act,
    /** What an entry that was drawn from its declaration says: its kind is one of this room's. */
    entered: (said: { kind: string }) => void act(said as S),
    pictured: (picture: Blob) => void record({ kind: 'photo', text: '' } as unknown as S, picture),
    close: () => (panel.value = undefined),
    room: job.room,
    number: job.number,
    open,
    gone: computed(() => error.value instanceof Refused && error.value.problem.status === 404),
    wide: useMediaQuery('(min-width: 1024px)'),
    entry: computed(() => view.value?.entries.find((one) => one.key === panel.value)),
    ready: () => open.value && !panel.value,
    last,
    strike,
    undo: () => void (last.value && strike(last.value.id)),
    picture: ref<{ open: () => void } | null>(null),
  }
}
/** A job as its screen takes it, whatever its room. */
export interface Job {
  room: string
  number: Ref<number>
  view: Ref<JobView | undefined>
  isError: Ref<boolean>
  gone: ComputedRef<boolean>
  open: ComputedRef<boolean>
  wide: Ref<boolean>
  panel: Ref<string | undefined>
  work: Ref<HTMLElement | undefined>
  entry: ComputedRef<Entry | undefined>
  refusal: Ref<Refused | undefined>
  sending: Ref<boolean>
  offline: Ref<boolean>
  waiting: Ref<Waiting[]>
  waitsFor: Ref<string>
  weight: Ref<Reading | undefined>
  temperature: Ref<Warmth | undefined>
  acidity: Ref<Acidity | undefined>
  last: ComputedRef<Schemas['LogLine'] | undefined>
  picture: Ref<{ open: () => void } | null>
  ready(): boolean
  show(which: string): void
  entered(said: { kind: string }): void
  pictured(picture: Blob): void
  close(): void
  undo(): void
  strike(id: string): void
}
