<script setup lang="ts">
/** The clean-up of a batch just finished: one tap each, or none. What was ticked stays ticked on this device. */
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import SlabClean from '@/rooms/day/SlabClean.vue'
import RinseIntoCan from '@/rooms/sludge/RinseIntoCan.vue'
import { useSludge } from '@/rooms/sludge/room'

const props = defineProps<{
  number: number
  steps: Schemas['CleaningStep'][]
  dirty: boolean
  endedAt: string
  now: string
}>()
const HOURS = 12
/** Until the cans have come, what stands below them would move under the finger. */
const { isPending: cansToCome } = useSludge()
const kept = useLocalStorage<Record<string, string[] | 'put away'>>('niddy-cleaned', {})
const mine = computed(() => kept.value[props.number])
const done = computed(() => (Array.isArray(mine.value) ? mine.value : []))
const fresh = computed(
  () => Date.parse(props.now) - Date.parse(props.endedAt) < HOURS * 3_600_000 && mine.value !== 'put away',
)
function tick(key: string): void {
  const next = done.value.includes(key) ? done.value.filter((k) => k !== key) : [...done.value, key]
  kept.value = { ...kept.value, [props.number]: next }
}
const putAway = () => (kept.value = { ...kept.value, [props.number]: 'put away' })
</script>

<template>
  <section v-if="fresh" class="border-2 border-ink bg-sheet p-4" aria-labelledby="cleanup">
    <div class="flex flex-wrap items-baseline gap-x-4">
      <h2 id="cleanup" class="flex-1 text-xl">Clean up</h2>
      <button type="button" class="btn btn-quiet" @click="putAway">
        {{ done.length === steps.length ? 'All clean: put the list away' : 'Put the list away' }}
      </button>
    </div>
    <ul class="mt-1 grid gap-x-8 lg:grid-cols-2">
      <li v-for="step in steps" :key="step.key" class="hairline">
        <label
          class="flex min-h-14 items-center gap-3 py-1.5 leading-snug"
          :class="done.includes(step.key) ? 'quiet' : ''"
          ><input
            type="checkbox"
            class="h-7 w-7 shrink-0 accent-act"
            :checked="done.includes(step.key)"
            @change="tick(step.key)"
          /><span
            ><strong v-if="step.strict" class="text-stop">Important: </strong>{{ step.text }}</span
          ></label
        >
        <RinseIntoCan
          v-if="step.key === 'rinse'"
          :batch="number"
          :now="now"
          @rinsed="done.includes(step.key) || tick(step.key)"
        />
      </li>
    </ul>
    <SlabClean v-if="!cansToCome" class="mt-2" :batch="number" :dirty="dirty" />
    <p class="small quiet mt-2">Follow the safety data sheet, local codes and licensed disposal.</p>
  </section>
</template>
