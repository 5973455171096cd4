import { nextTick, shallowRef, useTemplateRef, type Ref } from 'vue'
import type { Refused } from '@/api/client'

/**
 * What is open at the screen of a log, one panel at a time: opened anew and in view, closed once what it said was
 * kept, open still where it was refused; it stands in the element of the template ref `work`. `kept` is called with
 * what the server acknowledged.
 */
export function usePanels<P extends string, S>(
  record: (said: S) => Promise<boolean>,
  refusal: Ref<Refused | undefined>,
  kept: (said: S) => void = () => {},
) {
  const panel = shallowRef<P>()
  const work = useTemplateRef<HTMLElement>('work')
  /** How often one was opened: the same panel opened anew is another. */
  let openings = 0
  function show(which: P): void {
    openings++
    refusal.value = undefined
    panel.value = undefined
    void nextTick(() => {
      panel.value = which
      void nextTick(() => work.value?.scrollIntoView({ block: 'start' }))
    })
  }
  async function act(said: S): Promise<void> {
    const mine = openings
    const taken = await record(said)
    if (refusal.value) return
    if (mine === openings) panel.value = undefined
    if (taken) kept(said)
  }
  return { panel, show, act, close: () => (panel.value = undefined) }
}
