<script setup lang="ts">
/** pH on its band: the window drawn, every reading in its order, the last one large, and what it asks for. */
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'
import { useWidth } from '@/kit/width'
import type { Run } from './room'

const props = defineProps<{ ph: NonNullable<Run['ph']>; live?: number | null; open?: boolean }>()
const width = useWidth()
const low = computed(() => props.ph.low ?? 0)
const high = computed(() => props.ph.high ?? 14)
const values = computed(() => [
  ...props.ph.readings.map((one) => one.ph),
  ...(props.live != null ? [props.live] : []),
])
/** As much of the scale as matters: the window, all readings, and a unit about them. */
const ends = computed(() => [
  Math.max(0, Math.floor(Math.min(low.value || 6, ...values.value) - 1)),
  Math.min(14, Math.ceil(Math.max(props.ph.high ?? 8, ...values.value) + 1)),
])
const x = computed(() =>
  scaleLinear()
    .domain(ends.value)
    .range([20, width.value - 20])
    .clamp(true),
)
const ticks = computed(() =>
  Array.from({ length: ends.value[1]! - ends.value[0]! + 1 }, (_, n) => ends.value[0]! + n),
)
const now = computed(() => props.live ?? props.ph.readings.at(-1)?.ph)
const said = computed(
  () =>
    `pH band: keep it at ${low.value} to ${high.value}; ${props.ph.readings.length} readings` +
    (now.value != null ? `, now ${digits(now.value, 1)}` : ''),
)
</script>

<template>
  <section ref="box" aria-label="pH">
    <div class="flex flex-wrap items-end gap-x-6 gap-y-1">
      <p class="min-w-48 flex-1 text-lg leading-tight">
        <span class="small quiet block">pH, to keep at {{ low }} to {{ high }}</span>
        <span v-if="now != null" class="figure text-3xl font-semibold">{{ digits(now, 1) }}</span>
        <span v-else>not read yet</span>
        <span v-if="live != null" class="quiet small ml-2">the meter shows it</span>
      </p>
      <FigureValue v-if="ph.share_inside" class="w-48" :figure="ph.share_inside" />
    </div>
    <svg
      :viewBox="`0 0 ${width} 96`"
      class="block w-full"
      height="96"
      role="img"
      :aria-label="said"
      font-size="14"
    >
      <rect
        x="20"
        y="34"
        :width="width - 40"
        height="26"
        fill="#e2e2e2"
        stroke="#171717"
        stroke-width="1.5"
      />
      <rect :x="x(low)" y="34.75" :width="Math.max(2, x(high) - x(low))" height="24.5" fill="#fff" />
      <path :d="`M${x(low)} 30v34M${x(high)} 30v34`" stroke="#1d545c" stroke-width="2.5" />
      <text
        :x="(x(low) + x(high)) / 2"
        y="20"
        text-anchor="middle"
        font-weight="650"
        fill="#1d545c"
        font-size="15"
      >
        inside
      </text>
      <g v-for="t in ticks" :key="t">
        <path :d="`M${x(t)} 60v5`" stroke="#171717" />
        <text :x="x(t)" y="80" text-anchor="middle" class="figure">{{ t }}</text>
      </g>
      <circle
        v-for="(one, n) in ph.readings"
        :key="one.at"
        :cx="x(one.ph)"
        cy="47"
        :r="n === ph.readings.length - 1 ? 8 : 4.5"
        :fill="n === ph.readings.length - 1 ? (one.inside ? '#1d545c' : '#8f1d14') : '#fff'"
        :stroke="one.inside ? '#1d545c' : '#8f1d14'"
        stroke-width="2.5"
      />
      <path v-if="live != null" :d="`M${x(live)} 33l-7 -11h14z`" fill="#171717" />
    </svg>
    <p v-if="ph.asks && open" class="text-lg">{{ ph.asks }}</p>
  </section>
</template>
