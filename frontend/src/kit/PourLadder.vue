<script setup lang="ts">
/** The pours in order: cumulative marks on one measure of oil, and what to pour next. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { grams, massUnit } from './format'

type Rung = {
  cumulative_g: number
  /** Not known of a pour by eye until the bottle is weighed. */
  step_g?: number | null
  state?: string
  told?: Schemas['Told'] | null
}
const props = defineProps<{ rungs: Rung[]; pouredG?: number }>()

/** Spoons and drops want room for words, and stand further left. */
const told = computed(() => props.rungs.some((rung) => rung.told))
const left = computed(() => (told.value ? 8 : 40))
const top = computed(() => Math.max(props.rungs.at(-1)?.cumulative_g ?? 1, props.pouredG ?? 0) * 1.04)
const low = computed(() => Math.min(props.rungs[0]?.cumulative_g ?? 0, props.pouredG || Infinity))
/** The first rung stands a third up, so that the small steps above it can be told apart. */
function y(value: number): number {
  const first = low.value
  const at =
    value <= first ? (value / first) * 0.34 : 0.34 + ((value - first) / (top.value - first || 1)) * 0.62
  return 190 - at * 180
}
const spaced = computed(() => {
  let last = 215
  return props.rungs.map((rung, n) => {
    // No label above the picture, and 24 between two.
    const highest = 12 + 24 * (props.rungs.length - 1 - n)
    last = Math.max(highest, Math.min(y(rung.cumulative_g), last - 24))
    return { rung, y: y(rung.cumulative_g), text: last }
  })
})
const said = computed(() =>
  props.rungs
    .map(
      (r, n) =>
        `${n + 1}: ${r.state === 'done' ? 'poured' : 'pour'} ` +
        (r.told ? r.told.words : r.step_g == null ? 'by eye' : `${grams(r.step_g)} ${massUnit()}`) +
        (r.step_g == null ? '' : ` to ${grams(r.cumulative_g)} ${massUnit()} in all`) +
        (r.state === 'next' ? ', next' : ''),
    )
    .join('. '),
)
</script>

<template>
  <svg
    :viewBox="told ? '0 0 352 208' : '0 0 300 208'"
    class="w-full max-w-[22rem]"
    role="img"
    :aria-label="`Pour ladder. ${said}`"
  >
    <path :d="`M${left} 8V190H${left + 34}V8`" fill="#fff" stroke="#171717" stroke-width="2" />
    <rect
      v-if="pouredG"
      :x="left + 1"
      :y="y(pouredG)"
      width="32"
      :height="Math.max(0, 189 - y(pouredG))"
      fill="#9a9a9a"
    />
    <g v-for="({ rung, y: at, text }, n) in spaced" :key="n">
      <path
        :d="`M${left - 6} ${at}H${left + 38}L${left + 46} ${text}H${left + 52}`"
        fill="none"
        :stroke="rung.state === 'next' ? '#1d545c' : '#171717'"
        :stroke-width="rung.state === 'next' ? 3.5 : 1.4"
        :stroke-dasharray="rung.state === 'to_come' ? '3 3' : undefined"
      />
      <text
        v-if="rung.told"
        x="62"
        :y="text + 5"
        font-size="14.5"
        :font-weight="rung.state === 'next' ? 650 : 400"
      >
        {{ n ? 'then ' : '' }}{{ rung.told.words }}
        <tspan v-if="rung.state === 'done'" dx="4" font-size="14" fill="#565656">poured</tspan>
        <tspan v-else-if="rung.state === 'next'" dx="4" font-size="14" fill="#1d545c" font-weight="650">
          next
        </tspan>
      </text>
      <text
        v-else
        x="176"
        :y="text + 5"
        text-anchor="end"
        class="figure"
        font-size="17"
        :font-weight="rung.state === 'next' ? 600 : 400"
      >
        <template v-if="rung.step_g != null">{{ grams(rung.cumulative_g) }} {{ massUnit() }}</template>
      </text>
      <text v-if="!rung.told" x="186" :y="text + 5" font-size="14" fill="#565656">
        <tspan class="figure">{{ rung.step_g == null ? 'by eye' : `+${grams(rung.step_g)}` }}</tspan>
        <tspan v-if="rung.state === 'done'" dx="6">poured</tspan>
        <tspan v-else-if="rung.state === 'next'" dx="6" fill="#1d545c" font-weight="650">next</tspan>
      </text>
    </g>
    <text :x="left + 17" y="205" text-anchor="middle" font-size="13" fill="#565656">oil in all</text>
  </svg>
</template>
