<script setup lang="ts">
/** A set as a list: casting order with what to weigh, one melt of base, shopping list, cost, cautions. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import { digits } from '@/kit/format'
import { FEELS } from './room'

const props = defineProps<{ planned: Schemas['SetPlanned'] }>()
const ordered = computed(() => props.planned.order.map((n) => props.planned.colours[n]!))
const short = computed(() => props.planned.supplies.filter((s) => !s.suffices))
const DEFERENCE = 'Follow the safety data sheets, local codes and licensed disposal.'
const ALWAYS =
  'Powder is never tipped dry over heat without a mask. Solvent is kept away from the hot pot. ' +
  'Metals rub off on hands: gloves, and a paper sleeve on the stick; not for children.'
</script>

<template>
  <section class="space-y-6" aria-label="The set">
    <div>
      <h2 class="mb-1 text-lg">Cast in this order</h2>
      <div class="overflow-x-auto">
        <table class="w-full">
          <thead>
            <tr class="small quiet text-right">
              <th class="text-left font-normal" scope="col">colour</th>
              <th class="font-normal" scope="col">sticks</th>
              <th class="pl-3 font-normal" scope="col">pigment, g</th>
              <th class="pl-3 font-normal" scope="col">oil, g</th>
              <th class="pl-3 font-normal" scope="col">base, g</th>
              <th class="pl-4 text-left font-normal" scope="col">feels</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(c, n) in ordered" :key="n" class="hairline text-right">
              <th class="py-1.5 text-left font-semibold" scope="row">
                <span
                  class="mr-2 inline-block h-5 w-7 border-2 border-[#bdbdbd] align-middle"
                  :style="{ background: c.plan.masstone_srgb }"
                  aria-hidden="true"
                />{{ c.plan.name
                }}<span v-if="c.plan.strict" class="small ml-1 font-normal text-stop"
                  >last: see the cautions</span
                >
              </th>
              <td class="figure">{{ c.plan.sticks }}</td>
              <td class="figure font-semibold">{{ c.pigment ? digits(c.pigment.value, 1) : 'none' }}</td>
              <td class="figure font-semibold">{{ digits(c.oil.value, 1) }}</td>
              <td class="figure font-semibold">{{ digits(c.base.value, 1) }}</td>
              <td class="pl-4 text-left">{{ FEELS[c.plan.stick.feel] }}</td>
            </tr>
            <tr v-if="ordered.length > 1" class="border-t-2 border-ink text-right">
              <th class="py-1.5 text-left" scope="row">one melt of base, then split by weight</th>
              <td class="figure">{{ planned.sticks }}</td>
              <td class="figure font-semibold">{{ digits(planned.pigment_g, 1) }}</td>
              <td class="figure font-semibold">{{ digits(planned.oil_g, 1) }}</td>
              <td class="figure font-semibold">{{ digits(planned.base_g, 1) }}</td>
              <td></td>
            </tr>
          </tbody>
        </table>
      </div>
      <p class="small quiet">
        Light colours first, hazardous ones last: the pot is wiped between, not washed.
      </p>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-2">
      <div>
        <h2 class="mb-1 text-lg">What it takes</h2>
        <p v-if="short.length" class="mb-1 border-l-4 border-stop pl-3" role="status">
          <strong>Too little in stock:</strong> {{ short.map((s) => s.name).join(', ') }}.
        </p>
        <ul>
          <li
            v-for="s in planned.supplies"
            :key="s.source"
            class="hairline flex flex-wrap items-baseline gap-x-3 py-1"
          >
            <span class="min-w-40 flex-1"
              >{{ s.name }}{{ ' ' }}<span v-if="s.code" class="small quiet">{{ s.code }}</span></span
            >
            <span class="ml-auto text-right leading-tight"
              ><strong v-if="s.told" class="block font-semibold">{{ s.told.words }}</strong
              ><span class="figure" :class="s.told ? 'small quiet' : 'font-semibold'">{{
                digits(s.needed_g, 1)
              }}</span>
              g</span
            >
            <span class="small w-28 text-right" :class="s.suffices ? 'quiet' : 'text-stop'">{{
              s.on_hand_g != null ? `${digits(s.on_hand_g, 0)} g there` : 'no lot kept'
            }}</span>
          </li>
        </ul>
        <p v-if="planned.block && planned.waxes.length" class="small quiet mt-1">
          The base comes from block {{ planned.block.code }}.
        </p>
        <p v-if="planned.cost != null" class="mt-2">
          Materials
          <span class="figure text-xl font-semibold">{{ Number(planned.cost).toFixed(2) }}</span><span
            v-if="planned.cost_missing.length"
            class="small quiet"
          >
            without {{ planned.cost_missing.join(', ') }}: no price known</span
          >
        </p>
      </div>
      <CautionList :cautions="planned.cautions" :always="ALWAYS" :deference="DEFERENCE" />
    </div>
  </section>
</template>
