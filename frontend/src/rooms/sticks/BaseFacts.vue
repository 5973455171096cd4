<script setup lang="ts">
/** A base in figures: parts drawn by share, how hard it is, how hot it wants to be, what it costs. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'

const props = defineProps<{ base: Schemas['BaseShown']; tight?: boolean }>()
const GREYS = ['#4a4a4a', '#7d7d7d', '#a8a8a8', '#c9c9c9', '#5e5e5e', '#929292', '#b9b9b9', '#dadada']
const bars = computed(() => {
  let x = 0
  return props.base.parts.map((part, n) => {
    const bar = { part, x, width: part.share_pct, fill: GREYS[n % GREYS.length]! }
    x += part.share_pct
    return bar
  })
})
</script>

<template>
  <div>
    <svg
      viewBox="0 0 100 9"
      preserveAspectRatio="none"
      class="h-7 w-full border border-ink"
      role="img"
      :aria-label="base.parts.map((p) => `${digits(p.share_pct, 0)} ${p.name}`).join(', ')"
    >
      <rect
        v-for="bar in bars"
        :key="bar.part.wax_key"
        :x="bar.x"
        y="0"
        :width="bar.width"
        height="9"
        :fill="bar.fill"
      />
    </svg>
    <ul class="mb-3">
      <li v-for="bar in bars" :key="bar.part.wax_key" class="hairline flex items-baseline gap-2 py-1">
        <span class="h-3 w-3 shrink-0 self-center" :style="{ background: bar.fill }" aria-hidden="true" />
        <span class="figure w-10 text-right font-semibold">{{ digits(bar.part.share_pct, 0) }}</span>
        <span class="min-w-0 flex-1"
          >{{ bar.part.name }}<span v-if="!tight" class="quiet small block">{{ bar.part.note }}</span></span
        >
        <span class="small quiet text-right whitespace-nowrap"
          >dent {{ digits(bar.part.penetration_dmm, bar.part.penetration_dmm < 2 ? 1 : 0) }},
          {{ digits(bar.part.melting_low_c, 0) }} to {{ digits(bar.part.melting_high_c, 0) }} °C</span
        >
      </li>
    </ul>
    <div class="grid grid-cols-2 gap-x-6 gap-y-3">
      <FigureValue :figure="base.dent" size="big" />
      <FigureValue v-if="base.measured_dent" :figure="base.measured_dent" size="big" />
      <p v-else class="small quiet self-center">No reading yet: a drop pressed at the pot is the first.</p>
      <p class="leading-tight">
        <span class="small quiet block">Melt to</span
        ><span class="figure text-3xl font-semibold">{{ digits(base.melt_c, 0) }}</span> °C<span
          class="small block"
          :class="base.too_hot ? 'text-stop' : 'quiet'"
          >{{
            base.too_hot
              ? 'a part of it melts above 120 °C: not here'
              : base.water_bath
                ? 'a water bath will do'
                : 'above a water bath: dry heat, thermometer in'
          }}</span
        >
      </p>
      <p class="leading-tight">
        <span class="small quiet block">Pour and hold at about</span
        ><span class="figure text-3xl font-semibold"
          >{{ digits(base.pour_low_c, 0) }} to {{ digits(base.pour_high_c, 0) }}</span
        >
        °C<span class="small quiet block">with half of it oil (assumed)</span>
      </p>
      <p class="leading-tight">
        <span class="small quiet block">Costs</span
        ><template v-if="base.price_per_kg != null"
          ><span class="figure text-xl font-semibold">{{ Number(base.price_per_kg).toFixed(2) }}</span> a
          kg</template
        ><span v-else class="quiet">no price for every wax</span>
      </p>
      <p class="leading-tight">
        <span class="small quiet block">Sticks of it dent</span
        ><template v-if="base.readings"
          ><span class="figure text-xl font-semibold"
            >{{ digits(100 * (Math.exp(base.offset_ln) - 1), 0) }} %</span
          >
          {{ base.offset_ln < 0 ? 'less' : 'more' }} than expected<span class="small quiet block"
            >by {{ base.readings }} readings</span
          ></template
        ><span v-else class="quiet">worked out; read one to know</span>
      </p>
    </div>
  </div>
</template>
