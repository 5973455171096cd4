<script setup lang="ts">
/** How a body stands on, sags from or leaves the knife. */
import type { Schemas } from '@/api/client'

defineProps<{ body: Schemas['Body']; colour: string }>()
const SHAPES: Record<Schemas['Body'], string> = {
  crumbles: 'M20 22l7-8 5 6 6-9 7 8 6-6 6 9zM24 36l4-3 4 4-5 3zM44 40l4-3 3 4-4 3z',
  putty: 'M18 22q0-14 8-14h22q9 0 9 14z',
  stiff: 'M18 22q4-4 6-14 3-6 7 1 4-9 9 0 5-5 8 4 3 8 9 9z',
  tube: 'M16 22q6-2 9-9 5-9 13-3 7-7 12 2 3 7 9 10z',
  soft: 'M16 22q6-8 20-9t24 9q0 6-3 7-4-1-5-5-6 1-30-2z',
  loose: 'M16 22q10-6 24-6t20 6q1 9-2 15-3 3-5-1 0-8-3-12-6-1-34-2z',
  runs: 'M16 22q14-4 44 0 1 10-1 20-2 3-4 0 1-10-2-18h-7q1 8-1 13-2 2-3 0v-13z',
}
</script>

<template>
  <svg viewBox="0 0 76 48" width="72" height="45" aria-hidden="true">
    <path d="M4 22h58l10 2.500L62 27H4z" fill="#bdbdbd" stroke="#171717" />
    <path :d="SHAPES[body]" :fill="colour" stroke="#171717" stroke-opacity=".35" />
  </svg>
</template>
