import { useLocalStorage } from '@vueuse/core'

/** The paper in this device's printer. */
export const usePaper = () => useLocalStorage<'a4' | 'letter'>('niddy-paper', 'a4')
