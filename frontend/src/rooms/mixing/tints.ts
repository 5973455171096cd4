import type { Schemas } from '@/api/client'

/** How hard a paint tints, in words. */
export const TINTS: [Schemas['PaintChange']['tinting'], string][] = [
  ['none', 'hardly'],
  ['low', 'weakly'],
  ['medium', 'middling'],
  ['high', 'strongly'],
]
