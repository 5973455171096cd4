<script setup lang="ts">
/** What a check can come to, in drawn choices. */
import type { Kind } from './kinds'

defineProps<{ kind: Kind; choices: string[]; masstone: string; busy?: boolean }>()
defineEmits<{ choose: [choice: string] }>()
/** How each drawn choice looks. */
const DRAWN: Record<string, string> = {
  opaque: '1',
  'semi-opaque': '.82',
  'semi-transparent': '.55',
  transparent: '.28',
}
const SURFACES: Record<string, string> = {
  smooth: 'M8 22q30-4 60 0',
  'fine tooth': 'M8 22l4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3',
  gritty: 'M8 22l5-8 4 8 7-12 3 12 6-7 5 7 4-11 6 11 5-8 4 8 6-6 5 6',
  keeps: 'M8 14h60M8 19h60M8 24h60M8 29h60',
  softens: 'M8 16q30 3 60 0M8 24q30 3 60 0',
  levels: 'M8 22h60',
  wet: 'M38 8q12 14 12 20a12 12 0 0 1-24 0q0-6 12-20z',
  tacky: 'M26 8v10q-4 6-2 14M38 8v26M50 8v10q4 6 2 14',
  'touch-dry': 'M20 22l12 12 26-26',
}
</script>

<template>
  <div class="flex flex-wrap gap-2" role="group" aria-label="It is">
    <button
      v-for="choice in choices"
      :key="choice"
      type="button"
      class="btn btn-slab flex-col gap-1 px-6 py-2"
      :disabled="busy"
      @click="$emit('choose', choice)"
    >
      <svg viewBox="0 0 76 40" width="76" height="40" aria-hidden="true">
        <template v-if="kind === 'transparency'">
          <path d="M4 4h34v32H4z" fill="#171717" />
          <path d="M38 4h34v32H38z" fill="#fff" stroke="#171717" />
          <path d="M8 14q30-6 60 0v14q-30-6-60 0z" :fill="masstone" :fill-opacity="DRAWN[choice]" />
        </template>
        <template v-else>
          <rect x="4" y="4" width="68" height="32" :fill="kind === 'drying' ? '#fff' : masstone" />
          <path
            :d="SURFACES[choice]"
            :fill="choice === 'wet' ? '#9a9a9a' : 'none'"
            :stroke="kind === 'drying' ? '#171717' : '#fff'"
            stroke-width="2"
          />
        </template></svg
      >{{ choice }}
    </button>
  </div>
</template>
