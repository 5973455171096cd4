<script setup lang="ts">
/** What comes of a plan: six figures that matter, what to beware of, and all else folded under them. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import CautionList from '@/kit/CautionList.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { digits, grams, massUnit, minutes } from '@/kit/format'
import PourLadder from '@/kit/PourLadder.vue'
import { MOMENTS } from '@/rooms/additives/choices'
import WeighOnce from '@/rooms/materials/WeighOnce.vue'
import Term from '@/kit/Term.vue'

const props = defineProps<{ plan: Schemas['Plan']; supplies: Schemas['Supply'][] }>()
defineEmits<{ narrowed: [] }>()
const short = computed(() => props.supplies.filter((supply) => !supply.suffices))
const without = computed(() => props.plan.facts.habit?.how !== 'scale')
const out = computed(() => (without.value ? 'Take' : 'Weigh out'))
/** The whole oil as one pours it, where there is no scale. */
const strict = computed(() => props.plan.cautions.some((caution) => caution.grade === 3))
</script>

<template>
  <div>
    <div class="grid gap-x-8 gap-y-5 xl:grid-cols-[1fr_19rem]">
      <div>
        <div
          class="grid grid-cols-2 items-start gap-x-6 gap-y-4 sm:grid-cols-3"
          aria-label="The plan in short"
        >
          <div class="space-y-2">
            <FigureValue
              v-for="line in plan.lines"
              :key="line.pigment.name + line.pigment.lot_code"
              :figure="line.wet ?? line.mass"
              :told="line.told"
              :label="plan.lines.length > 1 ? `${out} ${line.pigment.name.toLowerCase()}` : out"
              :size="plan.lines.length > 1 ? 'big' : 'huge'"
            />
          </div>
          <FigureValue :figure="plan.first_pour" :told="plan.rungs[0]?.told" size="huge" />
          <FigureValue :figure="plan.oil_to_pour ?? plan.oil_mass" :told="plan.oil_told" size="huge" />
          <FigureValue :figure="plan.volume" size="big" />
          <FigureValue v-if="plan.loads" :figure="plan.loads" label="Loads" size="big" />
          <div v-if="plan.minutes">
            <FigureValue :figure="plan.minutes" size="big" />
            <p v-if="plan.tidying" class="small quiet mt-1">
              and {{ minutes(plan.tidying.value) }} to set up and clean
            </p>
          </div>
        </div>
        <ul v-if="plan.remarks?.length || plan.grit" class="mt-4 space-y-1 border-l-4 border-act pl-3">
          <li v-for="remark in plan.remarks" :key="remark">{{ remark }}</li>
          <li v-if="plan.grit">{{ plan.grit }}</li>
        </ul>
        <WeighOnce
          v-if="without"
          class="mt-4"
          :lines="plan.lines"
          :oil="plan.oil"
          @weighed="$emit('narrowed')"
        />
        <ul v-if="plan.additives.length" class="mt-3" aria-label="Additives to weigh">
          <li
            v-for="line in plan.additives"
            :key="line.name"
            class="hairline flex flex-wrap items-baseline gap-x-5 py-1.5"
          >
            <FigureValue class="w-36" :figure="line.weigh" size="big" />
            <span class="min-w-48 flex-1"
              ><template v-if="line.drops"
                ><span class="figure">{{ digits(line.drops, 0) }}</span> drops, </template
              >{{ MOMENTS[line.moment]
              }}<template v-if="line.oil_in_gel_g > 0.005"
                >; <span class="figure">{{ grams(line.oil_in_gel_g) }}</span> {{ massUnit() }} of it is oil,
                off the pours</template
              >. <span class="quiet">{{ line.dosing.additive.note }}</span><strong
                v-if="line.over_ceiling"
                class="block text-stop"
                >Above its ceiling: a trial.</strong
              ><strong v-if="line.says" class="block text-stop">{{ line.says }}</strong></span
            >
          </li>
        </ul>
        <ul v-if="short.length" class="mt-3 border-l-4 border-stop pl-3">
          <li v-for="supply in short" :key="supply.source">
            <strong>Not enough:</strong> {{ supply.name }}, lot {{ supply.lot_code }} holds
            <span class="figure">{{ grams(supply.on_hand_g ?? 0) }}</span> {{ massUnit() }};
            <span class="figure">{{ grams(supply.needed_g) }}</span> {{ massUnit() }} may be needed.
          </li>
        </ul>
        <p class="mt-3">
          <template v-if="plan.pigment_and_oil_only"
            >The label may say <strong class="font-semibold">pigment and oil only</strong>.</template
          ><template v-else>The label says what else is in it.</template
          ><template v-if="plan.keeps_days">
            <strong class="text-stop"
              >Keeps {{ plan.keeps_days }} days, cold and closed; then it is thrown away.</strong
            ></template
          >
        </p>
      </div>
      <div>
        <h2><Term of="pour">Pour ladder</Term></h2>
        <p class="small quiet">Pour the first at once. After each: mull, look, stop when it is right.</p>
        <PourLadder :rungs="plan.rungs.map((r, n) => ({ ...r, state: n ? 'to_come' : 'next' }))" />
      </div>
    </div>
    <details id="cautions" class="mt-4 border-y border-line py-1" :open="strict">
      <summary class="flex min-h-12 flex-wrap items-center gap-x-3 py-1" aria-label="In short, take care">
        <strong>Take care</strong>
        <span
          v-for="caution in plan.cautions"
          :key="caution.key"
          :class="caution.grade === 3 ? 'font-semibold text-stop' : ''"
          >{{ caution.title.toLowerCase() }}</span
        >
        <span class="small underline">what to do</span>
      </summary>
      <CautionList
        class="pb-3"
        :cautions="plan.cautions"
        :always="plan.caution_always"
        :deference="plan.caution_deference"
      />
    </details>
    <details class="border-b border-line py-1">
      <summary class="flex min-h-12 items-center font-semibold">All figures of this plan</summary>
      <div class="grid grid-cols-2 gap-x-6 gap-y-4 pb-4 sm:grid-cols-4">
        <FigureValue :figure="plan.leftover" up />
        <FigureValue :figure="plan.density" up />
        <FigureValue :figure="plan.ratio" up />
        <FigureValue :figure="plan.oil_absorption" up />
        <FigureValue v-if="plan.load_volume" :figure="plan.load_volume" up />
        <FigureValue v-if="plan.tidying" :figure="plan.tidying" up />
        <FigureValue v-if="plan.fineness" :figure="plan.fineness" up />
        <FigureValue v-if="plan.stiffening" :figure="plan.stiffening" up />
        <FigureValue v-if="plan.touch_dry[1]" :figure="plan.touch_dry[1]" up />
        <FigureValue v-if="plan.film_pvc" :figure="plan.film_pvc" up />
      </div>
      <p v-if="plan.oil_note" class="pb-3">
        The oils together:
        <span class="figure">{{ digits(plan.oil_note.density_g_per_ml, 3) }}</span> g/ml,
        {{ plan.oil_note.says }}; yellowing
        <span class="figure">{{ digits(plan.oil_note.yellowing, 1) }}</span> and film
        <span class="figure">{{ digits(plan.oil_note.film, 1) }}</span> of 5 (assumed).
      </p>
      <p class="pb-3">
        <RouterLink class="underline" to="/additives/body"
          >Body by intent: what an additive could do for it</RouterLink
        >
      </p>
    </details>
    <details class="border-b border-line py-1" aria-labelledby="rules">
      <summary id="rules" class="flex min-h-12 items-center font-semibold">
        How others start, for this pigment
      </summary>
      <table class="mb-3 w-full max-w-2xl text-[0.95rem]">
        <thead>
          <tr class="small quiet text-left">
            <th class="font-normal" scope="col">rule</th>
            <th class="text-right font-normal" scope="col">g per 100 g</th>
            <th class="text-right font-normal" scope="col">oil, {{ massUnit() }}</th>
            <th class="pl-5 font-normal" scope="col">gives</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="rule in plan.rules" :key="rule.key" class="hairline align-baseline">
            <th scope="row" class="py-1.5 pr-2 text-left font-normal">
              <span class="font-semibold">{{ rule.name }}</span><span class="small quiet block">{{
                rule.rule
              }}</span>
            </th>
            <td class="figure py-1.5 pl-4 text-right">{{ digits(rule.oil_g_per_100g, 1) }}</td>
            <td class="figure py-1.5 pl-4 text-right">{{ grams(rule.oil_g) }}</td>
            <td class="py-1.5 pl-5 whitespace-nowrap">
              <span :class="rule.body === plan.body ? 'font-bold' : ''">{{ rule.body }}</span>{{ ' '
              }}<BasisMark press :basis="rule.basis" />
            </td>
          </tr>
        </tbody>
      </table>
    </details>
  </div>
</template>
