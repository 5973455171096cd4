<script setup lang="ts">
/** Where an eye puts a paste of tube body: the bodies as stretches of a scale, the truth, and what is said, blurred. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ eye: Schemas['EyeSeen'] }>()
const ends = computed(() => [props.eye.scale[0]!.stiff_edge, props.eye.scale.at(-1)!.soft_edge] as const)
const x = (reduced: number) => 6 + ((ends.value[0] - reduced) / (ends.value[0] - ends.value[1])) * 308
const known = computed(() => props.eye.judgements > 0)
const said = computed(() => props.eye.tube_pvc + props.eye.bias)
/** Close beside the truth the word stands on the side the eye leans to. */
const close = computed(() => Math.abs(x(said.value) - x(props.eye.tube_pvc)) < 34)
</script>

<template>
  <svg
    viewBox="0 0 320 108"
    class="w-full"
    role="img"
    :aria-label="`Where you see a paste in the middle of tube body. ${eye.says}`"
  >
    <g v-for="(one, n) in eye.scale" :key="one.body">
      <rect
        :x="x(one.stiff_edge)"
        y="58"
        :width="x(one.soft_edge) - x(one.stiff_edge)"
        height="20"
        :fill="one.body === 'tube' ? '#bcd3d6' : n % 2 ? '#e2e2e2' : '#f4f4f4'"
        stroke="#8a8a8a"
        stroke-width=".6"
      />
      <text
        :x="(x(one.stiff_edge) + x(one.soft_edge)) / 2"
        :y="n % 2 ? 104 : 91"
        text-anchor="middle"
        font-size="12"
        :font-weight="one.body === 'tube' ? 700 : 400"
      >
        {{ one.body }}
      </text>
    </g>
    <path :d="`M${x(eye.tube_pvc)} 84V30`" stroke="#171717" stroke-width="2" />
    <text :x="x(eye.tube_pvc)" y="22" text-anchor="middle" font-size="13">is</text>
    <template v-if="known">
      <rect
        :x="x(said + eye.sd)"
        y="44"
        :width="x(said - eye.sd) - x(said + eye.sd)"
        height="10"
        fill="#8f1d14"
        fill-opacity=".22"
      />
      <path :d="`M${x(said)} 54l-6 -12h12z`" fill="#8f1d14" />
      <text
        :x="x(said) + (close ? (eye.bias >= 0 ? -14 : 14) : 0)"
        y="38"
        :text-anchor="close ? (eye.bias >= 0 ? 'end' : 'start') : 'middle'"
        font-size="13"
        fill="#8f1d14"
      >
        you see
      </text>
    </template>
  </svg>
</template>
