import { ref, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Said } from './acts'

/** The same act as a new one, for putting back what was struck out by mistake. */
function again(entry: Schemas['TimelineEntry']): Said {
  return { kind: entry.kind, source: entry.source || undefined, measure: entry.measure as Said['measure'] }
}

/** Striking out an act of the log; what was struck last can be put back by one tap. */
export function useStrikes(
  view: Ref<Schemas['SlabView'] | undefined>,
  record: (said: Said) => Promise<boolean>,
) {
  const struckLast = ref<{ said: Said; text: string }>()
  async function strike(id: string): Promise<void> {
    const entry = view.value?.timeline.find((e) => e.id === id)
    if ((await record({ kind: 'strike', strikes: id })) && entry)
      struckLast.value = { said: again(entry), text: entry.text }
  }
  function strikeLast(): void {
    const last = view.value?.timeline.findLast((e) => e.can_strike)
    if (last) void strike(last.id)
  }
  return { struckLast, strike, strikeLast }
}
