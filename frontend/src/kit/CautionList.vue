<script setup lang="ts">
/**
 * Cautions where the risk is, the worst first: whole the first time, then one line each with the rest behind a touch;
 * ordinary ones are folded into one line once they were read on this device. All with the usual deference.
 */
import { useElementVisibility, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ cautions: Schemas['Caution'][]; always: string; deference: string }>()

const seen = useLocalStorage<Record<string, number>>('niddy-cautions-read', {})
/** What was read before this screen opened. */
const before = { ...seen.value }
const section = ref<HTMLElement | null>(null)
const onScreen = useElementVisibility(section)
let counted = false
watch([onScreen, () => props.cautions], () => {
  if (!onScreen.value || counted || !props.cautions.length) return
  counted = true
  for (const { key } of props.cautions) seen.value[key] = (seen.value[key] ?? 0) + 1
})
const opened = ref(new Set<string>())
const isLong = (key: string) => !before[key] || opened.value.has(key)
const ordinary = computed(() => props.cautions.filter((one) => one.grade === 1 && before[one.key]))
const folded = ref(true)
const shown = computed(() =>
  folded.value ? props.cautions.filter((one) => !ordinary.value.includes(one)) : props.cautions,
)
function turn(key: string): void {
  if (!opened.value.delete(key)) opened.value.add(key)
}
</script>

<template>
  <section ref="section" aria-label="Cautions">
    <h2 class="mb-1">Take care</h2>
    <ul class="space-y-2 text-[0.95rem]">
      <li v-for="one in shown" :key="one.key" class="flex gap-2.5">
        <svg viewBox="0 0 22 22" class="mt-0.5 h-5 w-5 shrink-0" aria-hidden="true">
          <path
            v-if="one.grade === 3"
            d="M1 11 11 1l10 10-10 10z M11 6v6.500M11 14.500v2"
            fill="#fff"
            stroke="#8f1d14"
            stroke-width="2"
          />
          <circle
            v-else
            cx="11"
            cy="11"
            r="4"
            :fill="one.grade === 2 ? '#171717' : '#fff'"
            stroke="#171717"
            stroke-width="1.5"
          />
        </svg>
        <p v-if="isLong(one.key)">
          <strong :class="one.grade === 3 ? 'text-stop' : ''">{{ one.title }}</strong>
          <span class="quiet"> ({{ one.because.join(', ') }}). </span>
          {{ one.long }}
        </p>
        <button
          v-else
          type="button"
          class="-my-2 min-h-12 flex-1 py-2 text-left"
          :class="one.grade === 3 ? 'font-semibold text-stop' : ''"
          @click="turn(one.key)"
        >
          {{ one.short }} <span class="underline underline-offset-4">more</span>
        </button>
      </li>
      <li v-if="ordinary.length">
        <button
          type="button"
          class="btn btn-quiet small -ml-2"
          :aria-expanded="!folded"
          @click="folded = !folded"
        >
          {{ folded ? `Also: ${ordinary.map((one) => one.title.toLowerCase()).join(', ')}` : 'Fewer' }}
        </button>
      </li>
    </ul>
    <p class="small mt-2">{{ always }}</p>
    <p class="small mt-1 font-semibold">{{ deference }}</p>
  </section>
</template>
