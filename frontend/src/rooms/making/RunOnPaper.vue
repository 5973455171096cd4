<script setup lang="ts">
/** A run on paper: what to weigh and dissolve, what may come of it, vessel, water and waste. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import { digits } from '@/kit/format'
import { amount, pretty, prettyEquation } from './room'

const props = defineProps<{ run: Schemas['RunPlan'] }>()
const salts = computed(() => props.run.left_fraction)
const share = (value: number) => (value < 0.001 ? '< 0.1' : digits(100 * value, value < 0.01 ? 2 : 1))
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
          <td class="figure py-1 text-right text-xl font-semibold">{{ amount(one.g) }}</td>
          <td class="figure py-1 text-right">{{ one.water_g ? digits(one.water_g, 0) : '' }}</td>
        </tr>
      </tbody>
    </table>
    <dl class="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-3">
      <div v-if="run.theory_g != null">
        <dt class="small quiet">Theory</dt>
        <dd>
          <span class="figure text-xl font-semibold">{{ amount(run.theory_g) }}</span> g
        </dd>
      </div>
      <div v-if="run.expected_g">
        <dt class="small quiet">Expect <BasisMark :basis="run.expected_g.basis" /></dt>
        <dd>
          <span class="figure text-xl font-semibold">{{ amount(run.expected_g.median) }}</span> g
          <span class="figure small quiet block"
            >{{ amount(run.expected_g.low!) }} to {{ amount(run.expected_g.high!) }}</span
          >
        </dd>
      </div>
      <div v-if="run.limiting">
        <dt class="small quiet">What runs out first</dt>
        <dd class="text-lg">{{ pretty(run.limiting) }}</dd>
      </div>
      <div v-for="one in run.left" :key="one.formula">
        <dt class="small quiet">Left over of {{ pretty(one.formula) }}</dt>
        <dd>
          <span class="figure text-xl">{{ amount(one.g) }}</span> g
        </dd>
      </div>
      <div v-if="run.vessel_ml > 0">
        <dt class="small quiet">Vessel, at least</dt>
        <dd>
          <span class="figure text-xl font-semibold">{{ digits(run.vessel_ml, 0) }}</span> ml
          <span class="small quiet block">for {{ digits(run.liquid_ml, 0) }} ml of liquid</span>
        </dd>
      </div>
      <div v-if="run.gas_l > 0.01">
        <dt class="small quiet">Gas that foams off</dt>
        <dd>
          <span class="figure text-xl">{{ digits(run.gas_l, 1) }}</span> l
        </dd>
      </div>
      <div v-if="run.wash_ml > 0">
        <dt class="small quiet">Washing water</dt>
        <dd>
          <span class="figure text-xl">{{ digits(run.wash_ml, 0) }}</span> ml
          <span v-if="salts != null" class="small quiet block"
            >leaves {{ share(salts) }} % of the salts (assumed)</span
          >
        </dd>
      </div>
      <div v-if="run.waste_ml > 0">
        <dt class="small quiet">Waste</dt>
        <dd>
          <span class="figure text-xl">{{ digits(run.waste_ml, 0) }}</span> ml
          <span v-if="run.waste_holds.length" class="small block font-semibold text-stop"
            >holds {{ run.waste_holds.join(', ').replaceAll('-', ' ') }}: keep it for licensed disposal</span
          >
        </dd>
      </div>
    </dl>
  </div>
</template>
