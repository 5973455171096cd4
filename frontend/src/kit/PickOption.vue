<script setup lang="ts">
/** One line of a list to choose from: its colour, its name, and a word on it. */
import { ComboboxOption } from '@headlessui/vue'
import ColourChip from '@/kit/ColourChip.vue'

defineProps<{ value: string | number; colour?: string; detail?: string }>()
</script>

<template>
  <ComboboxOption v-slot="{ active, selected }" :value="value" as="template">
    <li class="flex min-h-12 items-center gap-3 px-2 py-1" :class="active ? 'bg-act-wash' : ''">
      <ColourChip v-if="colour" class="h-8 w-8" :colour="colour" />
      <span class="leading-tight" :class="selected ? 'font-bold' : ''"
        ><slot /><span v-if="detail" class="small quiet block font-normal">{{ detail }}</span></span
      >
    </li>
  </ComboboxOption>
</template>
