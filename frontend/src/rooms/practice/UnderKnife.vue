<script setup lang="ts">
/** The practice mark, the task, and the paste under the knife as it is at this moment. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import Paste from '@/kit/Paste.vue'
import KnifeLift from './KnifeLift.vue'

const props = defineProps<{
  view: Schemas['SlabView']
  practice: Schemas['PracticeNow']
  running: boolean
  leftSeconds: number
  /** Something is open below: on a phone the task makes room for it. */
  covered: boolean
}>()
const emit = defineEmits<{ seen: [view: Schemas['SlabView']] }>()
/** While the muller runs, a second here is half a minute at the practice slab. */
const QUICK_S = 30
const busy = ref(false)
async function pass(seconds: number): Promise<void> {
  if (busy.value || seconds <= 0) return
  busy.value = true
  try {
    const params = { path: { number: props.view.number } }
    emit('seen', await answered(api.POST('/api/practice/{number}/pass', { params, body: { seconds } })))
  } catch {
    // The clock goes on by itself; the next second tries again.
  } finally {
    busy.value = false
  }
}
useIntervalFn(() => {
  if (props.running && props.view.status === 'open')
    void pass(Math.min(QUICK_S, Math.max(0.5, props.leftSeconds - 0.5)))
}, 1000)
async function showAdvice(): Promise<void> {
  const params = { path: { number: props.view.number } }
  emit('seen', await answered(api.POST('/api/practice/{number}/advice', { params })))
}
const open = computed(() => props.view.status === 'open')
</script>

<template>
  <section class="border border-rule bg-sheet" aria-labelledby="practice">
    <div class="flex flex-wrap items-baseline gap-x-4 border-b border-line px-4 py-2">
      <h2 id="practice" class="text-base">
        <span class="mr-2 bg-ink px-2 py-0.5 text-white">Practice</span>{{ practice.name }}
      </h2>
      <p class="small quiet flex-1 max-sm:hidden">no stock, no record, nothing is learned from it</p>
      <button v-if="open && !practice.advised" type="button" class="btn btn-quiet -my-2" @click="showAdvice">
        Show Niddy's advice
      </button>
    </div>
    <div class="grid items-center gap-x-6 gap-y-2 p-4 pt-3 sm:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div class="flex min-h-40 justify-center">
        <KnifeLift v-if="practice.seen" :seen="practice.seen" :colour="view.masstone_srgb" />
        <Paste v-else stage="powder" :colour="view.masstone_srgb" :size="230" />
      </div>
      <div>
        <ul v-if="practice.seen" class="mb-2 text-lg leading-snug" aria-live="polite">
          <li v-for="line in practice.seen.says" :key="line">{{ line }}</li>
        </ul>
        <p v-if="practice.answer" class="mb-2 border-l-4 border-act pl-3 font-semibold" role="status">
          {{ practice.answer }}
        </p>
        <p :class="covered ? 'max-sm:hidden' : ''">{{ practice.task }}</p>
        <p v-if="practice.known" class="font-semibold">{{ practice.known }}</p>
        <p class="small quiet" :class="covered ? 'max-sm:hidden' : ''">
          <span class="figure">{{ digits(view.pigments[0]!.in_g, 1) }}</span> g of powder<template
            v-if="practice.exercise === 'overshot'"
            >, of which a gram costs
            <span class="figure">{{ digits(practice.powder_price, 2) }}</span> here</template
          >; paste number <span class="figure">{{ practice.seed }}</span>
        </p>
        <p v-if="running && leftSeconds > 0" class="mt-1 flex flex-wrap items-center gap-3">
          <span class="small">Time runs thirty times as fast while you mull.</span>
          <button type="button" class="btn" :disabled="busy" @click="pass(leftSeconds + 1)">
            To the end of its minutes
          </button>
        </p>
      </div>
    </div>
  </section>
</template>
