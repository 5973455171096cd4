<script setup lang="ts">
/** Filling and sealing, step by step, in the way one does it. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{
  ways: readonly Schemas['WayToFill'][]
  jar: boolean
  beware: readonly string[]
}>()
const way = useLocalStorage<Schemas['FillingWay']>('niddy-filling-way', 'knife')
const steps = computed(() => {
  if (props.jar) return props.ways.find((w) => w.jar)?.steps ?? []
  return (props.ways.find((w) => w.way === way.value && !w.jar) ?? props.ways[0])?.steps ?? []
})
</script>

<template>
  <section aria-labelledby="steps">
    <h2 id="steps" class="text-lg">Filling and sealing</h2>
    <p v-if="beware.length" class="my-2 border-l-4 border-stop pl-3">
      <strong class="text-stop">{{ beware.join('; ') }}.</strong> Gloves on, wipe wet and keep the wipes for
      licensed disposal; the safety data sheet comes first.
    </p>
    <div v-if="!jar" class="my-2 flex flex-wrap gap-1.5" role="group" aria-label="Way to fill">
      <button
        v-for="choice in ways.filter((w) => !w.jar)"
        :key="choice.way"
        type="button"
        class="btn px-3 text-[0.95rem]"
        :class="way === choice.way ? 'bg-ink! text-white' : ''"
        :aria-pressed="way === choice.way"
        @click="way = choice.way"
      >
        {{ choice.name }}
      </button>
    </div>
    <ol>
      <li v-for="(step, n) in steps" :key="step" class="hairline flex gap-3 py-2.5">
        <span class="figure quiet text-xl">{{ n + 1 }}</span><span class="text-lg leading-snug">{{
          step
        }}</span>
      </li>
    </ol>
    <p class="small quiet mt-2">
      <template v-if="!jar"
        >Room at the end and folds are of the tube's kind: to the mark, or a fixed length.
      </template>
      <RouterLink class="underline" to="/workshop">Workshop</RouterLink>
    </p>
  </section>
</template>
