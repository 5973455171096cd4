<script setup lang="ts">
/**
 * The wetting scale: oil per 100 g of this pigment in this oil, from dry to wet, with the bodies as zones,
 * the target and its band, starting rules and past batches as marks, and the paste now as the pointer.
 * With `modelValue` the target can be dragged or moved with the arrow keys.
 */
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import BasisMark from './BasisMark.vue'
import { digits } from './format'

type Mark = { key: string; name: string; oil_g_per_100g: number }
const props = defineProps<{
  scale: Schemas['Scale']
  /** Target reduced PVC, where it can be moved. */
  modelValue?: number
  movable?: boolean
  pointer?: number | null
  marks?: Mark[]
  /** Ratios of past batches. */
  ticks?: number[]
}>()
const emit = defineEmits<{ 'update:modelValue': [reduced: number] }>()

const LOWEST = 0.5
const HIGHEST = 1.15
const STEP = 0.01

const box = ref<HTMLElement | null>(null)
const { width: measured } = useElementSize(box)
const width = computed(() => Math.max(300, measured.value || 900))
const zones = computed(() => props.scale.zones)
/** The word under the pointer stays on the paper where the pointer is at its edge. */
const pointerShift = computed(() => {
  if (props.pointer == null) return 0
  const place = at(props.pointer)
  const half = 4 + pointerWords.value.length * 4.2
  return Math.max(0, half - place) - Math.max(0, place - (width.value - half))
})
const x = computed(() =>
  scaleLinear()
    .domain([zones.value[0]!.oil_from_g_per_100g, zones.value.at(-1)!.oil_to_g_per_100g])
    .range([8, width.value - 8]),
)
const ends = computed(() => x.value.domain() as [number, number])
const inside = (ratio: number) => Math.min(ends.value[1], Math.max(ends.value[0], ratio))
const at = (ratio: number) => x.value(inside(ratio))

const TOP = 46
const BOTTOM = 104
const narrow = computed(() => width.value < 620)

const target = computed(() => props.modelValue ?? props.scale.target_reduced_pvc)
/** While the target is dragged the answer lags by a moment: the handle follows the hand, on the reciprocal axis. */
const targetX = computed(() => {
  if (!props.movable || Math.abs(target.value - props.scale.target_reduced_pvc) < 1e-9)
    return at(props.scale.target_oil_g_per_100g)
  const share = (1 / target.value - 1 / HIGHEST) / (1 / LOWEST - 1 / HIGHEST)
  return 8 + share * (width.value - 16)
})
const targetZone = computed(() =>
  zones.value.find((z) => target.value <= z.reduced_from + 1e-9 && target.value >= z.reduced_to - 1e-9),
)
const pointerZone = computed(() =>
  props.pointer == null
    ? undefined
    : zones.value.find(
        (z) => props.pointer! >= z.oil_from_g_per_100g && props.pointer! <= z.oil_to_g_per_100g,
      ),
)
/** As large as a zone's name can stand in it; too small to be read, it is left out. */
const nameSize = (zone: (typeof zones.value)[number]) =>
  Math.min(
    15,
    (x.value(zone.oil_to_g_per_100g) - x.value(zone.oil_from_g_per_100g) - 3) / (zone.body.length * 0.54),
  )
const READABLE = 10
const named = (zone: (typeof zones.value)[number]) =>
  nameSize(zone) >= READABLE && (!narrow.value || zone === targetZone.value || zone === pointerZone.value)
const pointerWords = computed(() =>
  pointerZone.value && !named(pointerZone.value) ? `now, ${pointerZone.value.body}` : 'now',
)
const axisY = BOTTOM + 21
/** Numbers make room for the pointer. */
const axis = computed(() =>
  x.value
    .ticks(narrow.value ? 5 : 10)
    .filter((v) => props.pointer == null || Math.abs(x.value(v) - at(props.pointer)) > 26),
)

/** Marks below the axis, pushed into rows so that no two names overlap. */
const placed = computed(() => {
  const rows: number[] = []
  return [...(props.marks ?? [])]
    .sort((a, b) => a.oil_g_per_100g - b.oil_g_per_100g)
    .map((mark) => {
      const off = mark.oil_g_per_100g > ends.value[1] ? 1 : mark.oil_g_per_100g < ends.value[0] ? -1 : 0
      const beyond = off > 0 ? ' (above this scale)' : off < 0 ? ' (below this scale)' : ''
      const label = `${mark.name} ${digits(mark.oil_g_per_100g, 0)}${beyond}`
      const wide = label.length * 7.2 + 14
      const where = at(mark.oil_g_per_100g)
      const start = Math.min(Math.max(4, where - wide / 2), width.value - wide)
      let row = rows.findIndex((end) => end < start)
      if (row < 0) row = rows.push(0) - 1
      rows[row] = start + wide
      return { mark, label, where, start, wide, row, off }
    })
})
const height = computed(
  () =>
    BOTTOM +
    (props.pointer == null ? 30 : 46) +
    (placed.value.length ? 10 + (1 + Math.max(...placed.value.map((p) => p.row))) * 22 : 0),
)

const marksY = computed(() => BOTTOM + (props.pointer == null ? 30 : 46))

const svg = ref<SVGSVGElement | null>(null)
let dragging = false

function move(event: PointerEvent): void {
  if (!dragging || !svg.value) return
  const rect = svg.value.getBoundingClientRect()
  const share = Math.min(
    1,
    Math.max(0, ((event.clientX - rect.left) * (width.value / rect.width) - 8) / (width.value - 16)),
  )
  set(1 / (1 / HIGHEST + share * (1 / LOWEST - 1 / HIGHEST)))
}
function grab(event: PointerEvent): void {
  if (!props.movable) return
  dragging = true
  svg.value?.setPointerCapture(event.pointerId)
  move(event)
}
function set(reduced: number): void {
  const rounded = Math.round(Math.min(HIGHEST, Math.max(LOWEST, reduced)) / STEP) * STEP
  const value = Number(rounded.toFixed(2))
  if (value !== target.value) emit('update:modelValue', value)
}
function key(event: KeyboardEvent): void {
  const moves: Record<string, number> = {
    ArrowRight: -STEP,
    ArrowUp: -STEP,
    ArrowLeft: STEP,
    ArrowDown: STEP,
    PageUp: -5 * STEP,
    PageDown: 5 * STEP,
  }
  const by = moves[event.key]
  if (by !== undefined) set(target.value + by)
  else if (event.key === 'Home') set(HIGHEST)
  else if (event.key === 'End') set(LOWEST)
  else return
  event.preventDefault()
}
/** The band of the target: a bar with a stop at each end. */
const bandPath = computed(() => {
  const [low, high] = [at(props.scale.band_low_oil_g_per_100g), at(props.scale.band_high_oil_g_per_100g)]
  return `M${low} ${TOP + 8}v14M${high} ${TOP + 8}v14M${low} ${TOP + 15}H${high}`
})
const targetSaid = computed(
  () =>
    `${targetZone.value?.body}, ${digits(props.scale.target_oil_g_per_100g, 1)} g oil per 100 g, ` +
    `reduced PVC ${digits(target.value, 2)}`,
)
const said = computed(() => {
  const parts = [
    `Wetting scale from ${digits(ends.value[0], 0)} to ${digits(ends.value[1], 0)} g oil per 100 g pigment`,
    `target ${digits(props.scale.target_oil_g_per_100g, 1)}, nine times in ten between ` +
      `${digits(props.scale.band_low_oil_g_per_100g, 1)} and ${digits(props.scale.band_high_oil_g_per_100g, 1)}, ` +
      `body ${targetZone.value?.body}`,
  ]
  if (props.pointer != null)
    parts.push(`paste now ${digits(props.pointer, 1)}, ${pointerZone.value?.body ?? 'off the scale'}`)
  for (const m of props.marks ?? []) parts.push(`${m.name} ${digits(m.oil_g_per_100g, 0)}`)
  return parts.join('; ')
})
</script>

<template>
  <div ref="box" class="w-full">
    <svg
      ref="svg"
      :viewBox="`0 0 ${width} ${height}`"
      class="block w-full select-none"
      :class="movable ? 'cursor-ew-resize touch-none' : ''"
      :style="{ height: `${height}px` }"
      :role="movable ? 'group' : 'img'"
      :aria-label="said"
      @pointerdown="grab"
      @pointermove="move"
      @pointerup="dragging = false"
      @pointercancel="dragging = false"
    >
      <g v-for="(zone, n) in zones" :key="zone.body">
        <rect
          :x="x(zone.oil_from_g_per_100g)"
          :y="TOP"
          :width="Math.max(0, x(zone.oil_to_g_per_100g) - x(zone.oil_from_g_per_100g))"
          :height="BOTTOM - TOP"
          :fill="zone === targetZone ? '#ffffff' : n % 2 ? '#e2e2e2' : '#d8d8d8'"
        />
        <path v-if="n" :d="`M${x(zone.oil_from_g_per_100g)} ${TOP}V${BOTTOM}`" stroke="#8a8a8a" />
        <text
          v-if="named(zone)"
          :x="(x(zone.oil_from_g_per_100g) + x(zone.oil_to_g_per_100g)) / 2"
          :y="BOTTOM - 9"
          text-anchor="middle"
          :font-size="nameSize(zone)"
          :font-weight="zone === targetZone ? 700 : 400"
          fill="#171717"
        >
          {{ zone.body }}
        </text>
      </g>
      <rect
        x="8"
        :y="TOP"
        :width="width - 16"
        :height="BOTTOM - TOP"
        fill="none"
        stroke="#171717"
        stroke-width="1.5"
      />

      <!-- The band: where the target truly lies, nine times in ten. -->
      <g stroke="#1d545c" fill="none" stroke-width="2.5">
        <path :d="bandPath" />
      </g>
      <g v-for="(tick, n) in ticks ?? []" :key="n">
        <path :d="`M${at(tick)} ${BOTTOM - 6}v12`" stroke="#171717" stroke-width="2" />
      </g>

      <g v-for="value in axis" :key="value">
        <path :d="`M${x(value)} ${BOTTOM}v6`" stroke="#171717" />
        <text :x="x(value)" :y="axisY" text-anchor="middle" font-size="13" class="figure" fill="#565656">
          {{ value }}
        </text>
      </g>

      <g v-for="p in placed" :key="p.mark.key">
        <path
          :d="`M${p.where} ${BOTTOM + 1}V${marksY + p.row * 22}`"
          stroke="#171717"
          stroke-width="1"
          stroke-dasharray="1 3"
        />
        <rect :x="p.start" :y="marksY - 1 + p.row * 22" :width="p.wide" height="20" fill="#efefef" />
        <path
          v-if="p.off"
          :d="
            p.off > 0
              ? `M${p.start + p.wide - 9} ${marksY + 4 + p.row * 22}l7 5-7 5`
              : `M${p.start + 9} ${marksY + 4 + p.row * 22}l-7 5 7 5`
          "
          fill="none"
          stroke="#171717"
          stroke-width="1.5"
        />
        <text
          :x="p.start + 6 + (p.off < 0 ? 6 : 0)"
          :y="marksY + 14 + p.row * 22"
          font-size="13.500"
          fill="#171717"
        >
          {{ p.label }}
        </text>
      </g>

      <!-- The target, a notch that can be moved. -->
      <g
        :tabindex="movable ? 0 : undefined"
        :role="movable ? 'slider' : undefined"
        :aria-label="movable ? 'Target body' : undefined"
        :aria-valuemin="movable ? LOWEST : undefined"
        :aria-valuemax="movable ? HIGHEST : undefined"
        :aria-valuenow="movable ? target : undefined"
        :aria-valuetext="movable ? targetSaid : undefined"
        data-part="target"
        @keydown="movable && key($event)"
      >
        <rect v-if="movable" :x="targetX - 24" y="2" width="48" :height="BOTTOM - 2" fill="transparent" />
        <path :d="`M${targetX} ${TOP - 4}V${BOTTOM - 25}`" stroke="#1d545c" stroke-width="3.5" />
        <path v-if="movable" :d="`M${targetX - 13} ${TOP - 22}h26v12l-13 11-13-11z`" fill="#1d545c" />
        <path
          v-if="movable"
          :d="`M${targetX - 4} ${TOP - 19}v10M${targetX + 4} ${TOP - 19}v10`"
          stroke="#fff"
          stroke-width="1.8"
        />
        <text
          :x="Math.min(Math.max(targetX, 70), width - 70)"
          y="17"
          text-anchor="middle"
          font-size="15"
          fill="#1d545c"
          font-weight="650"
        >
          <tspan v-if="!movable">target{{ ' ' }}</tspan>
          <tspan>{{ targetZone?.body }}</tspan>
          <tspan class="figure" dx="4">{{ digits(target, 2) }}</tspan>
        </text>
      </g>

      <g
        v-if="pointer != null"
        data-part="pointer"
        style="transition: transform 0.25s"
        :style="{ transform: `translateX(${at(pointer)}px)` }"
      >
        <path :d="`M-12 ${BOTTOM + 22}h24v-8L0 ${BOTTOM + 1}l-12 13z`" fill="#171717" />
        <path :d="`M0 ${BOTTOM}v-7`" stroke="#171717" stroke-width="2.5" />
        <text :x="pointerShift" :y="BOTTOM + 40" text-anchor="middle" font-size="15" font-weight="650">
          {{ pointerWords }}
        </text>
      </g>
    </svg>
    <p class="small quiet flex flex-wrap items-baseline gap-x-4">
      <span>g oil per 100 g pigment, dry to wet</span>
      <span class="text-ink">
        target <span class="figure font-semibold">{{ digits(scale.target_oil_g_per_100g, 1) }}</span>
        <span class="figure"
          >&nbsp;({{ digits(scale.band_low_oil_g_per_100g, 1) }} to
          {{ digits(scale.band_high_oil_g_per_100g, 1) }})</span
        >
      </span>
      <span v-if="pointer != null" class="text-ink">
        now <span class="figure font-semibold">{{ digits(pointer, 1) }}</span>
      </span>
      <span class="inline-flex items-center gap-1"><BasisMark :basis="scale.basis" /> {{ scale.says }}</span>
    </p>
  </div>
</template>
