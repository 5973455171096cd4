<script setup lang="ts">
/** What is in the pot beside what was planned. */
import { digits } from '@/kit/format'
import type { View } from './pot'
import { DRIES } from './room'

defineProps<{ view: View }>()
</script>

<template>
  <section aria-labelledby="in-pot">
    <h2 id="in-pot" class="mb-1">In the pot</h2>
    <ul>
      <li v-for="m in view.materials" :key="m.source" class="hairline flex items-baseline gap-2 py-1">
        <span class="min-w-0 flex-1"
          >{{ m.name }}{{ ' ' }}<span v-if="m.code" class="small quiet">{{ m.code }}</span></span
        >
        <span
          ><span class="figure font-semibold">{{ digits(m.in_g, 1) }}</span
          ><span v-if="m.planned_g" class="quiet figure"> of {{ digits(m.planned_g, 1) }}</span> g</span
        >
      </li>
    </ul>
    <p v-if="view.volume_ml != null" class="small quiet mt-1">
      <span class="figure text-ink">{{ digits(view.volume_ml, 0) }}</span> ml for {{ view.moulds.join(', ')
      }}<template v-if="view.pigment_pct"
        >; <span class="figure text-ink">{{ digits(view.pigment_pct, 0) }}</span> % pigment by
        weight</template
      ><template v-if="view.dries">; {{ DRIES[view.dries] }}</template>
    </p>
    <p v-if="view.status === 'open' && view.pour_factor > 1" class="small quiet">
      Wax shrinks: hold {{ digits(100 * (view.pour_factor - 1), 0) }} % back to top up with.
    </p>
  </section>
</template>
