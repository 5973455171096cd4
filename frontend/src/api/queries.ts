import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, api } from './client'

const HOUR = 3_600_000

/** What is on the bench and what next; also the counts in the top line. */
export const useHome = () =>
  useQuery({ queryKey: ['home'], queryFn: () => answered(api.GET('/api/home')), refetchInterval: 20_000 })

/**
 * The server's time now, from when home was last told: what a device with a wrong clock records has the time it was
 * made. Where home was not told yet, it is asked.
 */
export function useServerNow(): () => Promise<Date> {
  const { data: home, dataUpdatedAt: toldAt } = useHome()
  return async () =>
    home.value
      ? new Date(Date.parse(home.value.now) + Date.now() - toldAt.value)
      : new Date((await answered(api.GET('/api/home'))).now)
}

/** The shipped library of materials. */
export const useLibrary = () =>
  useQuery({
    queryKey: ['library'],
    queryFn: () => answered(api.GET('/api/materials/library')),
    staleTime: HOUR,
  })

/** The words of the craft, each in a sentence. */
export const useTerms = () =>
  useQuery({
    queryKey: ['terms'],
    queryFn: () => answered(api.GET('/api/materials/terms')),
    staleTime: HOUR,
  })

/** The lots of the shelf that are not used up. */
export const useLots = () =>
  useQuery({ queryKey: ['lots'], queryFn: () => answered(api.GET('/api/materials/lots')) })

/** Slabs, mullers, tube types, settings. */
export const useWorkshop = () =>
  useQuery({ queryKey: ['workshop'], queryFn: () => answered(api.GET('/api/workshop')) })

/** The kept plans. */
export const useSavedPlans = () =>
  useQuery({ queryKey: ['plans'], queryFn: () => answered(api.GET('/api/plan/saved')) })

/** A batch to be read. */
export const useBatch = (number: Ref<number>) =>
  useQuery({
    queryKey: ['batch', number],
    queryFn: () => answered(api.GET('/api/batches/{number}', { params: { path: { number: number.value } } })),
  })

/** How a batch's session went, for its chart. */
export const useStory = (number: Ref<number>) =>
  useQuery({
    queryKey: ['story', number],
    queryFn: () =>
      answered(api.GET('/api/batches/{number}/story', { params: { path: { number: number.value } } })),
  })
