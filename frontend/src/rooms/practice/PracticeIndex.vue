<script setup lang="ts">
/** The practice slab: nine exercises, how one does at each, and one's eye. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { moment } from '@/kit/format'
import EyePanel from './EyePanel.vue'
import { throwAway, useBegin, useMaker, usePractice } from './room'
import TriesChart from './TriesChart.vue'

const maker = useMaker()
const { data: room, isError } = usePractice(maker)
const { begin, busy, refusal } = useBegin()
const queries = useQueryClient()
const named = ref(maker.value)
let pause: ReturnType<typeof setTimeout> | undefined
watch(named, (now) => {
  clearTimeout(pause)
  pause = setTimeout(() => (maker.value = now.trim()), 400)
})
/** The same paste as somebody else's, by its number. */
const seed = ref<number | ''>('')
/** Whoever begins is known at once, however fast one taps. */
function start(exercise: Schemas['Exercise']): void {
  maker.value = named.value.trim()
  void begin(exercise, maker.value, seed.value === '' ? {} : { seed: Number(seed.value) })
}
const next = computed(() => room.value?.exercises.find((one) => one.about.exercise === room.value!.next))
const goOn = (one: Schemas['AtExercise']) =>
  one.about.exercise === 'judging' ? `/practice/judging/${one.open_number}` : `/practice/${one.open_number}`
async function away(number: number): Promise<void> {
  await throwAway(number)
  await queries.invalidateQueries({ queryKey: ['practice'] })
}
</script>

<template>
  <p v-if="isError && !room" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; look at its window.
  </p>
  <div v-else-if="room" class="grid gap-x-10 gap-y-6 pt-6 lg:grid-cols-[1fr_21rem]">
    <div>
      <div class="flex flex-wrap items-end gap-x-6 gap-y-3">
        <div class="min-w-64 flex-1">
          <h1>Practice slab</h1>
          <p class="quiet">A made-up paste under your own hands: it costs no pigment to pour too much.</p>
        </div>
        <label class="small"
          >Who practises<input
            v-model="named"
            class="field mt-1 block w-40"
            maxlength="40"
            placeholder="name or initials"
            list="practice-makers"
            autocomplete="off" /><datalist id="practice-makers">
            <option v-for="name in room.makers.filter(Boolean)" :key="name" :value="name" /></datalist
        ></label>
      </div>
      <button
        v-if="next && next.open_number == null"
        type="button"
        class="btn btn-main btn-slab mt-4 px-6 text-xl"
        :disabled="busy"
        @click="start(next.about.exercise)"
      >
        Begin: {{ next.about.name.toLowerCase() }}
      </button>
      <RouterLink v-else-if="next" class="btn btn-main btn-slab mt-4 px-6 text-xl" :to="goOn(next)"
        >Go on: {{ next.about.name.toLowerCase() }}</RouterLink
      >
      <p v-if="refusal && !refusal.at('seed')" class="refusal" role="alert">{{ refusal.words }}</p>
      <ol class="mt-4">
        <li
          v-for="(one, n) in room.exercises"
          :key="one.about.exercise"
          class="hairline grid grid-cols-[2rem_1fr_auto] items-center gap-x-3 gap-y-1 py-2.5"
        >
          <span class="figure text-2xl">{{ n + 1 }}</span>
          <div class="min-w-0">
            <h2 class="text-lg">{{ one.about.name }}</h2>
            <p class="quiet leading-snug">{{ one.about.goes_wrong }}</p>
          </div>
          <div class="flex flex-wrap items-center justify-end gap-x-3 gap-y-1">
            <div v-if="one.tries.length" class="text-right max-sm:hidden">
              <TriesChart :tries="one.tries" :judging="one.about.exercise === 'judging'" />
              <p class="small quiet">{{ one.says }}</p>
            </div>
            <template v-if="one.open_number != null">
              <RouterLink class="btn" :to="goOn(one)"
                >Go on<span class="small quiet"> begun {{ moment(one.open_since!) }}</span></RouterLink
              >
              <button type="button" class="btn btn-quiet" @click="away(one.open_number)">Throw away</button>
            </template>
            <button
              v-else
              type="button"
              class="btn min-w-24"
              :disabled="busy"
              :aria-label="`Begin: ${one.about.name}`"
              @click="start(one.about.exercise)"
            >
              {{ one.done ? 'Again' : 'Begin' }}
            </button>
          </div>
        </li>
      </ol>
      <details class="mt-3">
        <summary class="min-h-12 py-3 font-semibold">The same paste as somebody else</summary>
        <label class="small"
          >Number of the paste<input
            v-model.number="seed"
            class="field figure mt-1 block w-40"
            type="number"
            min="0"
            max="999999"
            :aria-invalid="!!refusal?.at('seed')"
        /></label>
        <span v-if="refusal?.at('seed')" class="refusal" role="alert">{{ refusal.at('seed') }}</span>
        <p class="small quiet">
          It stands beside the paste of every practice. Then begin the exercise above.
        </p>
      </details>
      <p class="small quiet mt-3">
        Bars are how far the oil ended from the middle, the shorter the better; filled ones ended in the body
        wanted. Powders and their ranges are the library's, approximate; each lot is drawn at random.
      </p>
    </div>
    <EyePanel :eye="room.eye" />
  </div>
</template>
