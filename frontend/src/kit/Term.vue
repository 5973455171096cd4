<script setup lang="ts">
/** A word of the craft: touched, it says in a sentence and a drawing what it is. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import { useTerms } from '@/api/queries'
import { DRAWINGS, type Shape } from './terms'

const props = defineProps<{ of: string }>()
const { data: terms } = useTerms()
const says = computed(() => terms.value?.find((one) => one.term === props.of)?.says)
const FILLS: Record<Shape[0], string> = {
  line: 'none',
  dash: 'none',
  dark: '#171717',
  pale: '#c9c9c9',
  paint: '#1d545c',
}
</script>

<template>
  <Popover as="span" class="relative inline-block">
    <PopoverButton
      class="cursor-help text-left underline decoration-dotted decoration-2 underline-offset-4"
      title="What is that?"
      ><slot>{{ of }}</slot></PopoverButton
    >
    <PopoverPanel class="term-note" role="note">
      <strong class="block">{{ of }}</strong>
      <svg viewBox="0 0 160 64" class="my-2 h-24 w-full" aria-hidden="true">
        <path
          v-for="([how, d], n) in DRAWINGS[of] ?? []"
          :key="n"
          :d="d"
          :fill="FILLS[how]"
          :stroke="how === 'line' || how === 'dash' ? '#171717' : 'none'"
          stroke-width="2"
          :stroke-dasharray="how === 'dash' ? '5 4' : undefined"
        />
      </svg>
      <span class="block leading-snug">{{ says }}</span>
    </PopoverPanel>
  </Popover>
</template>
