<script setup lang="ts">
/** The knife lifted out of the paste: how it stands, falls apart, shines, and what thread it draws. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import Paste from '@/kit/Paste.vue'

const props = defineProps<{ seen: Schemas['Seen']; colour: string }>()
const dry = computed(() => props.seen.stage === 'dry_islands' || props.seen.stage === 'crumbs')
const FLOOR = 168
/** The heap: steep and high where it stands, a puddle where it runs. */
const heap = computed(() => {
  const s = props.seen.stands
  const high = 10 + 74 * s
  const wide = 150 - 74 * s
  const shoulder = 0.2 + 0.62 * s
  return { high, wide, top: FLOOR - high, shoulder }
})
const outline = computed(() => {
  const { wide, top, high, shoulder } = heap.value
  const left = 170 - wide
  const right = 170 + wide
  return (
    `M${left} ${FLOOR}C${left + 4} ${FLOOR - high * shoulder} ${170 - wide * 0.55} ${top} 170 ${top}` +
    `S${right - 4} ${FLOOR - high * shoulder} ${right} ${FLOOR}z`
  )
})
/** Under the knife: a thread where it draws one, a point where it stands, a gap where it breaks. */
const blade = computed(() =>
  Math.max(
    28,
    heap.value.top - 14 - (props.seen.string_mm < 3 ? 40 : Math.min(64, props.seen.string_mm * 1.5)),
  ),
)
const lump = computed(() => 26 - 12 * (1 - props.seen.stands))
const points = (...at: number[]) => at.map((n) => n.toFixed(1)).join(' ')
const thread = computed(() => {
  const { top } = heap.value
  if (props.seen.string_mm < 3) return ''
  const [from, wide] = [blade.value + 9, 3 + 6 * props.seen.stands]
  const half = (from + top) / 2
  const left = points(170 - wide * 0.4, half, 170 - wide * 0.5, top - 6, 170 - wide * 2.4, top + 7)
  const right = points(170 + wide * 0.5, top - 6, 170 + wide * 0.4, half, 170 + wide * 1.6, from)
  return `M${170 - wide * 1.6} ${from}C${left}H${170 + wide * 2.4}C${right}z`
})
const peak = computed(() => {
  const { top } = heap.value
  const sharp = Math.max(0, props.seen.stands - 0.55) / 0.45
  if (props.seen.crumbs > 0.5 || sharp <= 0) return ''
  // The wetter, the more its tip leans over.
  const lean = 22 * (1 - sharp)
  const up = points(163 + lean * 0.3, top - 4, 168 + lean, top - 8 - 26 * sharp)
  return `M146 ${top + 12}Q${up}Q${points(174 + lean * 0.4, top - 2, 194, top + 12)}z`
})
const shines = computed(() => {
  const { wide, high } = heap.value
  const on = (x: number, y: number, ...by: number[]) =>
    `M${points(170 + wide * x, FLOOR - high * y)}q${points(...by.map((n, i) => n * (i % 2 ? high : wide)))}`
  return [on(-0.62, 0.42, 0.25, -0.34, 0.5, -0.38), on(0.2, 0.66, 0.2, 0.08, 0.36, 0.26)]
})
/** Fixed scatter, so that the same paste always looks the same. */
const bits = computed(() =>
  Array.from({ length: Math.round(34 * props.seen.crumbs) }, (_, n) => {
    const turn = n * 2.399963
    const far = Math.sqrt((n + 0.5) / 34)
    return {
      x: 170 + Math.cos(turn) * far * (heap.value.wide + 34),
      y: FLOOR - 5 - Math.abs(Math.sin(turn)) * far * heap.value.high * 0.9,
      r: 4 + ((n * 7) % 5) * 1.3,
    }
  }),
)
const grains = computed(() =>
  Array.from({ length: Math.floor(26 * props.seen.grit) }, (_, n) => ({
    x: 170 + (((n * 47) % 100) / 50 - 1) * heap.value.wide * 0.62,
    y: FLOOR - 6 - ((n * 29) % 100) * 0.0062 * heap.value.high,
  })),
)
const said = computed(() => props.seen.says.join(' '))
</script>

<template>
  <Paste v-if="dry" :stage="seen.stage" :colour="colour" :size="230" />
  <svg v-else viewBox="0 0 340 188" class="w-full max-w-[26rem]" role="img" :aria-label="said">
    <path :d="`M4 ${FLOOR}H336`" stroke="#8a8a8a" stroke-width="2.500" />
    <path :d="outline" :fill="colour" :fill-opacity="1 - 0.55 * seen.crumbs" />
    <path v-if="thread" :d="thread" :fill="colour" />
    <path v-else-if="peak" :d="peak" :fill="colour" />
    <g :fill="colour" stroke="#000" stroke-opacity=".3">
      <circle v-for="(bit, n) in bits" :key="n" :cx="bit.x" :cy="bit.y" :r="bit.r" />
    </g>
    <g fill="#000" fill-opacity=".42">
      <circle v-for="(grain, n) in grains" :key="n" :cx="grain.x" :cy="grain.y" r="1.700" />
    </g>
    <g
      v-if="seen.shine > 0.08"
      fill="none"
      stroke="#fff"
      stroke-linecap="round"
      :stroke-opacity="0.2 + 0.75 * seen.shine"
      :stroke-width="1.5 + 3.5 * seen.shine"
    >
      <path :d="shines[0]" />
      <path v-if="seen.shine > 0.5" :d="shines[1]" />
    </g>
    <!-- The knife, with what clings to it. -->
    <path
      :d="`M118 ${blade}q4 ${lump} 52 ${lump}t52 ${-lump}z`"
      :fill="colour"
      :fill-opacity="1 - 0.5 * seen.crumbs"
    />
    <path
      :d="`M40 ${blade - 14}L${232} ${blade - 4}q8 3 0 7H104L40 ${blade - 4}z`"
      fill="#d9d9d9"
      stroke="#171717"
      stroke-width="1.500"
    />
    <path :d="`M4 ${blade - 18}l36 3v14l-36 -3z`" fill="#777" stroke="#171717" stroke-width="1.500" />
  </svg>
</template>
