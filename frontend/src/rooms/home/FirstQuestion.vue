<script setup lang="ts">
/** An empty studio asks one question: what will you make, and with what do you measure? */
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { useTried } from '@/kit/tried'

/** Each with a drawing in a box of 64 by 48. */
const MAKES = [
  {
    name: 'Tube paint',
    says: 'powder and oil, ground on a slab',
    to: '/plan',
    d: 'M10 14h36l8 6v10l-8 6H10l-4-11z M14 20h24v10H14z',
  },
  {
    name: 'Paint sticks',
    says: 'pigment, oil and wax, cast',
    to: '/sticks',
    d: 'M8 34 44 10l8 10-36 24z M44 10l8-4 4 8-4 6',
  },
  {
    name: 'Colour from sludge',
    says: 'from the brush-washing can',
    to: '/sludge',
    d: 'M16 6v34a4 4 0 0 0 4 4h24a4 4 0 0 0 4-4V6 M17 30h30v13H17z',
  },
  {
    name: 'A pigment',
    says: 'a lake, or a precipitate',
    to: '/making',
    d: 'M24 4h16M26 4v12L12 40a3 3 0 0 0 3 4h34a3 3 0 0 0 3-4L38 16V4 M18 32h28l4 8H14z',
  },
  {
    name: 'A colour chart',
    says: 'what your paints mix to',
    to: '/mixing',
    d: 'M8 8h14v14H8zM25 8h14v14H25zM42 8h14v14H42zM8 26h14v14H8zM25 26h14v14H25zM42 26h14v14H42z',
  },
  {
    name: 'Just practise',
    says: 'a made-up paste; nothing is lost',
    to: '/practice',
    d: 'M6 42c8-18 44-18 52 0z M22 26 50 6l4 6-28 20z',
  },
] as const
const WAYS: [Schemas['Measuring'], string][] = [
  ['scale', 'A scale'],
  ['spoons', 'Spoons and drops'],
  ['eye', 'By eye'],
]
const { data: workshop } = useWorkshop()
const queries = useQueryClient()
const measuring = computed(() => workshop.value?.settings.measuring ?? 'scale')
const { trouble, tried } = useTried('nothing was changed')
const measure = (how: Schemas['Measuring']) =>
  tried(async () => {
    await answered(
      api.PUT('/api/workshop/settings', {
        body: { ...workshop.value!.settings, measuring: how } as Schemas['SettingsAsked'],
      }),
    )
    await queries.invalidateQueries({ queryKey: ['workshop'] })
  })
</script>

<template>
  <div class="max-w-4xl pt-6">
    <h1 class="mb-4">What will you make?</h1>
    <ul class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <li v-for="make in MAKES" :key="make.name">
        <RouterLink class="btn h-full min-h-36 w-full flex-col justify-center p-3 text-center" :to="make.to"
          ><svg viewBox="0 0 64 48" class="h-14 w-20" aria-hidden="true">
            <path :d="make.d" fill="none" stroke="#171717" stroke-width="2.5" stroke-linejoin="round" /></svg
          ><strong class="mt-2 text-lg leading-tight">{{ make.name }}</strong
          ><span class="quiet small">{{ make.says }}</span></RouterLink
        >
      </li>
    </ul>
    <fieldset v-if="workshop" class="mt-6">
      <legend class="mb-2 text-xl font-semibold">I measure with</legend>
      <div class="grid gap-2 sm:grid-cols-3">
        <button
          v-for="[how, name] in WAYS"
          :key="how"
          type="button"
          class="btn btn-slab"
          :class="measuring === how ? 'bg-ink! text-white' : ''"
          :aria-pressed="measuring === how"
          @click="measure(how)"
        >
          {{ name }}
        </button>
      </div>
      <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    </fieldset>
    <p class="mt-5">
      <RouterLink class="underline underline-offset-4" to="/stock"
        >Or note what stands on your shelf</RouterLink
      >
    </p>
  </div>
</template>
