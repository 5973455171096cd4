<script setup lang="ts">
/** What washing back saved: litres, grams, paint, money; month by month. */
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'

const props = defineProps<{ saved: Schemas['Saved'] }>()
const queries = useQueryClient()
const price = ref<number | null>(
  props.saved.bought_tube_price == null ? null : Number(props.saved.bought_tube_price),
)
const said = ref('')
async function keep(): Promise<void> {
  said.value = ''
  try {
    await answered(api.PUT('/api/sludge/tube-price', { body: { bought_tube_price: price.value } }))
    void queries.invalidateQueries({ queryKey: ['sludge'] })
  } catch (problem) {
    said.value =
      problem instanceof Refused
        ? (problem.at('bought_tube_price') ?? problem.words)
        : 'The server does not answer; what you typed is kept.'
  }
}
const most = computed(() => Math.max(1, ...props.saved.months.map((m) => m.solvent_ml)))
const mostG = computed(() => Math.max(1, ...props.saved.months.map((m) => m.cake_g)))
const short = (month: string) =>
  new Date(`${month}-15T12:00:00Z`).toLocaleDateString('en-GB', { month: 'short' })
</script>

<template>
  <section aria-labelledby="saved">
    <h2 id="saved" class="mb-1 text-lg">Saved so far</h2>
    <div class="grid grid-cols-2 gap-x-6 gap-y-2">
      <p>
        <span class="figure text-2xl font-semibold">{{ digits(saved.solvent_ml / 1000, 2) }}</span> l
        <span class="quiet small block">solvent used again</span>
      </p>
      <p>
        <span class="figure text-2xl font-semibold">{{ digits(saved.cake_g, 0) }}</span> g
        <span class="quiet small block"
          >of dry cake, about {{ digits(saved.paint_ml, 0) }} ml of paint (assumed)</span
        >
      </p>
      <p v-if="saved.money" class="col-span-2">
        <span class="figure text-2xl font-semibold">{{ Number(saved.money).toFixed(2) }}</span>
        {{ saved.currency }}
        <span class="quiet small block"
          ><template v-if="saved.solvent_money"
            >{{ Number(saved.solvent_money).toFixed(2) }} for solvent</template
          ><template v-if="saved.solvent_money && saved.paint_money">, </template
          ><template v-if="saved.paint_money"
            >{{ Number(saved.paint_money).toFixed(2) }} for paint</template
          ></span
        >
      </p>
    </div>
    <svg
      v-if="saved.months.length > 1"
      :viewBox="`0 0 ${Math.max(saved.months.length, 6) * 30 + 4} 104`"
      class="mt-2 max-h-40 w-full"
      role="img"
      aria-label="Month by month: solvent used again above, dry cake below"
      font-size="10"
    >
      <g v-for="(month, n) in saved.months" :key="month.month" :transform="`translate(${n * 30 + 2} 0)`">
        <rect
          x="3"
          width="20"
          :y="50 - (44 * month.solvent_ml) / most"
          :height="(44 * month.solvent_ml) / most"
          fill="#777777"
        />
        <text x="13" y="63" text-anchor="middle">{{ short(month.month) }}</text>
        <rect x="3" y="68" width="20" :height="(32 * month.cake_g) / mostG" fill="#171717" />
      </g>
    </svg>
    <p v-if="saved.months.length > 1" class="small quiet">
      above: solvent used again, up to {{ digits(most, 0) }} ml a month; below: dry cake, up to
      {{ digits(mostG, 0) }} g
    </p>
    <form class="mt-2 flex items-end gap-3" @submit.prevent="keep">
      <NumberField
        v-model="price"
        class="w-56"
        :label="`A bought ${digits(saved.bought_tube_ml, 0)} ml tube costs, ${saved.currency}`"
        :refusal="said || undefined"
      />
      <button class="btn">Keep</button>
    </form>
  </section>
</template>
