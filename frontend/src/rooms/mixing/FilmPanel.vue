<script setup lang="ts">
/** The thin film of a paint over white and black: how well it hides, at one tap. */
import type { Schemas } from '@/api/client'
import { HIDES, nameOf, type ChartSaid, type Line } from './room'
import Term from '@/kit/Term.vue'

const props = defineProps<{
  film: Schemas['ThinFilm']
  paint: Line
  say: (said: ChartSaid) => Promise<boolean>
  busy?: boolean
}>()
const emit = defineEmits<{ close: [] }>()
const STEPS = Object.entries(HIDES) as [Schemas['Hides'], string][]
/** How much of the black shows through, for the drawing of each step. */
const SHOWS: Record<Schemas['Hides'], number> = { nothing: 0.92, some: 0.55, nearly: 0.16, fully: 0 }
async function keep(hides: Schemas['Hides']): Promise<void> {
  if (await props.say({ kind: 'hides', code: props.film.code, hides })) emit('close')
}
</script>

<template>
  <section class="cell-panel" :aria-label="`Thin film ${film.code}`">
    <div class="flex items-center gap-2">
      <h2 class="flex-1 text-lg">{{ nameOf(paint) }}, scraped thin</h2>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
    <p class="label mt-1">How much of the black does it hide? <Term of="transparency">Transparency</Term></p>
    <div class="grid grid-cols-2 gap-1.5">
      <button
        v-for="[key, words] in STEPS"
        :key="key"
        type="button"
        class="btn min-h-16 flex-col gap-1"
        :class="film.hides === key ? 'border-act! bg-act-wash' : ''"
        :aria-pressed="film.hides === key"
        :disabled="busy"
        @click="keep(key)"
      >
        <span class="flex h-6 w-20 border border-line" aria-hidden="true"
          ><span class="relative flex-1 bg-white"
            ><span
              class="absolute inset-0"
              :style="{ background: paint.srgb, opacity: 1 - SHOWS[key] * 0.6 }" /></span
          ><span class="relative flex-1 bg-black"
            ><span
              class="absolute inset-0"
              :style="{ background: paint.srgb, opacity: 1 - SHOWS[key] }" /></span
        ></span>
        {{ words }}
      </button>
    </div>
  </section>
</template>
