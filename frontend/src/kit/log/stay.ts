import { useEventListener, useWakeLock } from '@vueuse/core'
import { onMounted, watch, type Ref } from 'vue'
import { keepsShell } from '@/kit/shell'

/** The screen stays awake while the batch is open, and the page is not left by mistake while it cannot come back. */
export function useStay(status: Ref<string | undefined>, offline: Ref<boolean>): void {
  useEventListener(window, 'beforeunload', (event) => {
    // Without a kept shell a reload while the server is away ends in the browser's own error page.
    if (offline.value && !keepsShell.value) event.preventDefault()
  })
  const wake = useWakeLock()
  onMounted(() => void wake.request('screen').catch(() => undefined))
  watch(status, (now) => now && now !== 'open' && void wake.release().catch(() => undefined))
}
