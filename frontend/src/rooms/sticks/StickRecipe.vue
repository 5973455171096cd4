<script setup lang="ts">
/** A recipe of a stick: what it is, the same again with other lots, how alike its pots came out by dent. */
import { useQuery } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { scaleLinear, scaleLog } from 'd3-scale'
import { computed, ref } from 'vue'
import { answered, api, Refused } from '@/api/client'
import { day, digits } from '@/kit/format'
import { VERDICTS } from './room'

const props = defineProps<{ number: number }>()
const { data: page, error } = useQuery({
  queryKey: ['stick-recipe', () => props.number],
  queryFn: () =>
    answered(api.GET('/api/sticks/recipes/{recipe_id}', { params: { path: { recipe_id: props.number } } })),
})
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const W = computed(() => Math.max(340, width.value || 700))
const points = computed(() => page.value?.points ?? [])
const limits = computed(() =>
  page.value?.control
    ? {
        lower: Math.exp(page.value.control.lower),
        upper: Math.exp(page.value.control.upper),
        mean: Math.exp(page.value.control.mean),
      }
    : undefined,
)
const x = computed(() =>
  scaleLinear()
    .domain([0, Math.max(1, points.value.length - 1)])
    .range([60, W.value - 90]),
)
const y = computed(() => {
  const some = [
    page.value?.line.target_dmm ?? 20,
    ...points.value.map((p) => p.dent_dmm),
    ...(limits.value ? [limits.value.lower, limits.value.upper] : []),
  ]
  return scaleLog()
    .domain([Math.min(...some) / 1.15, Math.max(...some) * 1.15])
    .range([190, 20])
})
const signalled = computed(() => new Set((page.value?.control?.signals ?? []).map((s) => s.at)))
const path = computed(() =>
  points.value
    .map((p, n) => `${n ? 'L' : 'M'}${x.value(n).toFixed(1)} ${y.value(p.dent_dmm).toFixed(1)}`)
    .join(''),
)
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no such recipe.</h1>
    <RouterLink class="underline" to="/sticks">All of the sticks</RouterLink>
  </section>
  <div v-else-if="page" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ page.line.name
        }}<span class="quiet block text-base font-normal"
          >{{ page.pigments.join(', ') || 'a blending stick' }}, of
          <RouterLink class="underline" :to="`/sticks/bases/${page.line.base_id}`">{{
            page.line.base_name
          }}</RouterLink>, dent {{ digits(page.line.target_dmm, 0) }}</span
        >
      </h1>
      <RouterLink
        class="btn btn-main btn-slab px-8"
        :to="{ path: '/sticks/plan', query: { recipe: page.line.id } }"
        >Same again</RouterLink
      >
    </div>
    <h2 class="text-lg">How alike its sticks came out</h2>
    <p class="mb-2">{{ page.says }}</p>
    <div ref="box">
      <svg
        v-if="points.length"
        :viewBox="`0 0 ${W} 220`"
        :width="W"
        height="220"
        font-size="14"
        role="img"
        :aria-label="`Dent of ${points.length} pots, wanted ${digits(page.line.target_dmm, 0)}`"
      >
        <g v-if="limits">
          <template
            v-for="[value, name] in [
              [limits.upper, 'upper'],
              [limits.lower, 'lower'],
            ] as const"
            :key="name"
          >
            <path
              :d="`M60 ${y(value)}H${W - 90}`"
              stroke="#1d545c"
              stroke-width="1.800"
              stroke-dasharray="7 4"
            />
            <text :x="W - 84" :y="y(value) + 5" fill="#1d545c">{{ digits(value, 0) }} {{ name }}</text>
          </template>
        </g>
        <path :d="`M60 ${y(page.line.target_dmm)}H${W - 90}`" stroke="#1d545c" stroke-width="3" />
        <text :x="W - 84" :y="y(page.line.target_dmm) + 5" fill="#1d545c">
          {{ digits(page.line.target_dmm, 0) }} wanted
        </text>
        <path :d="path" fill="none" stroke="#171717" stroke-width="1.500" />
        <g v-for="(p, n) in points" :key="p.number">
          <path
            v-if="signalled.has(n)"
            :d="`M${x(n) - 8} ${y(p.dent_dmm)}l8-8 8 8-8 8z`"
            fill="#fff"
            stroke="#8f1d14"
            stroke-width="2"
          />
          <circle :cx="x(n)" :cy="y(p.dent_dmm)" r="4.500" fill="#171717" />
          <text :x="x(n)" :y="y(p.dent_dmm) - 12" text-anchor="middle" class="figure">
            {{ digits(p.dent_dmm, 0) }}
          </text>
        </g>
        <text x="4" y="14" fill="#565656" font-size="13">dent, 0.1 mm</text>
      </svg>
    </div>
    <ul class="mt-3 max-w-2xl">
      <li v-for="p in [...points].reverse()" :key="p.number" class="hairline">
        <RouterLink class="flex min-h-12 items-center gap-4" :to="`/sticks/${p.number}`"
          ><span class="flex-1 underline underline-offset-4">pot {{ p.number }}, {{ day(p.at) }}</span
          ><span>base version {{ p.base_version }}</span
          ><span class="figure w-10 text-right font-semibold">{{ digits(p.dent_dmm, 0) }}</span
          ><strong class="w-24">{{ p.verdict ? VERDICTS[p.verdict] : '' }}</strong></RouterLink
        >
      </li>
    </ul>
  </div>
</template>
