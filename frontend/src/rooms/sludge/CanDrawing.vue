<script setup lang="ts">
/** The can, drawn: how full it is, how far it has cleared by now, and where it will end. */
import { computed } from 'vue'
import { digits } from '@/kit/format'

const props = defineProps<{ level: number; clear: number; end: number; colour: string; small?: boolean }>()
const TOP = 18
const FLOOR = 196
const height = computed(() => (FLOOR - TOP - 6) * Math.min(1, Math.max(0.02, props.level)))
const surface = computed(() => FLOOR - height.value)
const cleared = computed(() => surface.value + height.value * Math.min(1, Math.max(0, props.clear)))
const settled = computed(() => surface.value + height.value * Math.min(1, Math.max(0, props.end)))
const said = computed(
  () =>
    `The can, ${digits(100 * props.level, 0)} % full, clear down to ${digits(100 * props.clear, 0)} % of the liquid`,
)
</script>

<template>
  <svg
    :viewBox="small ? '0 0 150 208' : '0 0 236 208'"
    role="img"
    :aria-label="said"
    font-size="14"
    class="block"
  >
    <rect x="14" :y="surface" width="122" :height="height" fill="#eef0ec" />
    <rect x="14" :y="cleared" width="122" :height="FLOOR - cleared" :fill="colour" opacity=".55" />
    <rect x="14" :y="settled" width="122" :height="FLOOR - settled" :fill="colour" />
    <path :d="`M14 ${surface}H136`" stroke="#171717" stroke-width="1.500" />
    <path
      v-if="cleared > surface + 1"
      :d="`M14 ${cleared}H136`"
      stroke="#171717"
      stroke-width="1.500"
      stroke-dasharray="5 3"
    />
    <path d="M13 10V197H137V10" fill="none" stroke="#171717" stroke-width="2.500" />
    <path d="M8 10H142" stroke="#171717" stroke-width="4" stroke-linecap="round" />
    <g v-if="!small">
      <g v-if="cleared - surface > 16">
        <path :d="`M142 ${surface + 2}h6V${cleared - 2}h-6`" fill="none" stroke="#171717" />
        <text x="153" :y="(surface + cleared) / 2 + 5">clear</text>
      </g>
      <g v-if="settled - cleared > 16">
        <path :d="`M142 ${cleared + 2}h6V${settled - 2}h-6`" fill="none" stroke="#171717" />
        <text x="153" :y="(cleared + settled) / 2 + 5">settling</text>
      </g>
      <g v-if="FLOOR - Math.max(settled, cleared) > 12">
        <path :d="`M142 ${Math.max(settled, cleared) + 2}h6V${FLOOR - 1}h-6`" fill="none" stroke="#171717" />
        <text x="153" :y="(Math.max(settled, cleared) + FLOOR) / 2 + 5">sludge</text>
      </g>
    </g>
  </svg>
</template>
