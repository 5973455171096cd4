<script setup lang="ts">
/** Tubes standing on their caps in a rack, each drawn filled to its usable mark; leftover stands beside. */
import { computed } from 'vue'
import { digits } from './format'

type Tubes = { name: string; usable_ml: number; count: number }
const props = defineProps<{ tubes: Tubes[]; colour: string; leftoverMl?: number }>()

const MOST = 9
const drawn = computed(() => {
  const all = props.tubes.flatMap((t) => Array.from({ length: t.count }, () => t))
  let x = 6
  return all.slice(0, MOST).map((tube) => {
    const height = Math.min(86, 34 + Math.sqrt(tube.usable_ml) * 6)
    const width = Math.min(34, 14 + Math.sqrt(tube.usable_ml) * 1.7)
    const place = { tube, x, width, height }
    x += width + 9
    return place
  })
})
const more = computed(() => props.tubes.reduce((sum, t) => sum + t.count, 0) - drawn.value.length)
const width = computed(() => {
  const last = drawn.value.at(-1)
  return (last ? last.x + last.width + 10 : 20) + (more.value > 0 ? 46 : 0) + (props.leftoverMl ? 40 : 0)
})
const said = computed(() => {
  const parts = props.tubes.filter((t) => t.count).map((t) => `${t.count} x ${t.name}`)
  if (props.leftoverMl) parts.push(`${digits(props.leftoverMl, 1)} ml left over`)
  return parts.join(', ') || 'no tubes'
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} 124`"
    :style="{ height: '124px', maxWidth: '100%' }"
    role="img"
    :aria-label="`Tube rack: ${said}`"
  >
    <g v-for="({ tube, x, width: w, height: h }, n) in drawn" :key="n" :transform="`translate(${x} 0)`">
      <path
        :d="`M0 ${96 - h}H${w}L${w * 0.86} 96H${w * 0.14}Z`"
        fill="#fff"
        stroke="#171717"
        stroke-width="1.5"
      />
      <path :d="`M${w * 0.05} ${96 - h * 0.76}H${w * 0.95}L${w * 0.86} 95H${w * 0.14}Z`" :fill="colour" />
      <path :d="`M-2 ${96 - h * 0.76}h${w + 4}`" stroke="#171717" stroke-width="1" stroke-dasharray="3 2" />
      <rect :x="w * 0.3" y="96" :width="w * 0.4" height="10" fill="#565656" />
      <text :x="w / 2" y="120" text-anchor="middle" font-size="12" class="figure" fill="#171717">
        {{ digits(tube.usable_ml, 0) }}
      </text>
    </g>
    <text v-if="more > 0" :x="(drawn.at(-1)?.x ?? 0) + 44" y="70" font-size="15">+ {{ more }}</text>
    <g v-if="leftoverMl" :transform="`translate(${width - 38} 0)`">
      <path d="M0 62V104H30V62" fill="#fff" stroke="#171717" stroke-width="1.5" />
      <rect x="1" y="90" width="28" height="13" :fill="colour" />
      <text x="15" y="120" text-anchor="middle" font-size="12" class="figure">
        {{ digits(leftoverMl, 0) }}
      </text>
    </g>
    <path :d="`M0 106.500H${width}`" stroke="#171717" stroke-width="1.5" />
  </svg>
</template>
