<script setup lang="ts">
/** One tube on its cap, drawn filled to how full it is, its mark dashed. */
import { computed, useId } from 'vue'

const props = withDefaults(
  defineProps<{ colour: string; full: number; over?: boolean; height?: number; layer?: number }>(),
  { height: 150 },
)
const id = useId()
const level = computed(() => 118 - 86 * Math.min(1.12, Math.max(0, props.full)))
</script>

<template>
  <svg viewBox="0 0 70 140" :style="{ height: `${height}px` }" aria-hidden="true">
    <defs>
      <clipPath :id="id"><path d="M8 6H62L55 120H15Z" /></clipPath>
    </defs>
    <path d="M8 6H62L55 120H15Z" fill="#fff" />
    <g :clip-path="`url(#${id})`">
      <rect x="0" :y="level" width="70" :height="124 - level" :fill="colour" />
      <rect v-if="layer" x="0" :y="level" width="70" :height="86 * layer" fill="#d8c98a" />
    </g>
    <path d="M8 6H62L55 120H15Z" fill="none" stroke="#171717" stroke-width="1.800" />
    <path d="M4 32h62" stroke="#171717" stroke-dasharray="4 3" />
    <rect x="27" y="120" width="16" height="14" fill="#565656" />
    <path v-if="over" d="M35 10v10M35 23v3" stroke="#8f1d14" stroke-width="3" />
  </svg>
</template>
