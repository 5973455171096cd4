<script setup lang="ts">
/** Today in at most five lines; all of the day, what was done and what comes later stand behind it. */
import { computed, ref } from 'vue'
import ColourChip from '@/kit/ColourChip.vue'
import { clockOf, dateSaid, useDay } from './room'

const MOST = 5
const props = defineProps<{ said: string[] }>()
const { day } = useDay(ref(undefined))
const onShelf = (page: string) => page.startsWith('/shelf')
/** What is on the slab, or asks for attention, stands there already: of the shelf one by one, or all of it at once. */
const lines = computed(() =>
  (day.value?.lines ?? []).filter(
    (line) =>
      line.status !== 'going' &&
      !props.said.includes(line.page) &&
      !(onShelf(line.page) && props.said.some((page) => page.startsWith('/shelf?'))),
  ),
)
const more = computed(() => Math.max(0, lines.value.length - MOST) + (day.value?.left_over.length ?? 0))
</script>

<template>
  <section v-if="day" aria-labelledby="today">
    <h2 id="today" class="mb-1 text-xl">Today, {{ dateSaid(day.on_date) }}</h2>
    <p v-if="!lines.length" class="quiet">Nothing else is on today.</p>
    <ol v-else aria-label="Today">
      <li v-for="line in lines.slice(0, MOST)" :key="line.key" class="hairline">
        <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="line.page"
          ><span class="figure w-14 shrink-0">{{ clockOf(line.start_min ?? 0) }}</span
          ><ColourChip v-if="line.masstone_srgb" class="h-7 w-9" :colour="line.masstone_srgb" /><span
            class="min-w-0 flex-1 leading-tight"
            ><span class="quiet">{{ line.what }}</span
            >{{ ' ' }}<strong class="font-semibold">{{ line.name }}</strong></span
          ></RouterLink
        >
      </li>
    </ol>
    <p class="mt-2 flex flex-wrap gap-2">
      <RouterLink class="btn" to="/day">{{
        more ? `All of the day: ${more} more` : 'All of the day'
      }}</RouterLink>
      <RouterLink class="btn btn-quiet" to="/batches">Finished lately</RouterLink>
    </p>
  </section>
</template>
