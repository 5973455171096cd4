import { useIntervalFn } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, type ComputedRef } from 'vue'
import type { Reading } from '@/kit/log/follow'

/** A balance that only stands on this screen: what is poured here moves it, and it settles like a real one. */
export type PracticeBalance = {
  reading: ComputedRef<Reading>
  pouring: ComputedRef<boolean>
  tilt: () => void
  level: () => void
  drop: () => void
}

const STEP_S = 0.05
/** So long the thread still runs after the bottle is held level. */
const TAIL_S = 0.35
const SETTLES_S = 0.7

export function usePracticeBalance(rate: () => { streamGPerS: number; dropG: number }): PracticeBalance {
  /** A cup stands on the pan already. */
  const grams = ref(41.37)
  const tilted = ref(false)
  const tail = ref(0)
  const unrest = ref(0)
  useIntervalFn(() => {
    const flows = tilted.value ? 1 : tail.value / TAIL_S
    if (flows > 0) {
      grams.value += rate().streamGPerS * STEP_S * flows
      unrest.value = SETTLES_S
    } else unrest.value = Math.max(0, unrest.value - STEP_S)
    if (!tilted.value) tail.value = Math.max(0, tail.value - STEP_S)
  }, STEP_S * 1000)
  const level = () => {
    if (tilted.value) tail.value = TAIL_S
    tilted.value = false
  }
  // A window that loses its keys or its pointer holds the bottle level.
  window.addEventListener('blur', level)
  onBeforeUnmount(() => window.removeEventListener('blur', level))
  return {
    reading: computed<Reading>(() => ({
      weight_g: Math.round(grams.value * 100) / 100,
      state: tilted.value || tail.value > 0 || unrest.value > 0 ? 'moving' : 'steady',
      says: '',
    })),
    pouring: computed(() => tilted.value),
    tilt: () => (tilted.value = true),
    level,
    drop: () => {
      grams.value += rate().dropG
      unrest.value = SETTLES_S
    },
  }
}
