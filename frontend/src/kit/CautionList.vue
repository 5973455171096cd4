<script setup lang="ts">
/** Cautions where the risk is: strict ones gathered by what they ask, all with the usual deference. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ cautions: Schemas['Caution'][]; always: string; deference: string }>()

/** Metals share their text: one entry says it for all of them. */
const gathered = computed(() => {
  const found = new Map<string, { level: string; titles: string[]; text: string; because: Set<string> }>()
  for (const caution of props.cautions) {
    const entry = found.get(caution.text) ?? {
      level: caution.level,
      titles: [],
      text: caution.text,
      because: new Set(),
    }
    entry.titles.push(entry.titles.length ? caution.title.replace(/^Holds /, '') : caution.title)
    caution.because.forEach((name) => entry.because.add(name))
    found.set(caution.text, entry)
  }
  return [...found.values()]
})
</script>

<template>
  <section aria-label="Cautions">
    <h2 class="mb-1">Beware</h2>
    <ul class="space-y-2 text-[0.95rem]">
      <li v-for="entry in gathered" :key="entry.text" class="flex gap-2.5">
        <svg viewBox="0 0 22 22" class="mt-0.5 h-5 w-5 shrink-0" aria-hidden="true">
          <path
            v-if="entry.level === 'strict'"
            d="M1 11 11 1l10 10-10 10z M11 6v6.500M11 14.500v2"
            fill="#fff"
            stroke="#8f1d14"
            stroke-width="2"
          />
          <path
            v-else
            d="M2 11h18M11 2v18"
            stroke="#171717"
            stroke-width="2"
            transform="rotate(45 11 11)"
            opacity=".0"
          />
          <circle v-if="entry.level !== 'strict'" cx="11" cy="11" r="3.5" fill="#171717" />
        </svg>
        <p>
          <strong :class="entry.level === 'strict' ? 'text-stop' : ''">{{
            entry.titles.join(' and ')
          }}</strong>
          <span class="quiet"> ({{ [...entry.because].join(', ') }}). </span>
          {{ entry.text }}
        </p>
      </li>
    </ul>
    <p class="small mt-2">{{ always }}</p>
    <p class="small mt-1 font-semibold">{{ deference }}</p>
  </section>
</template>
