<script setup lang="ts">
/** Beside the day: what was done, and what falls due in the days after. */
import { day as dated } from '@/kit/format'
import { clockOf, useDay } from './room'
import { ref } from 'vue'

const { day } = useDay(ref(undefined))
</script>

<template>
  <section v-if="day?.done.length" aria-labelledby="done">
    <h2 id="done" class="mb-1 text-lg">Done today</h2>
    <ul>
      <li v-for="line in day.done" :key="`${line.room}-${line.number}`" class="hairline">
        <component
          :is="line.page ? 'RouterLink' : 'span'"
          class="flex min-h-12 items-center gap-3 py-1"
          :to="line.page || undefined"
          ><span class="figure small">{{ clockOf(line.last_min) }}</span
          ><span class="min-w-0 flex-1 leading-tight"
            >{{ line.name }}<span v-if="line.what" class="small quiet">, {{ line.what }}</span></span
          ><span class="small quiet">{{ line.says }}</span></component
        >
      </li>
    </ul>
  </section>
  <section v-if="day?.later.length" aria-labelledby="later">
    <h2 id="later" class="mb-1 text-lg">The days after</h2>
    <ul>
      <li v-for="wait in day.later" :key="`${wait.page}-${wait.what}-${wait.at}`" class="hairline">
        <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="wait.page"
          ><span class="min-w-0 flex-1 leading-tight"
            >{{ wait.name }}<span class="small quiet block">{{ wait.what.toLowerCase() }}</span></span
          ><span class="small">{{ dated(wait.at).slice(0, -5) }}</span></RouterLink
        >
      </li>
    </ul>
  </section>
</template>
