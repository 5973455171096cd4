import { useQuery } from '@tanstack/vue-query'
import { answered, api, type Schemas } from '@/api/client'

export type Room = Schemas['Room']
export const useRoom = () =>
  useQuery({ queryKey: ['sticks'], queryFn: () => answered(api.GET('/api/sticks')) })
export const useWaxes = () =>
  useQuery({
    queryKey: ['waxes'],
    queryFn: () => answered(api.GET('/api/sticks/waxes')),
    staleTime: 300_000,
  })

/** How a stick feels, in words. */
export const FEELS: Record<Schemas['Feel'], string> = {
  hard: 'hard line',
  firm: 'firm',
  soft: 'soft',
  buttery: 'buttery',
  too_soft: 'too soft',
  crumbles: 'crumbles',
}
export const DRIES: Record<Schemas['Dries'], string> = {
  through: 'dries through',
  slowly: 'dries slowly',
  not: 'never dries',
}
export const VERDICTS: Record<string, string> = {
  too_hard: 'too hard',
  right: 'right',
  too_soft: 'too soft',
  crumbles: 'crumbles',
}
