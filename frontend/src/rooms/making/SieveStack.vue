<script setup lang="ts">
/** A stack of sieves drawn from the coarsest down, what passes each, and between which sizes half of it lies. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { useWidth } from '@/kit/width'

const props = defineProps<{ sieved: Schemas['Sieved'] }>()
const ROW = 52
const width = useWidth(280, 560)
/** Between which two walls the sieves stand: their names to the left, what stays and passes to the right. */
const LEFT = 84
const right = computed(() => Math.max(LEFT + 56, Math.min(LEFT + 210, width.value - 190)))
const height = computed(() => props.sieved.passing.length * ROW + 66)
/** What stays on each sieve, and at last in the pan, in percent. */
const stays = computed(() => {
  let before = 100
  const on = props.sieved.passing.map((one) => {
    const stay = before - one.percent
    before = one.percent
    return stay
  })
  return [...on, before]
})
const size = (um: number | null) => (um == null ? 'outside the stack' : `${digits(um, 0)} \u00b5m`)
const pass = computed(() =>
  props.sieved.passing.map((one) => `${digits(one.percent, 1)} % pass ${one.aperture_um} µm`),
)
const said = computed(() => `Sieve stack: ${pass.value.join(', ')}`)
</script>

<template>
  <section ref="box" aria-label="Sieving">
    <h2 class="mb-1 text-lg">Sieved</h2>
    <svg
      :viewBox="`0 0 ${width} ${height}`"
      class="block w-full"
      :height="height"
      role="img"
      :aria-label="said"
      font-size="15"
    >
      <g v-for="(one, n) in sieved.passing" :key="one.aperture_um">
        <path
          :d="`M${LEFT} ${8 + n * ROW}v34M${right} ${8 + n * ROW}v34`"
          stroke="#171717"
          stroke-width="3"
        />
        <path
          :d="`M${LEFT} ${42 + n * ROW}H${right}`"
          stroke="#171717"
          stroke-width="2"
          :stroke-dasharray="`${3 + n * 0.2} ${Math.max(1.5, one.aperture_um / 22)}`"
        />
        <rect
          :x="LEFT + 3"
          :y="40 + n * ROW - stays[n]! * 0.3"
          :width="right - LEFT - 6"
          :height="stays[n]! * 0.3"
          fill="#1d545c"
          fill-opacity=".75"
        />
        <text :x="LEFT - 10" :y="36 + n * ROW" text-anchor="end" font-weight="600">
          {{ one.aperture_um }} µm
        </text>
        <text
          v-if="one.astm"
          :x="LEFT - 10"
          :y="17 + n * ROW"
          text-anchor="end"
          font-size="13"
          fill="#565656"
        >
          no. {{ one.astm }}
        </text>
        <text :x="right + 12" :y="36 + n * ROW">
          {{ digits(stays[n]!, 1) }} % stay,
          <tspan font-weight="600">{{ digits(one.percent, 1) }} %</tspan>
          pass
        </text>
      </g>
      <path
        :d="`M${LEFT} ${8 + sieved.passing.length * ROW}v40H${right}v-40`"
        fill="none"
        stroke="#171717"
        stroke-width="3"
      />
      <rect
        :x="LEFT + 3"
        :y="46 + sieved.passing.length * ROW - stays.at(-1)! * 0.3"
        :width="right - LEFT - 6"
        :height="stays.at(-1)! * 0.3"
        fill="#1d545c"
        fill-opacity=".75"
      />
      <text :x="LEFT - 10" :y="38 + sieved.passing.length * ROW" text-anchor="end" font-weight="600">
        pan
      </text>
      <text :x="right + 12" :y="38 + sieved.passing.length * ROW">{{ digits(stays.at(-1)!, 1) }} %</text>
    </svg>
    <p>
      Half of it lies below <strong>{{ size(sieved.d50_um) }}</strong>, a tenth below
      {{ size(sieved.d10_um) }}, nine tenths below {{ size(sieved.d90_um)
      }}<template v-if="sieved.loss_fraction != null"
        >; <span class="figure">{{ digits(100 * sieved.loss_fraction, 1) }}</span> % lost on the way</template
      >.
    </p>
  </section>
</template>
