<script setup lang="ts">
import type { Schemas } from '@/api/client'
import { BASIS_WORDS } from './format'

defineProps<{ basis: Schemas['Basis']; words?: boolean }>()
</script>

<template>
  <span class="inline-flex items-center gap-1 text-quiet">
    <svg
      viewBox="0 0 14 14"
      class="h-[0.8em] w-[0.8em] shrink-0"
      :role="words ? 'presentation' : 'img'"
      :aria-label="words ? undefined : BASIS_WORDS[basis]"
    >
      <g fill="none" stroke="currentColor" stroke-width="1.6">
        <rect v-if="basis === 'library'" x="2" y="2" width="10" height="10" />
        <path v-else-if="basis === 'entered'" d="M2 12 12 2M2 12h5" />
        <path v-else-if="basis === 'measured'" d="M7 1v12M2 13h10M3 4h8" />
        <path v-else-if="basis === 'learned'" d="M1 12 5 7l3 3 5-8" />
        <path v-else d="M2 5q2.500 -3 5 0t5 0M2 10q2.500 -3 5 0t5 0" />
      </g>
    </svg>
    <span v-if="words" class="small">{{ BASIS_WORDS[basis] }}</span>
  </span>
</template>
