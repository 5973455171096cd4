<script setup lang="ts">
/** Looks and log contradict each other: each answer leads to the act that settles it. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{
  doubt: Schemas['DoubtNow']
  timeline: readonly Schemas['TimelineEntry'][]
  busy?: boolean
}>()
defineEmits<{
  amend: [id: string, measure: Schemas['AmountAsked']]
  answer: [answer: Schemas['DoubtAnswer']]
  missed: []
}>()
const suspect = computed(() => props.timeline.find((entry) => entry.id === props.doubt.suspect))
</script>

<template>
  <section class="mt-3 border-l-4 border-stop pl-3" aria-label="What does not fit">
    <p v-if="suspect" class="mb-2">
      <strong>Another unit?</strong> {{ doubt.suspect_says }}: {{ suspect.text }}.
    </p>
    <div class="flex flex-wrap gap-3">
      <button
        v-if="suspect"
        type="button"
        class="btn btn-main"
        :disabled="busy"
        @click="$emit('amend', suspect.id, doubt.suspect_measure!)"
      >
        Yes: put it right
      </button>
      <button type="button" class="btn" :disabled="busy" @click="$emit('missed')">An entry is missing</button>
      <button type="button" class="btn" :disabled="busy" @click="$emit('answer', 'looks_aside')">
        I looked wrongly
      </button>
      <button type="button" class="btn" :disabled="busy" @click="$emit('answer', 'believe_eye')">
        It does look like that
      </button>
    </div>
    <p class="small quiet mt-2">
      Another powder than planned? Give the batch up and plan it anew. Until this is answered the batch
      teaches nothing of its powder.
    </p>
  </section>
</template>
