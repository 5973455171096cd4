<script setup lang="ts">
/** Masstone, tint and white over the wavelengths; a press shows absorption and scattering, and how they were got. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

const props = defineProps<{ page: Schemas['PaintPage'] }>()
const c = computed(() => props.page.curves)
const W = 460
const H = 210
const x = (nm: number) => 44 + ((nm - 400) / 300) * (W - 60)
const y = (r: number) => 12 + (1 - Math.min(1, r)) * (H - 46)
const line = (values: number[] | null | undefined) =>
  values?.map((r, n) => `${n ? 'L' : 'M'}${x(c.value.nm[n]!).toFixed(1)} ${y(r).toFixed(1)}`).join('')
const drawn = computed(() =>
  (
    [
      ['white', c.value.white, '5 4', 2],
      ['tint', c.value.tint, '', 2],
      ['masstone', c.value.masstone, '', 3.5],
    ] as const
  ).filter(([, values]) => values),
)
const every = computed(() => c.value.nm.map((_, n) => n).filter((n) => n % 3 === 0))
</script>

<template>
  <div>
    <svg
      :viewBox="`0 0 ${W} ${H}`"
      class="w-full max-w-2xl"
      role="img"
      aria-label="Reflectance from 400 to 700 nm"
    >
      <g stroke="#c9c9c9">
        <path v-for="r in [0, 0.25, 0.5, 0.75, 1]" :key="r" :d="`M44 ${y(r)}H${W - 16}`" />
      </g>
      <g font-size="12" fill="#565656">
        <text v-for="r in [0, 50, 100]" :key="r" x="38" :y="y(r / 100) + 4" text-anchor="end">{{ r }} %</text>
        <text v-for="nm in [400, 500, 600]" :key="nm" :x="x(nm)" :y="H - 14" text-anchor="middle">
          {{ nm }}
        </text>
        <text :x="W - 16" :y="H - 14" text-anchor="end">700 nm</text>
      </g>
      <path
        v-for="[name, values, dash, width] in drawn"
        :key="name"
        :d="line(values)"
        fill="none"
        stroke="#171717"
        :stroke-dasharray="dash"
        :stroke-width="width"
      />
      <text
        v-for="[name, values] in drawn"
        :key="name"
        :x="W - 20"
        :y="y(values!.at(-1)!) - 5"
        text-anchor="end"
        font-size="13"
        font-weight="600"
      >
        {{ name }}
      </text>
    </svg>
    <p v-if="!c.masstone" class="quiet">Nothing read yet; what is mixed with is the library’s swatch.</p>
    <details>
      <summary class="min-h-12 py-3 font-semibold">Absorption and scattering, and how they were got</summary>
      <p class="mb-2 border-l-4 border-act pl-3">
        K/S of each reading is (1 - R)² / 2R, the surface taken off. With a masstone a, a tint b of share c, a
        white k: S = (1 - c)(b - k) / c(a - b), K = a S. The white scatters with 1.
      </p>
      <p class="small quiet mb-2">
        Kubelka and Munk 1931, Duncan 1940, Saunderson 1942. Three figures without a spectrum are mixed as the
        smoothest spectrum that looks like them.
      </p>
      <table class="figure small w-full max-w-md text-right">
        <thead>
          <tr class="font-sans">
            <th class="font-normal">nm</th>
            <th class="font-normal">absorbs K</th>
            <th class="font-normal">scatters S</th>
            <th class="font-normal">white K</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="n in every" :key="n" class="hairline">
            <td>{{ c.nm[n] }}</td>
            <td>{{ digits(c.k[n]!, 3) }}</td>
            <td>{{ digits(c.s[n]!, 3) }}</td>
            <td>{{ c.white_k ? digits(c.white_k[n]!, 4) : '' }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </div>
</template>
