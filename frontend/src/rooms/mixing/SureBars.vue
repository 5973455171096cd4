<script setup lang="ts">
/** How much is known of a paint: four bars, filled from a guess to spectra. */
import type { Schemas } from '@/api/client'
import { HOW, SURE } from './room'

defineProps<{ how: Schemas['KnownBy'] }>()
</script>

<template>
  <svg viewBox="0 0 30 20" class="h-5 w-7 shrink-0" role="img" :aria-label="`Known from: ${HOW[how]}`">
    <rect
      v-for="n in 4"
      :key="n"
      :x="(n - 1) * 7.5 + 1"
      :y="16 - n * 3.8"
      width="5"
      :height="n * 3.8 + 2"
      :fill="n <= SURE[how] ? '#171717' : 'none'"
      stroke="#171717"
      stroke-width="1"
    />
  </svg>
</template>
