import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, queryClient, type Schemas } from '@/api/client'

export type Here = Schemas['Here']

const KEY = ['here']
const ask = () => answered(api.GET('/api/makers/here'))

/** Whether one signs in here, and who is signed in on this device. */
export function useHere() {
  const { data: here, isError } = useQuery({ queryKey: KEY, queryFn: ask, refetchInterval: 60_000, retry: 3 })
  const me = computed(() => here.value?.me ?? undefined)
  const mustSignIn = computed(() => !!here.value?.asked && !here.value.me)
  return { here, me, mustSignIn, isError }
}

/** Who is signed in as far as this window knows, for what waits to be sent. */
export const meNow = (): Schemas['SomebodyHere'] | undefined =>
  queryClient.getQueryData<Here>(KEY)?.me ?? undefined

/** Somebody else is here from now on, or nobody: nothing of what the other saw stays on the screen. */
export async function changeHands(): Promise<void> {
  const here = await ask()
  queryClient.setQueryData(KEY, here)
  void queryClient.resetQueries({ predicate: (query) => query.queryKey[0] !== KEY[0] })
}

/** The server said that nobody is signed in: the sign-in comes up, and what was typed stays where it is. */
export function signedOut(): void {
  const known = queryClient.getQueryData<Here>(KEY)
  if (known?.me) queryClient.setQueryData(KEY, { ...known, me: null, others: null })
  else if (!known) void queryClient.invalidateQueries({ queryKey: KEY })
}

/** Why what was just tried is not for whoever is signed in; wherever on the screen it was. */
export const refusedByRole = ref('')
let gone: ReturnType<typeof setTimeout> | undefined
const SHOWN_MS = 12_000
export function notAllowed(why: string): void {
  refusedByRole.value = why
  clearTimeout(gone)
  gone = setTimeout(() => (refusedByRole.value = ''), SHOWN_MS)
}

/** What this device is called where its sign-in is listed. */
export function deviceName(): string {
  const agent = navigator.userAgent
  const what = /iPad|Tablet/.test(agent) ? 'tablet' : /Mobi|Android|iPhone/.test(agent) ? 'phone' : 'computer'
  const browser = /Firefox/.test(agent)
    ? 'Firefox'
    : /Edg\//.test(agent)
      ? 'Edge'
      : /Chrom/.test(agent)
        ? 'Chrome'
        : ''
  return browser ? `${what}, ${browser}` : what
}
