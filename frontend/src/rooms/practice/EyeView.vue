<script setup lang="ts">
/** Every paste that was named, against what it was; body by body; and what the slab makes of it. */
import { useQuery } from '@tanstack/vue-query'
import { scaleLinear } from 'd3-scale'
import { computed } from 'vue'
import { answered, api } from '@/api/client'
import { useWidth } from '@/kit/width'
import EyePanel from './EyePanel.vue'
import { useBegin, useMaker } from './room'

const maker = useMaker()
const { data: page } = useQuery({
  queryKey: ['practice', 'eye', maker],
  queryFn: () => answered(api.GET('/api/practice/eye', { params: { query: { maker: maker.value } } })),
})
const { begin, busy } = useBegin()
const width = useWidth()
const scale = computed(() => page.value?.eye.scale ?? [])
const [LEFT, TOP, FOOT] = [96, 14, 300]
const x = computed(() =>
  scaleLinear()
    .domain([scale.value[0]?.stiff_edge ?? 1, scale.value.at(-1)?.soft_edge ?? 0])
    .range([LEFT, width.value - 12]),
)
/** The width of tube body is what "one too stiff" means on the way up. */
const body = computed(() => {
  const tube = scale.value.find((one) => one.body === 'tube')
  return tube ? tube.stiff_edge - tube.soft_edge : 1
})
const y = computed(() =>
  scaleLinear()
    .domain([2.4 * body.value, -2.4 * body.value])
    .range([TOP, FOOT]),
)
const inside = (off: number) => Math.max(-2.4 * body.value, Math.min(2.4 * body.value, off))
const TICKS = [
  [2, 'two stiffer'],
  [1, 'one stiffer'],
  [0, 'right'],
  [-1, 'one softer'],
  [-2, 'two softer'],
] as const
</script>

<template>
  <div v-if="page" class="grid gap-x-10 gap-y-6 pt-6 lg:grid-cols-[1fr_21rem]">
    <div>
      <RouterLink class="underline" to="/practice">Practice</RouterLink>
      <h1 class="mt-1">{{ page.eye.maker ? `The eye of ${page.eye.maker}` : 'Your eye' }}</h1>
      <template v-if="page.named.length">
        <p class="quiet mb-2">
          Each dot is a paste you named: above the line you called it stiffer than it was, below softer.
        </p>
        <div ref="box" class="w-full">
          <svg
            :viewBox="`0 0 ${width} 344`"
            class="block w-full"
            height="344"
            role="img"
            :aria-label="`${page.named.length} pastes named. ${page.eye.says}`"
            font-size="14"
          >
            <rect
              :x="LEFT"
              :y="y(page.eye.bias + page.eye.sd)"
              :width="width - 12 - LEFT"
              :height="y(page.eye.bias - page.eye.sd) - y(page.eye.bias + page.eye.sd)"
              fill="#8f1d14"
              fill-opacity=".1"
            />
            <g v-for="[tick, name] in TICKS" :key="tick">
              <path
                :d="`M${LEFT} ${y(tick * body)}H${width - 12}`"
                :stroke="tick ? '#d5d5d5' : '#171717'"
                :stroke-width="tick ? 1 : 1.5"
              />
              <text :x="LEFT - 8" :y="y(tick * body) + 5" text-anchor="end">
                {{ name }}
              </text>
            </g>
            <path
              v-for="one in scale.slice(0, -1)"
              :key="one.body"
              :d="`M${x(one.soft_edge)} ${TOP}V${FOOT}`"
              stroke="#8a8a8a"
              stroke-dasharray="2 3"
            />
            <text
              v-for="(one, n) in scale"
              :key="`name-${one.body}`"
              :x="x((one.stiff_edge + one.soft_edge) / 2)"
              :y="FOOT + (n % 2 ? 36 : 20)"
              text-anchor="middle"
            >
              {{ one.body }}
            </text>
            <path
              :d="`M${LEFT} ${y(page.eye.bias)}H${width - 12}`"
              stroke="#8f1d14"
              stroke-width="2.500"
              stroke-dasharray="8 4"
            />
            <circle
              v-for="(one, n) in page.named"
              :key="n"
              :cx="x(one.true_reduced_pvc)"
              :cy="y(inside(one.off))"
              r="5"
              fill="#171717"
              fill-opacity=".75"
            />
          </svg>
        </div>
        <table class="mt-4 w-full max-w-xl">
          <thead class="small quiet text-left">
            <tr>
              <th class="font-normal">It was</th>
              <th class="pl-4 text-right font-normal">called so</th>
              <th class="pl-4 text-right font-normal">called stiffer</th>
              <th class="pl-4 text-right font-normal">called softer</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in page.bodies" :key="one.body" class="hairline">
              <th class="py-1 text-left font-semibold">{{ one.body }}</th>
              <td class="figure pl-4 text-right text-lg">{{ one.right }}</td>
              <td class="figure pl-4 text-right text-lg">{{ one.stiffer || '' }}</td>
              <td class="figure pl-4 text-right text-lg">{{ one.softer || '' }}</td>
            </tr>
          </tbody>
        </table>
      </template>
      <template v-else>
        <p class="mt-2 text-lg">No paste was named yet.</p>
        <button
          type="button"
          class="btn btn-main btn-slab mt-3 px-6"
          :disabled="busy"
          @click="begin('judging', maker)"
        >
          Name forty pastes
        </button>
      </template>
    </div>
    <EyePanel :eye="page.eye" whole />
  </div>
</template>
