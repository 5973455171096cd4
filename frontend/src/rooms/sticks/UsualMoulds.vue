<script setup lang="ts">
/** What many cast in who own no mould: by its size, at one tap. */
import { useQueryClient } from '@tanstack/vue-query'
import { answered, api, type Schemas } from '@/api/client'
import { useTried } from '@/kit/tried'

defineProps<{ moulds: Schemas['MouldKept'][] }>()
const queries = useQueryClient()
const { trouble, busy, said, tried } = useTried()
const USUAL: Schemas['MouldAsked'][] = [
  { name: 'Paper round a finger, 15 x 60 mm', diameter_mm: 15, length_mm: 60 },
  { name: 'Paper round a thumb, 20 x 80 mm', diameter_mm: 20, length_mm: 80 },
  { name: 'Ice cube, 28 x 28 x 25 mm', side_mm: 28, length_mm: 25 },
]
const add = (body: Schemas['MouldAsked']) =>
  tried(async () => {
    await answered(api.POST('/api/sticks/moulds', { body }))
    await queries.invalidateQueries({ queryKey: ['sticks'] })
  })
</script>

<template>
  <div class="flex flex-wrap gap-2" role="group" aria-label="Usual moulds">
    <button
      v-for="one in USUAL.filter((usual) => !moulds.some((mould) => mould.name === usual.name))"
      :key="one.name"
      type="button"
      class="btn"
      :disabled="busy"
      @click="add(one)"
    >
      {{ one.name }}
    </button>
    <span v-if="trouble ?? said('name')" class="refusal" role="alert">{{ trouble ?? said('name') }}</span>
  </div>
</template>
