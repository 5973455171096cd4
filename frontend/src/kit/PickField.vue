<script setup lang="ts" generic="T extends string | number | null">
/** A field to choose from a list: touched, it shows the list; typed into, it narrows it. The options are its slot. */
import { Combobox, ComboboxButton, ComboboxInput, ComboboxLabel, ComboboxOptions } from '@headlessui/vue'
import { ref } from 'vue'
import ColourChip from '@/kit/ColourChip.vue'

defineProps<{
  modelValue: T
  label: string
  /** What is chosen, in a word or two beside the label. */
  detail?: string
  colour?: string
  display: (value: unknown) => string
  placeholder: string
  showsAll: string
  refusal?: string
}>()
defineEmits<{ 'update:modelValue': [value: T] }>()
const typed = defineModel<string>('typed', { required: true })
const arrow = ref<{ el: HTMLButtonElement } | null>(null)
function unfold(event: MouseEvent): void {
  const field = event.target as HTMLElement
  if (field.getAttribute('aria-expanded') !== 'true') arrow.value?.el.click()
}
</script>

<template>
  <Combobox :model-value="modelValue" @update:model-value="$emit('update:modelValue', $event)">
    <div class="relative">
      <span class="label"
        ><ComboboxLabel>{{ label }}</ComboboxLabel
        ><span v-if="detail" class="ml-1.5 text-ink">{{ detail }}</span></span
      >
      <div class="relative flex items-center">
        <ColourChip v-if="colour" class="absolute left-2 h-8 w-8" :colour="colour" />
        <ComboboxInput
          class="field truncate pr-11 font-semibold"
          :class="colour ? 'pl-12' : ''"
          :display-value="display"
          :aria-invalid="refusal ? 'true' : undefined"
          :placeholder="placeholder"
          autocomplete="off"
          @change="typed = $event.target.value"
          @focus="((typed = ''), $event.target.select())"
          @click="unfold"
        />
        <ComboboxButton
          ref="arrow"
          class="absolute right-0 flex h-12 w-11 items-center justify-center"
          :aria-label="showsAll"
          @click="typed = ''"
        >
          <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
            <path d="M2 5l6 6 6-6" fill="none" stroke="currentColor" stroke-width="2" />
          </svg>
        </ComboboxButton>
      </div>
      <ComboboxOptions
        class="absolute z-40 mt-1 max-h-96 w-full min-w-72 overflow-auto border-2 border-ink bg-white"
      >
        <slot />
      </ComboboxOptions>
      <slot name="below" />
      <span v-if="refusal" class="refusal" role="alert">{{ refusal }}</span>
    </div>
  </Combobox>
</template>
