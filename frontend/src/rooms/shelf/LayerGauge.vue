<script setup lang="ts">
/** A drawn tube or jar with the oil on top of its paint: drag the boundary, or use the arrow keys, to measure it. */
import { computed, ref } from 'vue'

const layer = defineModel<number | null>({ required: true })
const props = defineProps<{ height: number; kind: 'tube' | 'jar'; colour: string; skin: boolean }>()
const TOP = 40
const TALL = 126
const edge = computed(() => TOP + TALL * Math.min(1, Math.max(0, (layer.value ?? 0) / props.height)))
const drawing = ref<SVGSVGElement | null>(null)
const held = ref(false)
const set = (mm: number) => (layer.value = Math.round(2 * Math.min(props.height, Math.max(0, mm))) / 2)
function drag(event: PointerEvent): void {
  if (!held.value || !drawing.value) return
  const box = drawing.value.getBoundingClientRect()
  set((((event.clientY - box.top) * 190) / box.height - TOP) * (props.height / TALL))
}
function hold(event: PointerEvent): void {
  held.value = true
  ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  drag(event)
}
const STEPS: Record<string, number> = { ArrowUp: -0.5, ArrowDown: 0.5, PageUp: -5, PageDown: 5 }
function nudge(event: KeyboardEvent): void {
  const by = STEPS[event.key]
  if (by == null) return
  event.preventDefault()
  set((layer.value ?? 0) + by)
}
</script>

<template>
  <div class="shrink-0 text-center">
    <svg
      ref="drawing"
      viewBox="0 0 172 190"
      class="h-56 cursor-ns-resize touch-none"
      role="slider"
      tabindex="0"
      aria-orientation="vertical"
      aria-label="The layer, on the drawing"
      :aria-valuemin="0"
      :aria-valuemax="height"
      :aria-valuenow="layer ?? 0"
      :aria-valuetext="`${layer ?? 0} mm of ${height} mm`"
      @pointerdown="hold"
      @pointermove="drag"
      @pointerup="held = false"
      @pointercancel="held = false"
      @keydown="nudge"
    >
      <path v-if="kind === 'tube'" d="M26 8h98l-12 160H38z" fill="#fff" stroke="#171717" stroke-width="2" />
      <path v-else d="M26 20v150h98V20" fill="#fff" stroke="#171717" stroke-width="2" />
      <rect x="42" :y="TOP" width="66" :height="TALL" :fill="colour" />
      <rect x="42" :y="TOP" width="66" :height="edge - TOP" fill="#d8c98a" />
      <path v-if="skin" :d="`M42 ${TOP}q33 -9 66 0`" fill="none" stroke="#171717" stroke-width="4" />
      <path d="M34 40v126M29 40h10M29 166h10" stroke="#171717" stroke-width="2" />
      <text x="0" y="108" font-size="12">{{ height }}</text>
      <path :d="`M42 ${edge}h82`" stroke="#171717" stroke-width="2.500" />
      <path :d="`M124 ${edge}l10 -7v14z`" fill="#171717" />
      <text x="138" :y="edge + 5" font-size="14" font-weight="600">{{ layer ?? 0 }}</text>
    </svg>
    <slot />
    <span class="small quiet block">mm; drag the line</span>
  </div>
</template>
