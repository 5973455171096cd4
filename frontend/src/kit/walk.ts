import type { Ref } from 'vue'
import type { Key } from './keys'

/** Keys that walk through the links of a list and what opens in it: `j` to the next, `k` to the one before. */
export function walkKeys(list: Ref<HTMLElement | null>, where: string): Key[] {
  function step(by: number): void {
    const links = [...(list.value?.querySelectorAll<HTMLElement>('a, [aria-expanded]') ?? [])]
    const at = links.indexOf(document.activeElement as HTMLElement)
    links[Math.max(0, Math.min(links.length - 1, at + by))]?.focus()
  }
  return [
    { key: 'j', does: `next ${where}`, act: () => step(1) },
    { key: 'k', does: 'the one before', act: () => step(-1) },
  ]
}
