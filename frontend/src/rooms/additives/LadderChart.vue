<script setup lang="ts">
/** One measure of a ladder against dose: readings, the fitted line with its band, the target, the answer. */
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

const props = defineProps<{ line: Schemas['Line']; page: Schemas['LadderPage'] }>()
const NAMES: Record<Schemas['Measured'], [string, string]> = {
  yield_pa: ['yield stress', 'Pa'],
  string_mm: ['string', 'mm'],
  bleed_mm: ['halo', 'mm'],
}
const W = 600
const H = { top: 22, bottom: 108 }
const X = { left: 56, right: 560 }
const points = computed(() =>
  props.page.rungs.flatMap((s, n) => {
    const value = s[props.line.what]
    return value == null ? [] : [{ dose: props.page.design.rungs[n]!.additives[0]!.dose_pct, value }]
  }),
)
const target = computed(() => props.page.asked.targets?.find((t) => t.what === props.line.what))
const x = computed(() =>
  scaleLinear()
    .domain([0, props.line.band.at(-1)!.dose_pct])
    .range([X.left, X.right]),
)
const y = computed(() => {
  const some = [
    ...points.value.map((p) => p.value),
    ...props.line.band.flatMap((b) => [b.low, b.high]),
    ...[target.value?.at_least, target.value?.at_most].filter((v): v is number => v != null),
  ]
  const logs = props.line.what !== 'bleed_mm'
  const low = Math.min(...some)
  const high = Math.max(...some)
  return logs
    ? scaleLog()
        .domain([Math.max(low, high / 1000) * 0.95, high * 1.05])
        .range([H.bottom, H.top])
    : scaleLinear()
        .domain([Math.min(0, low), high * 1.05])
        .range([H.bottom, H.top])
})
const path = (of: (b: Schemas['BandPoint']) => number, back = false) =>
  (back ? [...props.line.band].reverse() : props.line.band)
    .map(
      (b, n) =>
        `${n || back ? 'L' : 'M'}${x.value(b.dose_pct).toFixed(1)} ${y.value(Math.max(of(b), 1e-6)).toFixed(1)}`,
    )
    .join('')
const band = computed(() => `${path((b) => b.high)}${path((b) => b.low, true)}Z`)
const answer = computed(() => props.page.fit?.answer)
/** Ticks far enough apart to be read. */
const ticks = computed(() =>
  y.value
    .ticks(4)
    .reduce<number[]>(
      (kept, t) => (kept.every((k) => Math.abs(y.value(k) - y.value(t)) > 20) ? [...kept, t] : kept),
      [],
    ),
)
const [name, unit] = [computed(() => NAMES[props.line.what][0]), computed(() => NAMES[props.line.what][1])]
const said = computed(
  () =>
    `${name.value} of ${props.line.rungs} rungs: slope ${digits(props.line.slope, 2)} for each percent, ` +
    `${digits(props.line.slope_low, 2)} to ${digits(props.line.slope_high, 2)}`,
)
</script>

<template>
  <svg :viewBox="`0 0 ${W} 130`" class="mb-1 w-full" role="img" :aria-label="said" font-size="14">
    <text :x="X.left" y="14" font-weight="600">{{ name }}, {{ unit }}</text>
    <text :x="X.right" y="14" text-anchor="end" fill="#565656" font-size="13">
      {{
        line.what === 'bleed_mm' ? `${digits(line.slope, 2)} ${unit}` : `× ${digits(line.times_per_pct!, 2)}`
      }}
      for each %
    </text>
    <path :d="band" fill="#d3dcdd" />
    <template v-if="answer?.dose_pct">
      <rect
        :x="x(answer.low_pct!)"
        :width="Math.max(1, x(answer.high_pct!) - x(answer.low_pct!))"
        :y="H.top"
        :height="H.bottom - H.top"
        fill="#1d545c"
        fill-opacity=".12"
      />
      <path :d="`M${x(answer.dose_pct)} ${H.top}V${H.bottom}`" stroke="#1d545c" stroke-width="2.500" />
    </template>
    <path :d="path((b) => b.middle)" fill="none" stroke="#171717" stroke-width="2" />
    <template
      v-for="[bound, word] in [
        [target?.at_least, 'at least'],
        [target?.at_most, 'at most'],
      ] as const"
      :key="word"
    >
      <g v-if="bound != null">
        <path
          :d="`M${X.left} ${y(bound)}H${X.right}`"
          stroke="#8f1d14"
          stroke-width="1.500"
          stroke-dasharray="7 4"
        />
        <text :x="X.right - 2" :y="y(bound) - 4" text-anchor="end" fill="#8f1d14" font-size="13">
          {{ word }} {{ bound }}
        </text>
      </g>
    </template>
    <circle
      v-for="p in points"
      :key="p.dose"
      :cx="x(p.dose)"
      :cy="y(Math.max(p.value, 1e-6))"
      r="4.500"
      fill="#171717"
    />
    <g v-for="t in ticks" :key="t">
      <text :x="X.left - 8" :y="y(t) + 5" text-anchor="end" class="figure" fill="#565656">{{ t }}</text>
    </g>
    <path :d="`M${X.left} ${H.bottom}H${X.right}`" stroke="#8a8a8a" />
    <text
      v-for="t in x.ticks(6)"
      :key="t"
      :x="x(t)"
      y="125"
      text-anchor="middle"
      class="figure"
      fill="#565656"
    >
      {{ t }}{{ t === x.ticks(6).at(-1) ? ' %' : '' }}
    </text>
  </svg>
</template>
