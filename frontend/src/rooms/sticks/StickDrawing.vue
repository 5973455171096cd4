<script setup lang="ts">
/** A stick drawn lying, with the line it leaves; the softer, the broader and more broken at its edge. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ colour: string; feel: Schemas['Feel'] }>()
const WIDTH: Record<Schemas['Feel'], number> = {
  hard: 2,
  firm: 4,
  soft: 7.5,
  buttery: 11,
  too_soft: 15,
  crumbles: 5,
}
const dashed = computed(() => (props.feel === 'crumbles' ? '3 4' : props.feel === 'hard' ? '1.5 1' : ''))
</script>

<template>
  <svg viewBox="0 0 76 40" width="76" height="40" aria-hidden="true">
    <path
      d="M6 31q10-7 20-1t20-2"
      fill="none"
      :stroke="colour"
      :stroke-width="WIDTH[feel]"
      :stroke-dasharray="dashed"
      stroke-linecap="round"
    />
    <g transform="rotate(-32 48 26)">
      <rect x="46" y="20" width="34" height="10" rx="2" :fill="colour" stroke="#171717" />
      <rect x="58" y="20" width="22" height="10" fill="#fff" stroke="#171717" />
      <path
        v-if="feel === 'buttery' || feel === 'too_soft'"
        d="M46 20q-5 5 0 10"
        :fill="colour"
        stroke="#171717"
      />
    </g>
  </svg>
</template>
