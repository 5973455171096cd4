import { onBeforeUnmount, reactive, watchEffect } from 'vue'

/** A key of a screen: what it does, and the act itself. */
export type Key = { key: string; does: string; act: () => void; when?: () => boolean }

const open = reactive<{ layers: Key[][]; help: boolean }>({ layers: [], help: false })
export const keysOpen = open

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

function typing(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  if (target.isContentEditable || target.closest('[role="dialog"]')) return true
  return /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) && (target as HTMLInputElement).type !== 'checkbox'
}

window.addEventListener('keydown', (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
  if (event.key === 'Escape' && open.help) open.help = false
  if (typing(event.target)) return
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
