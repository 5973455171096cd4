import { useLocalStorage } from '@vueuse/core'
import { onBeforeUnmount, reactive, watchEffect } from 'vue'

/** A key of a screen: what it does, and the act itself. */
export type Key = { key: string; does: string; act: () => void; when?: () => boolean }

const open = reactive<{ layers: Key[][]; help: boolean }>({ layers: [], help: false })
export const keysOpen = open
/** Whether single letters, figures and the space bar act on this device; off, only Enter and Escape do. */
export const lettersAct = useLocalStorage('niddy-letters', true)

/** Make keys work while the calling component lives; they show under `?`. Typing in a field is never taken. */
export function useKeys(keys: () => Key[]): void {
  const layer = reactive<Key[]>([])
  open.layers.push(layer)
  const stop = watchEffect(() => layer.splice(0, layer.length, ...keys()))
  onBeforeUnmount(() => {
    stop()
    open.layers.splice(open.layers.indexOf(layer), 1)
  })
}

function typing(target: HTMLElement): boolean {
  if (target.isContentEditable) return true
  return /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && (target as HTMLInputElement).type !== 'checkbox'
}
const CONTROL =
  'a[href], button, input, summary, [role="button"], [role="option"], [role="slider"], [tabindex="0"]'

/** Whether a key belongs to what has the focus: typing always does, Enter and space do on any control. */
function taken(event: KeyboardEvent): boolean {
  const target = event.target
  if (!(target instanceof HTMLElement)) return false
  if (target.closest('[role="dialog"]')) return true
  if (typing(target)) return event.key !== 'Escape'
  return (event.key === 'Enter' || event.key === ' ') && target.closest(CONTROL) !== null
}

window.addEventListener('keydown', (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === 'Escape' && open.help) open.help = false
  if (taken(event)) return
  if (event.key.length === 1 && !lettersAct.value) return
  if (event.key === '?') {
    open.help = !open.help
    event.preventDefault()
    return
  }
  for (const layer of [...open.layers].reverse()) {
    const found = layer.find((k) => k.key === event.key && (k.when?.() ?? true))
    if (found) {
      event.preventDefault()
      found.act()
      return
    }
  }
})
