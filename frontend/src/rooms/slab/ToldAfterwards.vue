<script setup lang="ts">
/** A batch that was made by eye: what its oil is taken to be, and the way to say it now. */
import type { Schemas } from '@/api/client'
import { grams, massUnit } from '@/kit/format'

defineProps<{ view: Schemas['SlabView'] }>()
defineEmits<{ tell: [] }>()
</script>

<template>
  <section
    class="flex flex-wrap items-center gap-x-5 gap-y-2 border-2 border-ink bg-sheet p-4"
    aria-label="Oil by eye"
  >
    <p class="min-w-64 flex-1">
      The oil went in by eye, in {{ view.taps_by_eye }} {{ view.taps_by_eye === 1 ? 'pour' : 'pours' }}. By
      the body you saw it is taken for about <span class="figure">{{ grams(view.oil.in_g) }}</span>
      {{ massUnit() }}. Say how much came out, and every figure follows.
    </p>
    <button type="button" class="btn btn-main" @click="$emit('tell')">Say how much came out</button>
  </section>
</template>
