<script setup lang="ts">
/** What a lot is and where it came from: a gel's strength, a raw material's formula, the run or can it came of. */
import type { Schemas } from '@/api/client'
import { pretty } from '@/kit/formula'
import { day, digits } from '@/kit/format'
import SuspectMark from './SuspectMark.vue'

defineProps<{ lot: Schemas['LotKept'] }>()
</script>

<template>
  <div class="space-y-6">
    <p v-if="lot.strength != null">
      A gel of <strong class="figure">{{ digits(100 * lot.strength, 1) }} %</strong> strength, from what was
      weighed in<template v-if="lot.use_by"
        >; use by <strong>{{ day(lot.use_by) }}</strong></template
      >. <RouterLink class="underline" to="/additives">Additives</RouterLink>
    </p>
    <p v-if="lot.formula || lot.purity" class="text-lg">
      <template v-if="lot.formula">{{ pretty(lot.formula) }}</template><template v-if="lot.purity"
        ><template v-if="lot.formula">, </template
        ><span class="figure">{{ digits(lot.purity.value, 1) }}</span> % pure
        <span class="quiet small">as entered</span></template
      >
    </p>
    <p v-if="lot.made_in">
      Made here:
      <RouterLink class="underline" :to="`/making/runs/${lot.made_in.run_number}`"
        >run {{ lot.made_in.run_number }}</RouterLink
      >
      of <RouterLink class="underline" :to="`/making/${lot.made_in.process_id}`">its process</RouterLink>
    </p>
    <SuspectMark v-if="lot.unit === 'g'" :lot-id="lot.id" :name="`lot ${lot.code}`" :suspect="lot.suspect" />
    <p v-if="lot.cake">
      A cake of washed brushes:
      {{
        lot.cake.parts
          .slice(0, 3)
          .map((part) => part.name.toLowerCase())
          .join(', ')
      }}<template v-if="lot.cake.parts.length > 3"> and more</template
      ><template v-if="lot.cake.unknown_share > 0.004">, some of it unknown</template
      ><template v-if="lot.liquid_share"
        >; still wet, <strong class="figure">{{ digits(100 * lot.liquid_share, 0) }} %</strong> of it is
        liquid</template
      >.
      <RouterLink class="underline" :to="`/sludge/cakes/${lot.id}`">What is in it, and its colour</RouterLink>
    </p>
  </div>
</template>
