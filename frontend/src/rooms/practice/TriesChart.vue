<script setup lang="ts">
/** Tries at an exercise, oldest first: how far the oil ended from the middle; judging by how many were right. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

const props = defineProps<{ tries: Schemas['TryLine'][]; judging: boolean }>()
const most = computed(() =>
  props.judging ? 40 : Math.max(10, ...props.tries.map((t) => Math.abs(t.oil_error_pct))),
)
const bars = computed(() =>
  props.tries.map((t, n) => {
    const value = props.judging ? (t.right_of ?? 0) : Math.abs(t.oil_error_pct)
    return { x: 4 + n * 13, high: Math.max(1.5, (34 * value) / most.value), right: t.right, number: t.number }
  }),
)
const said = computed(() =>
  props.tries
    .map((t) =>
      props.judging
        ? `${t.right_of} right`
        : `${t.right ? 'right' : 'off'}, ${digits(Math.abs(t.oil_error_pct), 0)} % of the oil`,
    )
    .join('; '),
)
</script>

<template>
  <svg
    v-if="tries.length"
    :viewBox="`0 0 ${8 + Math.max(3, tries.length) * 13} 42`"
    :width="8 + Math.max(3, tries.length) * 13"
    height="42"
    role="img"
    :aria-label="`Your tries: ${said}`"
  >
    <path :d="`M0 38H${8 + Math.max(3, tries.length) * 13}`" stroke="#8a8a8a" />
    <rect
      v-for="bar in bars"
      :key="bar.number"
      :x="bar.x"
      :y="38 - bar.high"
      width="9"
      :height="bar.high"
      :fill="bar.right ? '#171717' : '#fff'"
      stroke="#171717"
    />
  </svg>
</template>
