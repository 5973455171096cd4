<script setup lang="ts">
/** The balance of a can's solvent: what came, what came back, what is there, and what went into the air. */
import { computed } from 'vue'
import { digits } from '@/kit/format'
import type { Can } from './room'

const props = defineProps<{ view: Can }>()
const rows = computed(() => {
  const of = props.view.ledger
  return [
    ['bought', of.bought_ml],
    ['used again', of.recovered_ml],
    ['poured off, waiting in its bottle', of.waiting_ml],
    ['in the can', of.held_ml],
    ['gone with sludge', of.with_sludge_ml],
    ['lost to the air, by weighing', of.lost_ml],
    ['found: more than the ledger knew', of.found_ml],
  ].filter(([, ml], n) => n < 4 || (ml as number) > 0.5) as [string, number][]
})
</script>

<template>
  <section aria-labelledby="balance">
    <h2 id="balance" class="mb-1">Its solvent</h2>
    <div class="flex flex-wrap gap-x-10">
      <table class="min-w-72">
        <tbody>
          <tr v-for="[name, ml] in rows" :key="name" class="hairline">
            <th scope="row" class="py-1 pr-4 text-left font-normal">{{ name }}</th>
            <td class="figure py-1 text-right">{{ digits(ml, 0) }}</td>
            <td class="quiet py-1 pl-1.5">ml</td>
          </tr>
        </tbody>
      </table>
      <p class="max-w-64">
        <template v-if="view.ledger.times_used"
          >Each litre bought was used
          <strong class="figure">{{ digits(view.ledger.times_used, 1) }}</strong> times.</template
        >
        <template v-if="view.ledger.saved">
          That saved <strong class="figure">{{ Number(view.ledger.saved).toFixed(2) }}</strong>
          {{ view.ledger.currency }}.</template
        >
        <span class="block"
          >{{ view.washings }} {{ view.washings === 1 ? 'washing' : 'washings'
          }}<template v-if="view.unlogged"
            >, {{ view.unlogged === view.washings ? '' : `${view.unlogged} with ` }}contents not
            known</template
          >.</span
        >
        <span v-if="!view.price_per_l" class="quiet small block"
          >With what a litre costs, under “Set it right”, it says what was saved.</span
        >
      </p>
    </div>
  </section>
</template>
