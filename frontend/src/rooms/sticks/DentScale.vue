<script setup lang="ts">
/**
 * The dent scale: how deep a needle goes, from hard to buttery. Zones are how a stick feels; the band is where the
 * target truly lies, nine times in ten; marks are other ways of settling it; the pointer is what was read.
 */
import { useElementSize } from '@vueuse/core'
import { scaleLog } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

export type Mark = { key: string; name: string; dent: number }
const props = defineProps<{
  zones: Schemas['DentZone'][]
  /** Nothing is aimed at where bases stand side by side. */
  target?: number
  low?: number
  high?: number
  marks?: Mark[]
  ticks?: number[]
  pointer?: number | null
  /** Between what the pointer truly lies, nine times in ten. */
  pointerLow?: number | null
  pointerHigh?: number | null
  movable?: boolean
}>()
const emit = defineEmits<{ 'update:target': [dent: number] }>()

const box = ref<HTMLElement | null>(null)
const { width: measured } = useElementSize(box)
const width = computed(() => Math.max(300, measured.value || 700))
const narrow = computed(() => width.value < 520)
const TOP = 34
const BOTTOM = 78
const ends = computed(() => [props.zones[0]!.from_dmm, props.zones.at(-1)!.to_dmm] as const)
const x = computed(() =>
  scaleLog()
    .domain(ends.value)
    .range([8, width.value - 8]),
)
const at = (dent: number) => x.value(Math.min(ends.value[1], Math.max(ends.value[0], dent)))
const zoneOf = (dent: number) => props.zones.find((z) => dent >= z.from_dmm && dent <= z.to_dmm)
const targetZone = computed(() => (props.target == null ? undefined : zoneOf(props.target)))
const pointerZone = computed(() => (props.pointer == null ? undefined : zoneOf(props.pointer)))
const AXIS = [2, 5, 10, 25, 50, 90, 150, 250]
/** A bar over the zones from one dent to another. */
const between = (low: number, high: number) =>
  `M${at(low)} ${TOP + 4}v9M${at(high)} ${TOP + 4}v9M${at(low)} ${TOP + 8.5}H${at(high)}`
const pointerRoom = computed(() => (props.pointerLow == null ? 30 : 62))
const axis = computed(() =>
  AXIS.filter((v) => props.pointer == null || Math.abs(at(v) - at(props.pointer)) > 22),
)
const marksY = computed(() => BOTTOM + (props.pointer == null ? 30 : 46))
const placed = computed(() => {
  const rows: number[] = []
  return [...(props.marks ?? [])]
    .sort((a, b) => a.dent - b.dent)
    .map((mark) => {
      const off = mark.dent > ends.value[1] || mark.dent < ends.value[0]
      const beyond = off ? (mark.dent > ends.value[1] ? ' (above this scale)' : ' (below this scale)') : ''
      const label = `${mark.name} ${digits(mark.dent, 0)}${beyond}`
      const wide = label.length * 7.2 + 12
      const where = at(mark.dent)
      const start = Math.min(Math.max(4, where - wide / 2), width.value - wide)
      let row = rows.findIndex((end) => end < start)
      if (row < 0) row = rows.push(0) - 1
      rows[row] = start + wide
      return { mark, label, where, start, wide, row }
    })
})
const height = computed(
  () => marksY.value + (placed.value.length ? 4 + (1 + Math.max(...placed.value.map((p) => p.row))) * 22 : 0),
)
const svg = ref<SVGSVGElement | null>(null)
let dragging = false
function move(event: PointerEvent): void {
  if (!dragging || !svg.value) return
  const rect = svg.value.getBoundingClientRect()
  set(x.value.invert(((event.clientX - rect.left) * width.value) / rect.width))
}
function grab(event: PointerEvent): void {
  if (!props.movable) return
  dragging = true
  svg.value?.setPointerCapture(event.pointerId)
  move(event)
}
function set(dent: number): void {
  const kept = Math.min(ends.value[1], Math.max(ends.value[0], dent))
  const rounded = kept < 20 ? Math.round(kept * 2) / 2 : Math.round(kept)
  if (rounded !== props.target) emit('update:target', rounded)
}
function key(event: KeyboardEvent): void {
  const by: Record<string, number> = {
    ArrowRight: 1,
    ArrowUp: 1,
    ArrowLeft: -1,
    ArrowDown: -1,
    PageUp: 5,
    PageDown: -5,
  }
  if (by[event.key] !== undefined) set((props.target ?? ends.value[0]) + by[event.key]!)
  else if (event.key === 'Home') set(ends.value[0])
  else if (event.key === 'End') set(ends.value[1])
  else return
  event.preventDefault()
}
const said = computed(() => {
  const parts = ['Dent scale from hard to soft']
  if (props.target != null) parts.push(`target ${digits(props.target, 0)}, ${targetZone.value?.says ?? ''}`)
  if (props.low != null && props.high != null)
    parts.push(`nine times in ten between ${digits(props.low, 0)} and ${digits(props.high, 0)}`)
  if (props.pointer != null)
    parts.push(`now ${digits(props.pointer, 0)}, ${pointerZone.value?.says ?? 'off the scale'}`)
  for (const m of props.marks ?? []) parts.push(`${m.name} ${digits(m.dent, 0)}`)
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
      <g v-for="(zone, n) in zones" :key="zone.feel">
        <rect
          :x="x(zone.from_dmm)"
          :y="TOP"
          :width="x(zone.to_dmm) - x(zone.from_dmm)"
          :height="BOTTOM - TOP"
          :fill="zone === targetZone ? '#ffffff' : n % 2 ? '#e2e2e2' : '#d8d8d8'"
        />
        <path v-if="n" :d="`M${x(zone.from_dmm)} ${TOP}V${BOTTOM}`" stroke="#8a8a8a" />
        <text
          v-if="!narrow || zone === targetZone || zone === pointerZone"
          :x="(x(zone.from_dmm) + x(zone.to_dmm)) / 2"
          :y="BOTTOM - 8"
          text-anchor="middle"
          :font-size="Math.min(15, (x(zone.to_dmm) - x(zone.from_dmm) - 3) / (zone.says.length * 0.54))"
          :font-weight="zone === targetZone ? 700 : 400"
          fill="#171717"
        >
          {{ zone.says }}
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
      <path
        v-if="low != null && high != null"
        :d="`M${at(low)} ${TOP + 6}v13M${at(high)} ${TOP + 6}v13M${at(low)} ${TOP + 12.5}H${at(high)}`"
        stroke="#1d545c"
        stroke-width="2.5"
        fill="none"
      />
      <path
        v-for="(tick, n) in ticks ?? []"
        :key="`t${n}`"
        :d="`M${at(tick)} ${BOTTOM - 6}v12`"
        stroke="#171717"
        stroke-width="2"
      />
      <g v-for="value in axis" :key="value">
        <path :d="`M${x(value)} ${BOTTOM}v6`" stroke="#171717" />
        <text
          :x="x(value)"
          :y="BOTTOM + 21"
          :text-anchor="value === AXIS.at(-1) ? 'end' : value === AXIS[0] ? 'start' : 'middle'"
          font-size="13"
          class="figure"
          fill="#565656"
        >
          {{ value }}
        </text>
      </g>
      <g v-for="p in placed" :key="p.mark.key">
        <path
          :d="`M${p.where} ${BOTTOM + 1}V${marksY + p.row * 22}`"
          stroke="#171717"
          stroke-dasharray="1 3"
        />
        <rect :x="p.start" :y="marksY - 1 + p.row * 22" :width="p.wide" height="20" fill="#efefef" />
        <text :x="p.start + 6" :y="marksY + 14 + p.row * 22" font-size="13.500" fill="#171717">
          {{ p.label }}
        </text>
      </g>
      <g
        v-if="target != null"
        :tabindex="movable ? 0 : undefined"
        :role="movable ? 'slider' : undefined"
        :aria-label="movable ? 'Dent wanted' : undefined"
        :aria-valuemin="movable ? ends[0] : undefined"
        :aria-valuemax="movable ? ends[1] : undefined"
        :aria-valuenow="movable ? target : undefined"
        :aria-valuetext="movable ? `${digits(target, 0)}, ${targetZone?.says ?? ''}` : undefined"
        @keydown="movable && key($event)"
      >
        <rect v-if="movable" :x="at(target) - 24" y="2" width="48" :height="BOTTOM - 2" fill="transparent" />
        <path :d="`M${at(target)} ${TOP - 4}V${BOTTOM - 24}`" stroke="#1d545c" stroke-width="3.5" />
        <path v-if="movable" :d="`M${at(target) - 13} ${TOP - 12}h26v6l-13 8-13-8z`" fill="#1d545c" />
        <text
          :x="Math.min(Math.max(at(target), 70), width - 70)"
          y="16"
          text-anchor="middle"
          font-size="15"
          fill="#1d545c"
          font-weight="650"
        >
          {{ movable ? '' : 'target ' }}{{ targetZone?.says }}
          <tspan class="figure" dx="4">{{ digits(target, 0) }}</tspan>
        </text>
      </g>
      <path
        v-if="pointerLow != null && pointerHigh != null"
        :d="between(pointerLow, pointerHigh)"
        stroke="#171717"
        stroke-width="2"
        fill="none"
      />
      <g v-if="pointer != null" :transform="`translate(${at(pointer)} 0)`">
        <path :d="`M-12 ${BOTTOM + 22}h24v-8L0 ${BOTTOM + 1}l-12 13z`" fill="#171717" />
        <text
          :x="Math.min(Math.max(at(pointer), pointerRoom), width - pointerRoom) - at(pointer)"
          :y="BOTTOM + 40"
          text-anchor="middle"
          font-size="15"
          font-weight="650"
        >
          now {{ digits(pointer, 0) }}
          <tspan v-if="pointerLow != null && pointerHigh != null" font-weight="400">
            &nbsp;({{ digits(pointerLow, 0) }} to {{ digits(pointerHigh, 0) }})
          </tspan>
        </text>
      </g>
    </svg>
    <p class="small quiet">
      needle dent at 25 °C in 0.1 mm, hard to soft<template
        v-if="target != null && low != null && high != null"
        >; aimed at <span class="figure text-ink">{{ digits(target, 0) }}</span>
        <span class="figure text-ink">&nbsp;({{ digits(low, 0) }} to {{ digits(high, 0) }})</span></template
      >
    </p>
  </div>
</template>
