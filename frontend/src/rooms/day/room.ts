import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, type Ref } from 'vue'
import { answered, api, Refused, refusedHere, type Schemas } from '@/api/client'

export type Day = Schemas['DayView']
export type Line = Schemas['DayLine']

/** How far this device's clock is ahead of UTC: the server knows no place. */
export const offset = () => -new Date().getTimezoneOffset()

/** A minute of the day as a clock says it. */
export function clockOf(minute: number): string {
  const whole = Math.max(0, Math.round(minute))
  return `${String(Math.floor(whole / 60)).padStart(2, '0')}:${String(whole % 60).padStart(2, '0')}`
}

/** A date in words: Thursday 18 June. */
export const dateSaid = (iso: string) =>
  new Date(`${iso}T12:00:00`).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })

/** The day before or after. */
export function dayBeside(iso: string, days: number): string {
  const at = new Date(`${iso}T12:00:00Z`)
  at.setUTCDate(at.getUTCDate() + days)
  return at.toISOString().slice(0, 10)
}

/** A day, today where none is named, and what can be done to it; each answer is the day after it. */
export function useDay(on: Ref<string | undefined>) {
  const queries = useQueryClient()
  const key = computed(() => ['day', on.value ?? 'today'])
  const query = { utc_offset_min: offset() }
  const { data: day, isError } = useQuery<Day>({
    queryKey: key,
    queryFn: () =>
      answered(api.GET('/api/day', { params: { query: { ...query, ...(on.value && { on: on.value }) } } })),
    refetchInterval: 60_000,
  })
  const refusal = ref<Refused>()
  const moved = ref<number>()
  const { mutateAsync, isPending: busy } = useMutation({
    mutationFn: (asked: (on: string) => Promise<Day>) => asked(day.value!.on_date),
  })
  /** Do something to the day; true where it was taken. */
  async function change(asked: (on: string) => Promise<Day>): Promise<boolean> {
    refusal.value = undefined
    moved.value = undefined
    try {
      const after = await mutateAsync(asked)
      queries.setQueryData(key.value, after)
      moved.value = after.moved_min ?? undefined
      void queries.invalidateQueries({ queryKey: ['offers'] })
      return true
    } catch (problem) {
      refusal.value =
        problem instanceof Refused
          ? problem
          : refusedHere('the server does not answer', 'the same again in a moment')
      return false
    }
  }
  return {
    day,
    isError,
    refusal,
    moved,
    busy,
    put: (body: Schemas['DayJobAsked']) =>
      change((on) => answered(api.POST('/api/day/{on}/jobs', { params: { path: { on }, query }, body }))),
    takeOff: (job_id: string) =>
      change((on) =>
        answered(api.DELETE('/api/day/{on}/jobs/{job_id}', { params: { path: { on, job_id }, query } })),
      ),
    setMinutes: (job_id: string, minutes: number | null) =>
      change((on) =>
        answered(
          api.PUT('/api/day/{on}/jobs/{job_id}', {
            params: { path: { on, job_id }, query },
            body: { minutes },
          }),
        ),
      ),
    setHours: (body: Schemas['HoursAsked']) =>
      change((on) => answered(api.PUT('/api/day/{on}/hours', { params: { path: { on }, query }, body }))),
    setOrder: (order: string[] | null) =>
      change((on) =>
        answered(api.PUT('/api/day/{on}/order', { params: { path: { on }, query }, body: { order } })),
      ),
  }
}
