<script setup lang="ts">
/** One scale of oil absorption for a pigment: the prior, every lot's band, and every record as a mark. */
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

const props = defineProps<{ page: Schemas['PigmentPage'] }>()
const box = ref<HTMLElement | null>(null)
const { width: measured } = useElementSize(box)
const width = computed(() => Math.max(320, measured.value || 900))
const LEFT = computed(() => (width.value < 600 ? 86 : 150))
const x = computed(() =>
  scaleLinear()
    .domain([props.page.axis_low, props.page.axis_high])
    .range([LEFT.value + 10, width.value - 14]),
)
const ROW = 46
type Row = {
  name: string
  low: number
  high: number
  median: number
  prior?: boolean
  records: Schemas['RecordKept'][]
}
const rows = computed<Row[]>(() => [
  {
    name: props.page.prior_basis === 'entered' ? 'entered range' : 'library range',
    low: props.page.prior_low,
    high: props.page.prior_high,
    median: Math.sqrt(props.page.prior_low * props.page.prior_high),
    prior: true,
    records: [],
  },
  ...props.page.lots.map((lot) => ({
    name: `lot ${lot.lot_code}`,
    low: lot.estimate.low,
    high: lot.estimate.high,
    median: lot.estimate.median,
    records: props.page.records.filter((r) => r.lot_id === lot.lot_id),
  })),
  {
    name: 'a new lot',
    low: props.page.unseen.estimate.low,
    high: props.page.unseen.estimate.high,
    median: props.page.unseen.estimate.median,
    records: [],
  },
])
const height = computed(() => rows.value.length * ROW + 34)
const said = computed(() =>
  rows.value
    .map(
      (r) =>
        `${r.name}: ${digits(r.median, 1)}, ${digits(r.low, 1)} to ${digits(r.high, 1)}, ${r.records.length} records`,
    )
    .join('. '),
)
/** A record's mark: the larger, the more it counts. */
const triangle = (share: number) =>
  `M0 ${-6 - 5 * share}l${6 + 4 * share} ${10 + 6 * share}h${-12 - 8 * share}z`
</script>

<template>
  <div ref="box">
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      :style="{ height: `${height}px` }"
      class="block w-full"
      role="img"
      :aria-label="`Oil absorption in g per 100 g. ${said}`"
    >
      <g v-for="value in x.ticks(8)" :key="value">
        <path :d="`M${x(value)} 6V${height - 26}`" stroke="#d2d2d2" />
        <text :x="x(value)" :y="height - 8" text-anchor="middle" font-size="13" class="figure" fill="#565656">
          {{ value }}
        </text>
      </g>
      <g v-for="(row, n) in rows" :key="row.name" :transform="`translate(0 ${n * ROW + 6})`">
        <text x="0" y="25" font-size="15" :font-weight="row.prior ? 400 : 600">{{ row.name }}</text>
        <rect
          :x="x(row.low)"
          y="11"
          :width="Math.max(2, x(row.high) - x(row.low))"
          height="18"
          :fill="row.prior ? 'none' : '#fff'"
          stroke="#171717"
          :stroke-dasharray="row.prior ? '4 3' : undefined"
          stroke-width="1.5"
        />
        <path :d="`M${x(row.median)} 8v24`" stroke="#1d545c" stroke-width="3.5" />
        <g
          v-for="record in row.records"
          :key="record.id"
          :transform="`translate(${x(record.oil_absorption_g_per_100g)} 20)`"
          fill="none"
          :stroke="record.set_aside ? '#777777' : '#171717'"
          stroke-width="2"
        >
          <circle
            v-if="record.kind === 'rubout'"
            :r="4 + 5 * (record.share ?? 0)"
            :fill="record.set_aside ? 'none' : '#171717'"
          />
          <path v-else :d="triangle(record.share ?? 0)" :fill="record.set_aside ? 'none' : '#171717'" />
          <path v-if="record.set_aside" d="M-8 8L8-8" />
          <path v-if="record.question" d="M-11-13l22 26M-11 13l22-26" stroke="#8f1d14" />
        </g>
      </g>
    </svg>
    <p class="small quiet flex flex-wrap gap-x-5">
      <span>g reference oil per 100 g; bands hold nine in ten</span>
      <span
        ><svg viewBox="0 0 14 14" class="inline h-3.5 w-3.5" aria-hidden="true">
          <circle cx="7" cy="7" r="5" />
        </svg>
        rub-out</span
      >
      <span
        ><svg viewBox="0 0 14 14" class="inline h-3.5 w-3.5" aria-hidden="true">
          <path d="M7 1l6 11H1z" />
        </svg>
        batch verdict</span
      >
      <span>larger marks weigh more; struck through: set aside; crossed: far off</span>
    </p>
  </div>
</template>
