import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import type { Schemas } from '@/api/client'
import type { Waiting } from '@/kit/log/queue'

/** Minutes and seconds as a clock shows them. */
export function clockSpan(seconds: number): string {
  const whole = Math.max(0, Math.round(seconds))
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`
}

/**
 * The muller's clock between two words from the server: how long the load on the slab has been mulled, what is
 * left, whether a scrape is due. `rang` is called once when minutes are up.
 */
export function useMullerClock(
  view: Ref<Schemas['SlabView'] | undefined>,
  waiting: Ref<Waiting[]>,
  ahead: Ref<number>,
  scrapeEveryMin: Ref<number>,
  sounds: Ref<boolean>,
  rang: () => void,
) {
  const now = ref(Date.now())
  useIntervalFn(() => (now.value = Date.now()), 250)
  const mulling = computed(() => view.value?.mulling)
  /** What the server last said, moved on by the starts, pauses and scrapes that wait for it. */
  const kept = computed(() => {
    let since = mulling.value?.running_since ? Date.parse(mulling.value.running_since) : undefined
    let seconds = mulling.value?.seconds ?? 0
    let unscraped = mulling.value?.unscraped_seconds ?? 0
    for (const { act } of waiting.value) {
      const at = Date.parse(act.made_at)
      if (since != null && ['pause', 'scrape', 'load_done', 'gather'].includes(act.kind)) {
        const ran = Math.max(0, (at - since) / 1000)
        seconds += ran
        unscraped = act.kind === 'scrape' ? 0 : unscraped + ran
        since = act.kind === 'scrape' ? at : undefined
      } else if (act.kind === 'mull') since ??= at
    }
    return { since, seconds, unscraped }
  })
  const running = computed(() => kept.value.since != null)
  const spell = computed(() =>
    kept.value.since != null ? Math.max(0, (now.value + ahead.value - kept.value.since) / 1000) : 0,
  )
  const seconds = computed(() => kept.value.seconds + spell.value)
  const left = computed(() => Math.max(0, (mulling.value?.need_minutes ?? 0) * 60 - seconds.value))
  const up = computed(() => running.value && left.value <= 0)
  const scrapeDue = computed(
    () =>
      running.value &&
      scrapeEveryMin.value > 0 &&
      kept.value.unscraped + spell.value >= scrapeEveryMin.value * 60,
  )
  watch(up, (is) => {
    if (!is) return
    if (sounds.value) beep(2)
    rang()
  })
  watch(scrapeDue, (is) => is && sounds.value && beep(1))
  return { running, seconds, left, up, scrapeDue, spell }
}

let audio: AudioContext | undefined
/** A soft low tone: once for a scrape, twice for minutes that are up. */
export function beep(times: number): void {
  try {
    audio ??= new AudioContext()
    for (let n = 0; n < times; n++) {
      const at = audio.currentTime + n * 0.45
      const tone = audio.createOscillator()
      const loud = audio.createGain()
      tone.frequency.value = times === 1 ? 440 : 330
      loud.gain.setValueAtTime(0.0001, at)
      loud.gain.exponentialRampToValueAtTime(0.25, at + 0.03)
      loud.gain.exponentialRampToValueAtTime(0.0001, at + 0.35)
      tone.connect(loud).connect(audio.destination)
      tone.start(at)
      tone.stop(at + 0.4)
    }
  } catch {
    // A browser without sound still shows what is due.
  }
}

/** Whether this device may sound: the studio's wish, unless switched off here. */
export const useSounds = () => useLocalStorage('niddy-sounds', true)
