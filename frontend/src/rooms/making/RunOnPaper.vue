<script setup lang="ts">
/** A run on paper: what to weigh and dissolve, what may come of it, vessel, water and waste; each figure opens. */
import type { Schemas } from '@/api/client'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'
import { pretty, prettyEquation } from '@/kit/formula'
import { amount } from './room'

defineProps<{ run: Schemas['RunPaper'] }>()
</script>

<template>
  <div class="space-y-3">
    <p v-if="run.equation" class="text-lg leading-snug" aria-label="Equation">
      {{ prettyEquation(run.equation) }}
    </p>
    <table class="w-full">
      <thead class="small quiet text-left">
        <tr>
          <th class="font-normal" scope="col">weigh</th>
          <th class="text-right font-normal" scope="col">g</th>
          <th class="text-right font-normal" scope="col">into water, ml</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in run.weigh" :key="one.key" class="hairline">
          <th scope="row" class="py-1 text-left font-semibold">{{ one.name || 'not named yet' }}</th>
          <td v-if="one.words" class="py-1 text-right font-semibold">
            {{ one.words }}<span v-if="!one.some" class="small quiet figure block">{{ amount(one.g) }}</span>
          </td>
          <td v-else class="figure py-1 text-right text-xl font-semibold">{{ amount(one.g) }}</td>
          <td class="figure py-1 text-right">{{ one.water_g ? digits(one.water_g, 0) : '' }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="run.cannot">{{ run.cannot }}</p>
    <p v-for="name in run.unasked" :key="name" class="border-l-4 border-stop pl-3">
      No step asks for {{ name || 'what is not named yet' }}.
    </p>
    <p v-if="run.limiting">
      <span class="quiet">Runs out first:</span> {{ pretty(run.limiting)
      }}<template v-for="one in run.left" :key="one.formula"
        ><span class="quiet">; left over:</span> <span class="figure">{{ amount(one.g) }}</span> g
        {{ pretty(one.formula) }}</template
      >
    </p>
    <div class="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-3">
      <FigureValue v-for="figure in run.figures" :key="figure.label" :figure="figure" />
    </div>
    <p v-if="run.waste_holds.length" class="border-l-4 border-stop pl-3">
      The waste may hold {{ run.waste_holds.join(', ') }}: keep all of it for licensed disposal.
    </p>
  </div>
</template>
