<script setup lang="ts">
/** What something that dries weighs over the hours: weighings, the fitted curve in its band, and when it is dry. */
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { about, digits } from '@/kit/format'
import { useWidth } from '@/kit/width'

const props = defineProps<{
  what: string
  readySays: string
  readings: { hours: number; g: number; at: string }[]
  curve: Schemas['Curve'] | null
  open?: boolean
  now: string
  ready: { median: number; low?: number | null; high?: number | null } | null
  readyAt: string | null
  enoughG: number | null
}>()
const width = useWidth()
const [LEFT, TOP, FOOT] = [54, 16, 232]
const right = computed(() => width.value - 20)
const until = computed(() =>
  Math.max(24, props.curve?.hours.at(-1) ?? 0, ...props.readings.map((r) => r.hours)),
)
const x = computed(() => scaleLinear().domain([0, until.value]).range([LEFT, right.value]))
const most = computed(() =>
  Math.max(...props.readings.map((r) => r.g), ...(props.curve ? [props.curve.high_g[0]!] : [])),
)
const least = computed(() => Math.min(...props.readings.map((r) => r.g), ...(props.curve?.low_g ?? [])))
const y = computed(() =>
  scaleLinear()
    .domain([Math.max(0, least.value - 0.15 * (most.value - least.value) - 1), most.value * 1.02])
    .range([FOOT, TOP])
    .nice(4),
)
const at = (h: number, g: number) => `${x.value(h).toFixed(1)} ${y.value(g).toFixed(1)}`
const line = (of: number[]) => of.map((g, n) => `${n ? 'L' : 'M'}${at(props.curve!.hours[n]!, g)}`).join('')
const band = computed(() => {
  const c = props.curve!
  const back = [...c.low_g].map((g, n) => [c.hours[n]!, g] as const).reverse()
  return `${line(c.high_g)}${back.map(([h, g]) => `L${at(h, g)}`).join('')}Z`
})
const day = 24
const days = computed(() => {
  const whole = Math.floor(until.value / day)
  const step = Math.max(1, Math.ceil(whole / Math.max(3, Math.floor(width.value / 80))))
  return Array.from({ length: Math.floor(whole / step) + 1 }, (_, n) => n * step)
})
const nowH = computed(() =>
  props.readings.length && props.open
    ? (Date.parse(props.now) - Date.parse(props.readings[0]!.at)) / 3_600_000
    : undefined,
)
const said = computed(
  () =>
    `Weight of ${props.what} over ${digits(until.value / day, 1)} days, ${props.readings.length} weighings` +
    (props.readyAt ? `; ${props.readySays} about ${about(props.readyAt)}` : ''),
)
</script>

<template>
  <div ref="box" class="w-full">
    <svg
      :viewBox="`0 0 ${width} 272`"
      class="block w-full"
      height="272"
      role="img"
      :aria-label="said"
      font-size="14"
    >
      <g v-for="tick in y.ticks(4)" :key="tick">
        <path :d="`M${LEFT} ${y(tick)}H${right}`" stroke="#c9c9c9" />
        <text :x="LEFT - 8" :y="y(tick) + 5" text-anchor="end">{{ tick }}</text>
      </g>
      <text x="4" y="20" font-weight="600">g</text>
      <g v-for="d in days" :key="d">
        <path :d="`M${x(d * day)} ${FOOT}v6`" stroke="#171717" />
        <text :x="x(d * day)" :y="FOOT + 22" text-anchor="middle">{{ d ? `${d} d` : 'start' }}</text>
      </g>
      <path :d="`M${LEFT} ${FOOT}H${right}`" stroke="#171717" stroke-width="1.500" />
      <template v-if="curve">
        <path :d="band" fill="#1d545c" fill-opacity=".17" />
        <path :d="line(curve.median_g)" fill="none" stroke="#1d545c" stroke-width="2.500" />
      </template>
      <template v-if="ready && enoughG && open && x(ready.median) <= right">
        <rect
          :x="x(Math.min(ready.low ?? ready.median, until))"
          :width="
            Math.max(
              2,
              x(Math.min(ready.high ?? ready.median, until)) - x(Math.min(ready.low ?? ready.median, until)),
            )
          "
          :y="FOOT - 6"
          height="6"
          fill="#171717"
        />
        <path :d="`M${x(ready.median)} ${y(enoughG)}V${FOOT}`" stroke="#171717" stroke-dasharray="3 3" />
        <text
          :x="Math.min(x(ready.median), right - 60)"
          :y="y(enoughG) - 10"
          text-anchor="middle"
          font-weight="600"
        >
          {{ readySays }}
        </text>
      </template>
      <g v-if="nowH != null && nowH <= until">
        <path
          :d="`M${x(nowH)} ${TOP}V${FOOT}`"
          stroke="#8f1d14"
          stroke-width="1.500"
          stroke-dasharray="6 4"
        />
        <text :x="x(nowH) + 5" :y="TOP + 12" fill="#8f1d14">now</text>
      </g>
      <circle v-for="r in readings" :key="r.hours" :cx="x(r.hours)" :cy="y(r.g)" r="5.500" fill="#171717" />
    </svg>
  </div>
</template>
