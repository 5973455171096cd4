<script setup lang="ts">
/** The maker's verdict in word and mark: a bar above, on, or below a line. */
import type { Schemas } from '@/api/client'

defineProps<{ verdict: Schemas['Verdict'] }>()
const HEIGHT = { stiff: 4, right: 9, soft: 14 }
</script>

<template>
  <span class="inline-flex min-w-18 items-center gap-1.5">
    <svg viewBox="0 0 20 20" class="h-5 w-5" aria-hidden="true">
      <path d="M1 10h18" stroke="#8a8a8a" stroke-width="1.5" />
      <rect x="4" :y="HEIGHT[verdict] - 2.5" width="12" height="5" fill="#171717" />
    </svg>
    {{ verdict }}
  </span>
</template>
