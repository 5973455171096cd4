<script setup lang="ts">
/** What is asked: an entry as it is made, beside its field; or looks and log that contradict each other. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'

const props = defineProps<{
  doubt: Schemas['DoubtNow']
  timeline: readonly Schemas['TimelineEntry'][]
  busy?: boolean
}>()
const emit = defineEmits<{
  amend: [id: string, measure: Schemas['AmountAsked']]
  answer: [answer: Schemas['DoubtAnswer'], about?: string]
  missed: []
}>()
const suspect = computed(() => props.timeline.find((entry) => entry.id === props.doubt.suspect))
const slips = computed(() => (props.doubt.suspect ? (props.doubt.slips ?? []) : []))
/** The entry as it was typed, to be put right where it stands. */
const typed = computed(() => suspect.value?.measure as Schemas['AmountAsked'] | null | undefined)
const unit = computed(() => typed.value?.unit ?? 'g')
const amount = ref<number | null>(null)
watch(
  () => props.doubt.suspect,
  () => (amount.value = typed.value?.amount ?? null),
  { immediate: true },
)
const another = computed(
  () => amount.value != null && amount.value > 0 && amount.value !== typed.value?.amount,
)
const right = (slip: Schemas['SlipNow']) =>
  emit('amend', props.doubt.suspect!, { unit: slip.unit, amount: slip.amount })
</script>

<template>
  <section class="mt-3 border-l-4 border-stop pl-3" aria-label="What does not fit">
    <template v-if="doubt.of_entry">
      <p class="mb-2 text-lg">{{ doubt.says }}</p>
      <div class="flex flex-wrap items-end gap-3">
        <button
          v-for="slip in slips"
          :key="slip.says"
          type="button"
          class="btn btn-slab btn-main h-auto! min-h-18 py-2 text-left"
          :disabled="busy"
          @click="right(slip)"
        >
          {{ slip.says }}
        </button>
        <button
          type="button"
          class="btn btn-slab"
          :class="slips.length ? '' : 'btn-main'"
          :disabled="busy"
          @click="emit('answer', 'as_entered', doubt.suspect ?? undefined)"
        >
          Yes, keep it
        </button>
        <form
          v-if="typed?.amount != null"
          class="flex items-end gap-2"
          @submit.prevent="another && emit('amend', doubt.suspect!, { ...typed, amount })"
        >
          <NumberField v-model="amount" label="Or it is" :unit="unit.replaceAll('_', ' ')" />
          <button type="submit" class="btn btn-slab" :disabled="busy || !another">Put it right</button>
        </form>
      </div>
      <p class="small quiet mt-2">Nothing is advised from this amount until you say.</p>
    </template>
    <template v-else>
      <p v-if="suspect && slips.length" class="mb-2">
        <strong>{{ slips[0]!.says }}</strong> {{ suspect.text
        }}<template v-if="suspect.grams != null"
          >, <span class="figure">{{ digits(suspect.grams, suspect.grams < 5 ? 2 : 1) }}</span> g</template
        >.
      </p>
      <div class="flex flex-wrap gap-3">
        <button
          v-if="suspect && slips.length"
          type="button"
          class="btn btn-main"
          :disabled="busy"
          @click="right(slips[0]!)"
        >
          Yes: put it right
        </button>
        <button type="button" class="btn" :disabled="busy" @click="emit('missed')">
          An entry is missing
        </button>
        <button type="button" class="btn" :disabled="busy" @click="emit('answer', 'looks_aside')">
          I looked wrongly
        </button>
        <button type="button" class="btn" :disabled="busy" @click="emit('answer', 'believe_eye')">
          It does look like that
        </button>
      </div>
      <p class="small quiet mt-2">
        Another powder than planned? Give the batch up and plan it anew. Answer this, or Niddy learns nothing
        from this batch.
      </p>
    </template>
  </section>
</template>
