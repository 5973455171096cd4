import { ref } from 'vue'

/**
 * Whether this browser keeps the application itself, so that a reload works without the server. It cannot where a
 * service worker is not allowed: plain http off this machine, or a private window.
 */
export const keepsShell = ref(false)

/** Let the browser keep the application and the last slab. Says nothing where it cannot: the slab says it. */
export async function keepShell(): Promise<void> {
  if (!import.meta.env.PROD || !window.isSecureContext || !('serviceWorker' in navigator)) return
  try {
    await navigator.serviceWorker.register('/sw.js')
    await navigator.serviceWorker.ready
    keepsShell.value = true
  } catch {
    // A browser that may but will not: the same as one that may not.
  }
}
