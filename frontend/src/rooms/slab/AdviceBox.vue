<script setup lang="ts">
/** What to do now: one line, one tap; and what to beware of at this moment. */
import { computed } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { day, digits } from '@/kit/format'
import HowMuch from '@/kit/HowMuch.vue'
import DoubtBox from './DoubtBox.vue'
import { inGrams, read } from './tap'
import { clockSpan } from './timer'

const props = defineProps<{
  view: Schemas['SlabView']
  tap?: string
  left: number
  refusal?: Refused
  busy?: boolean
}>()
defineEmits<{
  tapped: []
  amend: [id: string, measure: Schemas['AmountAsked']]
  answer: [answer: Schemas['DoubtAnswer'], about?: string]
  missed: []
}>()
const advice = computed(() => props.view.advice)
const open = computed(() => props.view.status === 'open')
</script>

<template>
  <div class="border-2 border-ink bg-sheet p-4" data-part="advice">
    <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
      <div class="min-w-64 flex-1">
        <p class="text-[2.1rem] leading-[1.1] font-semibold">
          {{ advice.line
          }}<template v-if="advice.grams != null"
            >&ensp;<span v-if="view.advice_told">{{
              advice.act === 'additive' ? '' : view.advice_told.words
            }}</span
            ><span v-else class="figure whitespace-nowrap">{{
              advice.act === 'additive' && advice.grams < 5
                ? `${digits(advice.grams, 2)} g`
                : read(inGrams(advice.grams))
            }}</span></template
          >
          <template v-if="advice.act === 'mull_on'"
            >&ensp;<span class="figure whitespace-nowrap">{{ clockSpan(left) }}</span
            >{{ ' ' }}<span class="text-xl font-normal">to go</span></template
          >
        </p>
        <p v-if="view.advice_told && advice.grams != null && !view.advice_told.figures" class="small quiet">
          about <span class="figure">{{ read(inGrams(advice.grams)) }}</span>
        </p>
        <p class="mt-1">{{ advice.reason }}</p>
        <HowMuch :told="advice.grams != null ? view.advice_told : null" />
      </div>
      <button
        v-if="tap"
        type="button"
        class="btn btn-main btn-slab min-w-52 px-6 text-xl max-lg:hidden!"
        :disabled="busy"
        @click="$emit('tapped')"
      >
        {{ tap }}
      </button>
    </div>
    <p v-if="view.eye_says && open" class="small quiet mt-2">{{ view.eye_says }}</p>
    <p v-if="view.use_by && open" class="mt-2 border-l-4 border-stop pl-3">
      <strong>It spoils.</strong> Use by {{ day(view.use_by) }}; keep it cold and closed.
    </p>
    <p v-if="view.shortage" class="mt-2 border-l-4 border-stop pl-3">
      <strong>It will not reach.</strong> {{ view.shortage }}
    </p>
    <DoubtBox
      v-if="view.doubt && open"
      :doubt="view.doubt"
      :timeline="view.timeline"
      :busy="busy"
      @amend="(id, measure) => $emit('amend', id, measure)"
      @answer="(answer, about) => $emit('answer', answer, about)"
      @missed="$emit('missed')"
    />
    <p v-if="view.dusty && open" class="mt-2 border-l-4 border-ink pl-3">
      <strong>Mask on</strong> until the curds are wet and no dust is left.
    </p>
    <p v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
  </div>
</template>
