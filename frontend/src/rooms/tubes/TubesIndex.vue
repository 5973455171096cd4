<script setup lang="ts">
/** Finished batches with paint still to fill; the way to labels and cost. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { walkKeys } from '@/kit/walk'
import ReleaseMark from '@/rooms/checks/ReleaseMark.vue'
import TubeDrawing from './TubeDrawing.vue'

const router = useRouter()
const { data: kinds } = useQuery({
  queryKey: ['tubes', 'empties'],
  queryFn: () => answered(api.GET('/api/tubes/empties')),
})
const biggest = computed(() => Math.max(1, ...(kinds.value ?? []).map((k) => k.usable_ml)))
const list = ref<HTMLElement | null>(null)
useKeys(() => [
  ...walkKeys(list, 'to fill'),
  { key: 'c', does: 'what it costs', act: () => void router.push('/cost') },
])
const { data: waiting } = useQuery({ queryKey: ['tubes'], queryFn: () => answered(api.GET('/api/tubes')) })
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Tubes<span class="quiet block text-base font-normal"
          >fill, weigh, seal, label; then they stand on the shelf</span
        >
      </h1>
      <RouterLink class="btn btn-slab px-6" to="/cost">What it costs</RouterLink>
      <RouterLink class="btn btn-slab px-6" to="/shelf">The shelf</RouterLink>
    </div>
    <p v-if="waiting && !waiting.length" class="py-6 text-lg">
      No finished batch has paint left to fill. A batch comes here once it is finished at the
      <RouterLink class="underline" to="/slab">slab</RouterLink>.
    </p>
    <ul ref="list">
      <li v-for="batch in waiting ?? []" :key="batch.number" class="hairline">
        <RouterLink
          class="flex min-h-20 items-center gap-4 py-2 hover:bg-sheet"
          :to="`/tubes/${batch.number}`"
        >
          <ColourChip class="h-12 w-20" :colour="batch.masstone_srgb" />
          <span class="flex-1"
            ><strong class="text-lg font-semibold">{{ batch.name }}</strong
            >{{ ' ' }}<span class="quiet">batch {{ batch.number }}</span></span
          >
          <ReleaseMark v-if="batch.release" :release="batch.release as 'release'" /><span v-else class="quiet"
            >not released yet</span
          >
          <span class="w-44 text-right"
            ><span class="figure text-2xl font-semibold">{{ digits(batch.left_ml, 1) }}</span> ml to
            fill</span
          >
        </RouterLink>
      </li>
    </ul>
    <section aria-labelledby="empties" class="mt-8">
      <div class="flex flex-wrap items-baseline gap-5">
        <h2 id="empties" class="flex-1 text-lg">Empty tubes</h2>
        <RouterLink class="underline" to="/stock?kind=tube">Count or receive them</RouterLink
        ><RouterLink class="underline" to="/workshop">Their measures</RouterLink>
      </div>
      <ul class="mt-2 grid gap-x-10 md:grid-cols-3">
        <li v-for="k in kinds ?? []" :key="k.tube_type_id" class="hairline flex items-end gap-4 py-3">
          <span class="flex h-28 w-16 items-end justify-center"
            ><TubeDrawing colour="#fff" :full="0" :height="44 + 68 * Math.cbrt(k.usable_ml / biggest)"
          /></span>
          <span class="min-w-0 flex-1 leading-snug"
            ><strong class="text-lg font-semibold">{{ k.name }}</strong
            ><span class="block"
              ><span class="figure">{{ digits(k.usable_ml, 1) }}</span> ml to its mark</span
            ><span v-if="k.diameter_mm && k.length_mm" class="small quiet block"
              >{{ digits(k.diameter_mm, 1) }} x {{ digits(k.length_mm, 0) }} mm<template
                v-if="k.headspace_mm != null"
                >, {{ digits(k.headspace_mm, 0) }} mm left</template
              ></span
            ><span class="small quiet block"
              ><template v-if="k.tare_g">{{ digits(k.tare_g, 1) }} g empty</template
              ><template v-if="k.folds">, {{ k.folds }} folds</template></span
            ></span
          >
          <span class="text-right"
            ><template v-if="k.empties != null"
              ><span class="figure text-3xl font-semibold">{{ k.empties }}</span
              ><span class="small quiet block">empty</span></template
            ><span v-else class="small quiet block">not kept<br />in stock</span></span
          >
        </li>
      </ul>
      <p v-if="kinds && !kinds.length" class="py-3">
        No tube type is known.
        <RouterLink class="underline" to="/workshop">Name one in the workshop</RouterLink>.
      </p>
    </section>
  </div>
</template>
