<script setup lang="ts">
/** What became of a batch, as a word and a mark. */
import type { Schemas } from '@/api/client'
import { RELEASES } from './kinds'

defineProps<{ release: Schemas['Release'] }>()
</script>

<template>
  <span class="inline-flex items-center gap-2 align-middle font-semibold whitespace-nowrap">
    <svg
      viewBox="0 0 20 20"
      class="h-5 w-5"
      aria-hidden="true"
      fill="none"
      stroke="#171717"
      stroke-width="2.5"
    >
      <path v-if="release === 'release'" d="M3 11l5 5L17 5" />
      <g v-else-if="release === 'watch'">
        <path d="M3 11l5 5L17 5" />
        <circle cx="16" cy="15" r="2.5" fill="#171717" stroke="none" />
      </g>
      <path v-else-if="release === 'adjust'" d="M3 7h11l-4-4M17 13H6l4 4" />
      <path v-else-if="release === 'hold'" d="M6 3v14M14 3v14" stroke="#8f1d14" stroke-width="4" />
      <g v-else>
        <circle cx="10" cy="10" r="7.500" />
        <path d="M10 5v5l3 3" />
      </g>
    </svg>
    {{ RELEASES[release].name }}
  </span>
</template>
