<script setup lang="ts">
/** Where an eye puts a paste of tube body: the bodies as stretches of a scale, the truth, and what is said, blurred. */
import { computed } from 'vue'
import { digits } from '@/kit/format'

const props = defineProps<{ bias: number; sd: number; known: boolean }>()
const EDGES = [1.15, 1.05, 0.97, 0.9, 0.8, 0.7, 0.58, 0.5]
const NAMES = ['crumbles', 'putty', 'stiff', 'tube', 'soft', 'loose', 'runs']
const x = (reduced: number) => 6 + ((1.15 - reduced) / 0.65) * 308
const said = computed(() => 0.85 + props.bias)
const shown = computed(
  () =>
    `A paste at 0.85, tube body, is seen at ${digits(said.value, 2)}, give or take ${digits(props.sd, 2)}.`,
)
</script>

<template>
  <svg viewBox="0 0 320 108" class="w-full" role="img" :aria-label="shown">
    <g v-for="(name, n) in NAMES" :key="name">
      <rect
        :x="x(EDGES[n]!)"
        y="58"
        :width="x(EDGES[n + 1]!) - x(EDGES[n]!)"
        height="20"
        :fill="name === 'tube' ? '#bcd3d6' : n % 2 ? '#e2e2e2' : '#f4f4f4'"
        stroke="#8a8a8a"
        stroke-width=".6"
      />
      <text
        :x="(x(EDGES[n]!) + x(EDGES[n + 1]!)) / 2"
        :y="n % 2 ? 104 : 91"
        text-anchor="middle"
        font-size="12"
        :font-weight="name === 'tube' ? 700 : 400"
      >
        {{ name }}
      </text>
    </g>
    <path :d="`M${x(0.85)} 84V30`" stroke="#171717" stroke-width="2" />
    <text :x="x(0.85)" y="22" text-anchor="middle" font-size="13">is</text>
    <template v-if="known">
      <rect
        :x="x(said + sd)"
        y="44"
        :width="x(said - sd) - x(said + sd)"
        height="10"
        fill="#8f1d14"
        fill-opacity=".22"
      />
      <path :d="`M${x(said)} 54l-6 -12h12z`" fill="#8f1d14" />
      <text
        :x="x(said) + (Math.abs(bias) < 0.07 ? (bias >= 0 ? -14 : 14) : 0)"
        y="38"
        :text-anchor="Math.abs(bias) < 0.07 ? (bias >= 0 ? 'end' : 'start') : 'middle'"
        font-size="13"
        fill="#8f1d14"
      >
        you see
      </text>
    </template>
  </svg>
</template>
