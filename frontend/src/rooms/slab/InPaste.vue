<script setup lang="ts">
/** What is in the paste now, and where that puts it. */
import type { Schemas } from '@/api/client'
import FigureValue from '@/kit/FigureValue.vue'
import { digits, grams, massUnit } from '@/kit/format'

defineProps<{ view: Schemas['SlabView'] }>()
</script>

<template>
  <div
    class="grid grid-cols-2 items-start gap-x-8 gap-y-4 sm:grid-cols-3"
    aria-label="In the paste now"
    role="group"
  >
    <div v-for="material in [...view.pigments, view.oil]" :key="material.source">
      <span class="small quiet block">{{ material.name }} in</span>
      <span class="figure text-3xl font-semibold">{{ grams(material.in_g) }}</span>{{ ' '
      }}<span class="quiet">{{ massUnit() }}</span>
      <span class="small quiet block"
        >plan <span class="figure">{{ grams(material.planned_g) }}</span> {{ massUnit()
        }}<template v-if="material.on_hand_g != null"
          >;
          <template v-if="material.on_hand_g > 0"
            ><span class="figure">{{ grams(material.on_hand_g) }}</span> {{ massUnit() }}</template
          ><template v-else>none</template> left in {{ material.lot_code }}</template
        ><template v-if="material.liquid_share"
          >; still wet, <span class="figure">{{ digits(100 * material.liquid_share, 0) }}</span> % of it
          leaves</template
        ></span
      >
    </div>
    <div v-for="additive in view.additives" :key="additive.source">
      <span class="small quiet block">{{ additive.name }} in</span>
      <span class="figure text-3xl font-semibold">{{
        digits(additive.in_g, additive.planned_g < 5 ? 2 : 1)
      }}</span>{{ ' ' }}<span class="quiet">g</span>
      <span class="small quiet block"
        ><template v-if="additive.left_out">left out</template
        ><template v-else-if="additive.planned_g"
          >plan
          <span class="figure">{{ digits(additive.planned_g, additive.planned_g < 5 ? 2 : 1) }}</span>
          g<template v-if="additive.drops_to_go != null"
            >, <span class="figure">{{ digits(additive.drops_to_go, 0) }}</span> drops to go</template
          ></template
        ><template v-else>not in the plan</template></span
      >
    </div>
    <FigureValue v-if="view.ratio" :figure="view.ratio" size="big" up />
    <div v-if="view.body && view.ratio">
      <span class="small quiet block">Body</span><span class="text-3xl font-semibold">{{ view.body }}</span
      ><span class="small quiet block max-w-60">{{ view.body_says }}</span>
    </div>
    <div v-if="view.volume">
      <FigureValue :figure="view.volume" size="big" up /><span v-if="view.fills" class="small quiet block">{{
        view.fills
      }}</span>
      <span v-if="view.leaving_ml > 0.05" class="small block border-l-4 border-stop pl-2"
        ><span class="figure">{{ digits(view.leaving_ml, 1) }}</span> ml of solvent still leaves: not counted.
        Let it stand open before it is tubed.</span
      >
    </div>
    <FigureValue v-if="view.reduced_pvc" :figure="view.reduced_pvc" up />
  </div>
</template>
