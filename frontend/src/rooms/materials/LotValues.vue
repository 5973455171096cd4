<script setup lang="ts">
/** What is known of a lot, each value with its spread and where it comes from. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'

const props = defineProps<{ lot: Schemas['LotKept']; gives?: Schemas['Gives'] | null }>()
const values = computed(() => {
  const it = props.lot
  const found: { name: string; value: Schemas['Value']; digits: number }[] = []
  if (it.density) found.push({ name: 'Density; a litre weighs as many kg', value: it.density, digits: 3 })
  if (it.loose_density) found.push({ name: 'Loose density, for spoons', value: it.loose_density, digits: 2 })
  if (it.oil_absorption)
    found.push({ name: 'Oil absorption, reference oil', value: it.oil_absorption, digits: 1 })
  if (it.dent) found.push({ name: 'Needle dent', value: it.dent, digits: it.dent.value < 3 ? 1 : 0 })
  if (it.melting) found.push({ name: 'Melts at about', value: it.melting, digits: 0 })
  if (it.drop) found.push({ name: 'One drop', value: it.drop, digits: 4 })
  return found
})
</script>

<template>
  <section v-if="values.length" aria-labelledby="values">
    <h2 id="values" class="mb-1 text-lg">What is known of it</h2>
    <dl>
      <div
        v-for="value in values"
        :key="value.name"
        class="hairline flex min-h-12 flex-wrap items-center gap-x-4"
      >
        <dt class="flex-1">{{ value.name }}</dt>
        <dd>
          <span class="figure text-lg font-semibold">{{ digits(value.value.value, value.digits) }}</span>{{
            ' '
          }}<span class="quiet">{{ value.value.unit }}</span
          ><span v-if="value.value.low != null && value.value.high != null" class="figure small quiet ml-2"
            >{{ digits(value.value.low, value.digits) }} to {{ digits(value.value.high, value.digits) }}</span
          >
        </dd>
        <dd class="w-44 text-right"><BasisMark :basis="value.value.basis" words /></dd>
      </div>
    </dl>
    <div v-if="gives" class="mt-2 flex flex-wrap items-end gap-x-6">
      <FigureValue :figure="gives.paint" />
      <p v-if="gives.tubes && gives.tube_ml" class="pb-1">
        about {{ gives.tubes }} {{ gives.tubes === 1 ? 'tube' : 'tubes' }} of
        {{ digits(gives.tube_ml, 0) }} ml
      </p>
    </div>
    <p v-if="lot.demand_says" class="small quiet">Oil absorption: {{ lot.demand_says }}.</p>
  </section>
</template>
