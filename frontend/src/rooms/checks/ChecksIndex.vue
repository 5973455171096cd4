<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answered, api } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day } from '@/kit/format'
import DueList from './DueList.vue'

const { data: due } = useQuery({ queryKey: ['due'], queryFn: () => answered(api.GET('/api/checks/due')) })
const { data: recent } = useQuery({
  queryKey: ['recent-finished'],
  queryFn: () => answered(api.GET('/api/batches', { params: { query: { status: 'finished', limit: 12 } } })),
})
</script>

<template>
  <div class="grid gap-x-12 gap-y-8 pt-5 lg:grid-cols-[1.3fr_1fr]">
    <section aria-labelledby="due">
      <div class="mb-2 flex flex-wrap items-baseline gap-4">
        <h1 id="due" class="flex-1">Checks that wait</h1>
        <a v-if="due?.length" class="btn btn-quiet" href="/api/day/calendar.ics" download
          >All that is due as a calendar</a
        >
      </div>
      <p v-if="due && !due.length" class="quiet max-w-prose">
        Nothing waits. A finished batch of a recipe asks here for what the recipe promises: bleed after a day,
        finger tests as it dries, the rest at once.
      </p>
      <DueList v-if="due" :due="due" />
    </section>
    <section aria-labelledby="others">
      <h2 id="others" class="mb-2 text-lg">Check a batch</h2>
      <ul>
        <li v-for="batch in recent?.batches ?? []" :key="batch.number" class="hairline">
          <RouterLink
            class="flex min-h-14 items-center gap-3 py-1 hover:bg-sheet"
            :to="`/checks/${batch.number}`"
          >
            <ColourChip class="h-9 w-12" :colour="batch.masstone_srgb" />
            <span class="flex-1"
              ><span class="underline decoration-1 underline-offset-4">{{ batch.name }}</span
              >{{ ' '
              }}<span class="quiet small">batch {{ batch.number }}, {{ day(batch.started_at) }}</span></span
            >
          </RouterLink>
        </li>
      </ul>
    </section>
  </div>
</template>
