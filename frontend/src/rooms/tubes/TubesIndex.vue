<script setup lang="ts">
/** Finished batches with paint still to fill; the way to labels and cost. */
import { useQuery } from '@tanstack/vue-query'
import { answered, api } from '@/api/client'
import { digits } from '@/kit/format'
import ReleaseMark from '@/rooms/checks/ReleaseMark.vue'

const { data: waiting } = useQuery({ queryKey: ['tubes'], queryFn: () => answered(api.GET('/api/tubes')) })
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-0 flex-1">Tubes<span class="quiet block text-base font-normal">fill, weigh, seal, label; then they stand on the shelf</span></h1>
      <RouterLink class="btn btn-slab px-6" to="/cost">What it costs</RouterLink>
      <RouterLink class="btn btn-slab px-6" to="/shelf">The shelf</RouterLink>
    </div>
    <p v-if="waiting && !waiting.length" class="py-6 text-lg">No finished batch has paint left to fill. A batch comes here once it is finished at the <RouterLink class="underline" to="/slab">slab</RouterLink>.</p>
    <ul>
      <li v-for="one in waiting ?? []" :key="one.number" class="hairline">
        <RouterLink class="flex min-h-20 items-center gap-4 py-2 hover:bg-sheet" :to="`/tubes/${one.number}`">
          <span class="h-12 w-20 border-4 border-[#bdbdbd]" :style="{ background: one.masstone_srgb }" aria-hidden="true" />
          <span class="flex-1"><strong class="text-lg font-semibold">{{ one.name }}</strong> <span class="quiet">batch {{ one.number }}</span></span>
          <ReleaseMark v-if="one.release" :release="one.release as 'release'" /><span v-else class="quiet">not decided on</span>
          <span class="w-44 text-right"><span class="figure text-2xl font-semibold">{{ digits(one.left_ml, 1) }}</span> ml to fill</span>
        </RouterLink>
      </li>
    </ul>
  </div>
</template>
