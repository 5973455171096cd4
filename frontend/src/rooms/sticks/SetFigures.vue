<script setup lang="ts">
/** One colour of a set in figures: where it lands on the dent scale, what to weigh, how hot, whether it dries. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'
import DentScale, { type Mark } from './DentScale.vue'
import { DRIES } from './room'

const props = defineProps<{ shown: Schemas['ColourShown']; zones: Schemas['DentZone'][]; dent: number }>()
defineEmits<{ dent: [dent: number] }>()
const plan = computed(() => props.shown.plan)
const stick = computed(() => plan.value.stick)
const marks = computed<Mark[]>(() =>
  plan.value.schools
    .filter((s) => s.dent_dmm != null)
    .map((s) => ({ key: s.school, name: s.says, dent: s.dent_dmm! })),
)
const crumbling = computed(() => plan.value.schools.filter((s) => s.dent_dmm == null))
</script>

<template>
  <section aria-labelledby="colour">
    <h2 id="colour" class="mb-1 text-lg">
      {{ plan.name
      }}<span v-if="shown.pigment" class="quiet font-normal"
        >, {{ digits(shown.by_weight_pct, 0) }} % pigment by weight</span
      >
    </h2>
    <DentScale
      :zones="zones"
      :target="dent"
      :low="plan.dent_low_dmm"
      :high="plan.dent_high_dmm"
      :marks="marks"
      movable
      @update:target="$emit('dent', $event)"
    />
    <p v-if="marks.length || crumbling.length" class="small quiet">
      Marks: where the same oil share lands by either school<template v-for="s in crumbling" :key="s.school"
        >; <strong class="text-stop">{{ s.says }} it crumbles</strong></template
      >.
    </p>
    <p v-if="plan.lifting" class="mt-2 border-l-4 border-stop pl-3 font-semibold" role="alert">
      {{ plan.lifting.says }}
    </p>
    <p v-if="shown.base_told" class="small quiet mt-2">
      Base in level spoons of it grated, not pressed down.
    </p>
    <div class="mt-3 grid grid-cols-2 gap-x-8 gap-y-3 sm:grid-cols-3">
      <FigureValue v-if="shown.pigment" :figure="shown.pigment" :told="shown.pigment_told" size="huge" />
      <FigureValue :figure="shown.oil" :told="shown.oil_told" size="huge" />
      <FigureValue :figure="shown.base" :told="shown.base_told" size="huge" />
      <FigureValue :figure="shown.dent" size="big" />
      <p class="leading-tight">
        <span class="small quiet block">Pour at</span
        ><span class="figure text-3xl font-semibold"
          >{{ digits(stick.pour_low_c, 0) }} to {{ digits(stick.pour_high_c, 0) }}</span
        >
        °C<span class="small quiet block"
          >melt to {{ digits(stick.melt_c, 0) }} °C,
          {{ stick.water_bath ? 'a water bath will do' : 'dry heat' }}</span
        >
      </p>
      <p class="leading-tight">
        <span class="small quiet block">Each stick</span
        ><span class="figure text-3xl font-semibold">{{ digits(plan.stick_g, 1) }}</span> g<span
          class="small quiet block"
          >{{ DRIES[stick.dries]
          }}<template v-if="shown.cost_a_stick != null"
            >, costs {{ Number(shown.cost_a_stick).toFixed(2) }}</template
          ></span
        >
      </p>
    </div>
    <ul v-if="shown.remarks.length" class="mt-3 space-y-1">
      <li v-for="remark in shown.remarks" :key="remark" class="border-l-4 border-ink pl-3">{{ remark }}</li>
    </ul>
  </section>
</template>
