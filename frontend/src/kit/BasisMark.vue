<script setup lang="ts">
/** Where a figure comes from, as a mark; in words beside it, or at a touch where `press`. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { BASIS_WORDS } from './format'

const props = defineProps<{ basis: Schemas['Basis']; words?: boolean; press?: boolean }>()
const open = ref(false)
const said = computed(() => props.words || open.value)
</script>

<template>
  <component
    :is="press ? 'button' : 'span'"
    :type="press ? 'button' : undefined"
    :aria-label="press ? BASIS_WORDS[basis] : undefined"
    class="inline-flex items-center gap-1 text-quiet"
    :class="press ? 'min-h-8 min-w-8 justify-center' : ''"
    @click="press && (open = !open)"
  >
    <svg
      viewBox="0 0 14 14"
      class="h-[0.8em] w-[0.8em] shrink-0"
      :role="said || press ? 'presentation' : 'img'"
      :aria-label="said || press ? undefined : BASIS_WORDS[basis]"
    >
      <g fill="none" stroke="currentColor" stroke-width="1.6">
        <rect v-if="basis === 'library'" x="2" y="2" width="10" height="10" />
        <path v-else-if="basis === 'entered'" d="M2 12 12 2M2 12h5" />
        <path v-else-if="basis === 'measured'" d="M7 1v12M2 13h10M3 4h8" />
        <path v-else-if="basis === 'learned'" d="M1 12 5 7l3 3 5-8" />
        <path v-else d="M2 5q2.500 -3 5 0t5 0M2 10q2.500 -3 5 0t5 0" />
      </g>
    </svg>
    <span v-if="said" class="small">{{ BASIS_WORDS[basis] }}</span>
  </component>
</template>
