<script setup lang="ts">
/** A knife drag of paint from thick to thin, drawn in its colour. */
import { computed, useId } from 'vue'

const props = withDefaults(
  defineProps<{ masstone: string; undertone: string; name: string; width?: number; height?: number }>(),
  { width: 150, height: 56 },
)
const id = useId()

/** The ragged outline of the drag; the same name always drags the same way. */
const outline = computed(() => {
  let seed = [...props.name].reduce((sum, letter) => (sum * 31 + letter.charCodeAt(0)) >>> 0, 7)
  const wobble = () => ((seed = (seed * 1664525 + 1013904223) >>> 0) / 2 ** 32 - 0.5) * 2
  const { width: w, height: h } = props
  const steps = 14
  const top: string[] = []
  const bottom: string[] = []
  for (let n = 0; n <= steps; n++) {
    const x = 3 + ((w - 10) * n) / steps + wobble() * 1.2
    const thin = n / steps
    top.push(`${x.toFixed(1)},${(h * 0.12 + wobble() * (1 + 3 * thin)).toFixed(1)}`)
    bottom.unshift(`${x.toFixed(1)},${(h * 0.88 + wobble() * (1 + 3 * thin)).toFixed(1)}`)
  }
  return `M${top.join('L')}L${(w - 3 + wobble() * 3).toFixed(1)},${(h * 0.45).toFixed(1)}L${bottom.join('L')}Z`
})
</script>

<template>
  <svg
    :viewBox="`0 0 ${width} ${height}`"
    :width="width"
    :height="height"
    role="img"
    :aria-label="`Swatch of ${name}, thick to thin; a guess of its colour`"
    class="shrink-0"
  >
    <defs>
      <linearGradient :id="id">
        <stop offset="0" :stop-color="masstone" />
        <stop offset="0.45" :stop-color="masstone" />
        <stop offset="1" :stop-color="undertone" />
      </linearGradient>
    </defs>
    <rect :width="width" :height="height" fill="#bdbdbd" />
    <path :d="outline" :fill="`url(#${id})`" />
    <path
      :d="`M6 ${height * 0.3}H${width * 0.62}M9 ${height * 0.68}H${width * 0.48}`"
      stroke="#fff"
      stroke-opacity=".16"
      stroke-width="2"
    />
  </svg>
</template>
