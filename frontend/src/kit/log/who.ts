import { useQuery } from '@tanstack/vue-query'
import { computed, inject, provide, type InjectionKey, type Ref } from 'vue'
import { answered, api } from '@/api/client'
import { useHere } from '@/kit/here'

type Who = Ref<Record<string, string> | undefined>
const WHO: InjectionKey<Who> = Symbol('who made each act')

/** Let the log below know whose initials stand at each act; nobody's where nobody signs in. Asked again as it grows. */
export function provideWho(room: string, number: () => number | undefined, acts: () => unknown): void {
  const { here } = useHere()
  const { data } = useQuery({
    queryKey: computed(() => ['who', room, number(), acts()]),
    queryFn: () => {
      const path = { room, number: number() ?? 0 }
      return answered(api.GET('/api/makers/log/{room}/{number}', { params: { path } }))
    },
    enabled: computed(() => !!here.value?.asked && number() != null),
    placeholderData: (before) => before,
  })
  provide(WHO, data)
}

/** Whose initials stand at an act of the log one is in. */
export function useWho(id: () => string) {
  const who = inject(WHO, undefined)
  return computed(() => who?.value?.[id()])
}

/** The ends of a timeline, which differ once it grew. */
export const ends = (timeline: readonly { id: string }[] | undefined): string =>
  `${timeline?.[0]?.id} ${timeline?.at(-1)?.id}`
