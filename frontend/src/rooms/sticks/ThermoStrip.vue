<script setup lang="ts">
/** The thermometer lying down: where the base is molten, the window for pouring, too hot, and what was read. */
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { ago, digits } from '@/kit/format'
import { useWidth } from '@/kit/width'

const props = defineProps<{ strip: Schemas['Strip']; live?: number | null; nowAt: string }>()
const width = useWidth(300, 600)
const LOW = 30
const HIGH = 135
const x = computed(() =>
  scaleLinear()
    .domain([LOW, HIGH])
    .range([8, width.value - 8])
    .clamp(true),
)
const now = computed(() => props.live ?? props.strip.now_c)
/** A reading nobody took of late is shown as what it is: where the pot was, not where it is. */
const stale = computed(() => (now.value == null && props.strip.read_at ? props.strip.last_c : null))
const shown = computed(() => now.value ?? stale.value)
const said = computed(
  () =>
    `Thermometer: pour at ${digits(props.strip.pour_low_c, 0)} to ${digits(props.strip.pour_high_c, 0)} °C, ` +
    `melts at ${digits(props.strip.melt_c, 0)}, never above ${digits(props.strip.most_c, 0)}` +
    (now.value != null ? `; now ${digits(now.value, 0)}` : '') +
    (stale.value != null ? `; ${digits(stale.value, 0)} ${ago(props.strip.read_at!, props.nowAt)}` : ''),
)
</script>

<template>
  <div ref="box" class="w-full">
    <svg :viewBox="`0 0 ${width} 92`" class="block w-full" height="92" role="img" :aria-label="said">
      <rect
        x="8"
        y="30"
        :width="width - 16"
        height="24"
        rx="12"
        fill="#e2e2e2"
        stroke="#171717"
        stroke-width="1.5"
      />
      <rect
        :x="x(strip.pour_low_c)"
        y="30.750"
        :width="Math.max(2, x(strip.pour_high_c) - x(strip.pour_low_c))"
        height="22.500"
        fill="#fff"
      />
      <path
        :d="`M${x(strip.most_c)} 30.75H${width - 20}a11 11 0 0 1 0 22.5H${x(strip.most_c)}z`"
        fill="#8f1d14"
      />
      <path :d="`M${x(strip.melt_c)} 26v32`" stroke="#171717" stroke-width="2" stroke-dasharray="4 3" />
      <path
        :d="`M${x(strip.pour_low_c)} 30v24M${x(strip.pour_high_c)} 30v24`"
        stroke="#1d545c"
        stroke-width="2.500"
      />
      <text
        :x="(x(strip.pour_low_c) + x(strip.pour_high_c)) / 2"
        y="18"
        text-anchor="middle"
        font-size="15"
        fill="#1d545c"
        font-weight="650"
      >
        pour {{ digits(strip.pour_low_c, 0) }} to {{ digits(strip.pour_high_c, 0) }}
      </text>
      <text :x="x(strip.melt_c) + 5" y="18" font-size="14" fill="#171717">
        melt {{ digits(strip.melt_c, 0) }}
      </text>
      <text :x="width - 8" y="18" text-anchor="end" font-size="14" fill="#8f1d14">too hot</text>
      <text
        v-for="t in [40, 60, 80, 100, 120]"
        :key="t"
        :x="x(t)"
        y="72"
        text-anchor="middle"
        class="figure"
        font-size="13"
        fill="#565656"
        :opacity="shown != null && Math.abs(x(t) - x(shown)) < (stale == null ? 30 : 70) ? 0 : 1"
      >
        {{ t }}
      </text>
      <g v-if="shown != null" :transform="`translate(${x(shown)} 0)`">
        <path
          d="M-11 74h22v-8L0 55l-11 11z"
          :fill="stale == null ? '#171717' : '#fff'"
          stroke="#171717"
          :stroke-dasharray="stale == null ? undefined : '3 2'"
        />
        <text
          :x="
            Math.min(Math.max(x(shown), stale == null ? 30 : 90), width - (stale == null ? 30 : 90)) -
            x(shown)
          "
          y="89"
          text-anchor="middle"
          font-size="15"
          :font-weight="stale == null ? 650 : 400"
        >
          {{ digits(shown, 0) }} °C{{ stale == null ? '' : `, ${ago(strip.read_at!, nowAt)}` }}
        </text>
      </g>
    </svg>
  </div>
</template>
