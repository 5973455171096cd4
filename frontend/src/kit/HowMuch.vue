<script setup lang="ts">
/** How much an amount would be that is told to the eye without numbers; nothing of any other. */
import type { Schemas } from '@/api/client'
import { grams, massUnit } from './format'

defineProps<{ told?: Schemas['Told'] | null }>()
</script>

<template>
  <details v-if="told?.figures" class="small">
    <summary class="flex min-h-12 cursor-pointer items-center underline">How much would that be?</summary>
    {{ told.figures }}, about <span class="figure">{{ grams(told.grams) }}</span> {{ massUnit() }}
  </details>
</template>
