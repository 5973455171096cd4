<script setup lang="ts">
/** Every batch between short and long, stiff and loose; the target as a field. */
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import Term from '@/kit/Term.vue'

const props = defineProps<{ map: Schemas['BodyMap'] }>()
const reach = (values: (number | null | undefined)[], from: number, to: number) => {
  const some = values.filter((v): v is number => v != null)
  return [Math.min(from, ...some), Math.max(to, ...some)] as const
}
const x = computed(() =>
  scaleLinear()
    .domain(
      reach(
        [...props.map.points.map((p) => p.string_mm), props.map.string?.low, props.map.string?.high],
        0,
        35,
      ),
    )
    .nice()
    .range([52, 430]),
)
const y = computed(() =>
  scaleLinear()
    .domain(
      reach(
        [...props.map.points.map((p) => p.spread_mm), props.map.spread?.low, props.map.spread?.high],
        36,
        54,
      ),
    )
    .nice()
    .range([26, 262]),
)
const field = computed(() => {
  const [s, t] = [props.map.string, props.map.spread]
  if (!s && !t) return undefined
  const [left, right] = [x.value(s?.low ?? x.value.domain()[0]!), x.value(s?.high ?? x.value.domain()[1]!)]
  const [top, bottom] = [y.value(t?.low ?? y.value.domain()[0]!), y.value(t?.high ?? y.value.domain()[1]!)]
  return { left, top, width: right - left, height: bottom - top }
})
const last = computed(() => Math.max(0, ...props.map.points.map((p) => p.number)))
</script>

<template>
  <p v-if="!map.points.length" class="quiet">Batches appear here once both spread and string were checked.</p>
  <svg
    v-else
    viewBox="0 0 450 300"
    class="w-full max-w-xl"
    role="group"
    :aria-label="`Body map of ${map.points.length} batches, string across and spread down`"
    font-size="13"
  >
    <rect x="52" y="26" width="378" height="236" fill="#e2e2e2" />
    <rect
      v-if="field"
      :x="field.left"
      :y="field.top"
      :width="field.width"
      :height="field.height"
      fill="#fff"
      stroke="#1d545c"
      stroke-width="2"
    />
    <g v-for="t in x.ticks(6)" :key="`x${t}`">
      <path :d="`M${x(t)} 262v5`" stroke="#171717" />
      <text :x="x(t)" y="281" text-anchor="middle" class="figure" fill="#565656">{{ t }}</text>
    </g>
    <g v-for="t in y.ticks(5)" :key="`y${t}`">
      <path :d="`M47 ${y(t)}h5`" stroke="#171717" />
      <text x="44" :y="y(t) + 5" text-anchor="end" class="figure" fill="#565656">{{ t }}</text>
    </g>
    <text x="430" y="297" text-anchor="end" fill="#565656">string, mm: short to long</text>
    <text x="52" y="18" fill="#565656">spread, mm: stiff above, loose below</text>
    <RouterLink
      v-for="p in map.points"
      :key="p.number"
      :to="`/checks/${p.number}`"
      :aria-label="`Batch ${p.number}: spread ${digits(p.spread_mm, 1)} mm, string ${digits(p.string_mm, 1)} mm`"
    >
      <circle
        :cx="x(p.string_mm)"
        :cy="y(p.spread_mm)"
        :r="p.number === last ? 7 : 4.5"
        :fill="p.number === last ? '#171717' : '#777'"
        stroke="#fff"
        stroke-width="1.200"
      />
      <text v-if="p.number === last" :x="x(p.string_mm) + 10" :y="y(p.spread_mm) + 5" font-weight="650">
        {{ p.number }}
      </text>
    </RouterLink>
  </svg>
  <p class="small quiet">
    Spread answers <Term of="reduced PVC">reduced PVC</Term> with a slope of
    <span class="figure">{{ digits(map.slope.per_reduced, 2) }} ±{{ digits(map.slope.half_width, 2) }}</span
    >,
    {{
      map.slope.basis === 'learned'
        ? `learned from ${map.slope.batches} batches`
        : 'assumed until four batches with different ratios say'
    }}.
  </p>
</template>
