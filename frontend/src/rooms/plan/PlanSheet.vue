<script setup lang="ts">
/** The plan on one clean sheet of paper; seen only when printed. */
import type { Schemas } from '@/api/client'
import { digits, grams, massUnit, minutes, spread } from '@/kit/format'
import WettingScale from '@/kit/WettingScale.vue'

defineProps<{ plan: Schemas['Plan']; name: string }>()
</script>

<template>
  <article class="hidden print:block" aria-label="Plan for printing">
    <h1 class="text-2xl">{{ name || plan.name }}</h1>
    <p>
      {{ plan.name }} in {{ plan.oil.name
      }}<template v-if="plan.oil.lot_code">, bottle {{ plan.oil.lot_code }}</template
      >; body {{ plan.body }}
    </p>
    <table class="my-3 w-full border-collapse text-left">
      <tbody>
        <tr
          v-for="line in plan.lines"
          :key="line.pigment.name + line.pigment.lot_code"
          class="border-t border-ink"
        >
          <th class="py-1 font-semibold">
            {{ line.told ? 'Take' : 'Weigh' }} {{ line.pigment.name
            }}<template v-if="line.pigment.lot_code">, lot {{ line.pigment.lot_code }}</template>
          </th>
          <td class="figure py-1 text-right text-xl">
            {{ grams((line.wet ?? line.mass).value) }} {{ massUnit() }}
          </td>
          <td class="py-1 pl-4">{{ line.told?.words ?? '' }}</td>
        </tr>
        <tr v-for="line in plan.additives" :key="line.name" class="border-t border-ink">
          <th class="py-1 font-semibold">
            {{ line.moment === 'last' ? 'Stir in last' : 'Weigh' }} {{ line.name }}
          </th>
          <td class="figure py-1 text-right text-xl">
            {{ line.weigh.value < 5 ? digits(line.weigh.value, 2) : grams(line.weigh.value) }}
            {{ massUnit() }}
          </td>
          <td class="py-1 pl-4">{{ line.drops ? `about ${digits(line.drops, 0)} drops` : '' }}</td>
        </tr>
        <tr v-for="(rung, n) in plan.rungs" :key="rung.quantile" class="border-t border-line">
          <th class="py-1 font-normal">{{ n === 0 ? 'Pour first' : 'then, if too stiff' }}</th>
          <td class="figure py-1 text-right">{{ grams(rung.step_g) }} {{ massUnit() }}</td>
          <td class="figure py-1 pl-4">
            <template v-if="rung.told">{{ rung.told.words }}; </template>{{ grams(rung.cumulative_g) }}
            {{ massUnit() }} in all
            <span class="font-sans">&nbsp;&#9633;</span>
          </td>
        </tr>
      </tbody>
    </table>
    <WettingScale :scale="plan.scale" />
    <p class="my-3">
      Paint <span class="figure">{{ digits(plan.volume.value, 1) }}</span> ml, density
      <span class="figure">{{ digits(plan.density.value, 2) }}</span> g/ml, oil expected
      <span class="figure">{{ spread(plan.oil_mass) }}</span> g<template v-if="plan.loads && plan.minutes"
        >; <span class="figure">{{ digits(plan.loads.value, 0) }}</span> loads on {{ plan.bench?.slab_name }},
        about {{ minutes(plan.minutes.value) }}</template
      >.
      <template v-if="plan.tubes.length"
        >Tubes: {{ plan.tubes.map((t) => `${t.count} x ${t.name}`).join(', ') }}.</template
      >
    </p>
    <h2 class="font-semibold">Take care</h2>
    <ul class="list-disc pl-5">
      <li v-for="caution in plan.cautions" :key="caution.key">
        {{ caution.title }} ({{ caution.because.join(', ') }}). {{ caution.long }}
      </li>
    </ul>
    <p>{{ plan.caution_always }} {{ plan.caution_deference }}</p>
  </article>
</template>
