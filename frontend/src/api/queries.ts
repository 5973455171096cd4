import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, api } from './client'

const HOUR = 3_600_000

/** What is on the bench and what next; also the counts in the top line. */
export const useHome = () =>
  useQuery({ queryKey: ['home'], queryFn: () => answered(api.GET('/api/home')), refetchInterval: 20_000 })

/** The shipped library of materials. */
export const useLibrary = () =>
  useQuery({
    queryKey: ['library'],
    queryFn: () => answered(api.GET('/api/materials/library')),
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
