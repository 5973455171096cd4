<script setup lang="ts">
/** A recipe's colour in numbers: its batches as read, beside its standard, and a blend as its pigments predict it. */
import { useQuery } from '@tanstack/vue-query'
import { toRef } from 'vue'
import { answered, api } from '@/api/client'
import PaintChip from './PaintChip.vue'
import { dE, wants } from './room'

const props = defineProps<{ recipe: number; names: Record<string, string> }>()
const number = toRef(props, 'recipe')
const { data: colour } = useQuery({
  queryKey: ['mixing', 'recipe', number],
  queryFn: () =>
    answered(api.GET('/api/mixing/recipes/{recipe_id}', { params: { path: { recipe_id: number.value } } })),
})
</script>

<template>
  <section
    v-if="colour && (colour.paints.length || colour.predicted_srgb || colour.missing.length)"
    aria-labelledby="in-numbers"
  >
    <h2 id="in-numbers" class="mb-1">Colour, as read</h2>
    <p v-if="colour.predicted_srgb && colour.off != null" class="mb-2 flex items-center gap-3">
      <PaintChip :masstone="colour.predicted_srgb" /><span
        >by its pigments’ own paints, may be off by
        <span class="figure">{{ dE(colour.off) }}</span> ΔE00</span
      >
    </p>
    <p v-else-if="colour.missing.length" class="small quiet mb-2">
      Read a batch of {{ colour.missing.map((key) => names[key] ?? key).join(' and of ') }} alone, and the
      blend is predicted here.
    </p>
    <ul>
      <li v-for="(paint, n) in colour.paints.slice(0, 6)" :key="paint.id" class="hairline">
        <RouterLink class="flex min-h-14 items-center gap-3 py-1" :to="`/mixing/paints/${paint.id}`"
          ><PaintChip :masstone="paint.srgb" :tint="paint.tint_srgb" /><span
            class="min-w-0 flex-1 leading-snug"
            ><span class="underline underline-offset-4">batch {{ paint.batch_number }}</span
            ><span v-if="wants(paint)" class="small quiet block">{{ wants(paint) }}</span></span
          ><span class="text-right"
            ><template v-if="paint.batch_number === colour.standard">the standard</template
            ><template v-else-if="colour.off_standard[n] != null"
              ><span class="figure font-semibold">{{ dE(colour.off_standard[n]!) }}</span> ΔE00</template
            ></span
          ></RouterLink
        >
      </li>
    </ul>
  </section>
</template>
