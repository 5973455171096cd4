<script setup lang="ts">
/** Choose a batch by its name, number or colour; the newest first, type to narrow. */
import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxLabel,
  ComboboxOption,
  ComboboxOptions,
} from '@headlessui/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api } from '@/api/client'
import { day } from '@/kit/format'

const props = defineProps<{ modelValue: number | null; label: string }>()
defineEmits<{ 'update:modelValue': [number: number | null] }>()
const typed = ref('')
const words = refDebounced(typed, 150)
const { data: found } = useQuery({
  queryKey: ['batches', 'pick', words],
  queryFn: () => answered(api.GET('/api/batches', { params: { query: { words: words.value, limit: 40 } } })),
  placeholderData: keepPreviousData,
})
const { data: own } = useQuery({
  queryKey: ['batches', 'picked', () => props.modelValue],
  enabled: () => props.modelValue != null,
  queryFn: () =>
    answered(api.GET('/api/batches', { params: { query: { words: String(props.modelValue), limit: 40 } } })),
})
const chosen = computed(() =>
  [...(found.value?.batches ?? []), ...(own.value?.batches ?? [])].find((b) => b.number === props.modelValue),
)
const shown = () => (chosen.value ? `${chosen.value.number} ${chosen.value.name}` : '')
const arrow = ref<{ el: HTMLButtonElement } | null>(null)
function unfold(event: MouseEvent): void {
  const field = event.target as HTMLInputElement
  if (field.getAttribute('aria-expanded') !== 'true') arrow.value?.el.click()
}
</script>

<template>
  <Combobox :model-value="modelValue" @update:model-value="$emit('update:modelValue', $event)">
    <div class="relative">
      <ComboboxLabel class="label">{{ label }}</ComboboxLabel>
      <div class="relative flex items-center">
        <span
          v-if="chosen"
          class="absolute left-2 h-8 w-8 border-4 border-[#bdbdbd]"
          :style="{ background: chosen.masstone_srgb }"
          aria-hidden="true"
        />
        <ComboboxInput
          class="field truncate pr-11 font-semibold"
          :class="chosen ? 'pl-12' : ''"
          :display-value="shown"
          placeholder="Choose a batch"
          autocomplete="off"
          @change="typed = $event.target.value"
          @focus="((typed = ''), $event.target.select())"
          @click="unfold"
        />
        <ComboboxButton
          ref="arrow"
          class="absolute right-0 flex h-12 w-11 items-center justify-center"
          :aria-label="`Show the batches: ${label}`"
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
        <li v-if="!found?.batches.length" class="p-3">No batch by that name or number.</li>
        <ComboboxOption
          v-for="batch in found?.batches ?? []"
          :key="batch.number"
          v-slot="{ active }"
          :value="batch.number"
          as="template"
        >
          <li class="flex min-h-12 items-center gap-3 px-2 py-1" :class="active ? 'bg-act-wash' : ''">
            <span
              class="h-8 w-8 shrink-0 border-4 border-[#bdbdbd]"
              :style="{ background: batch.masstone_srgb }"
              aria-hidden="true"
            />
            <span class="leading-tight"
              >{{ batch.number }} {{ batch.name
              }}<span class="small quiet block">{{ day(batch.started_at) }}, {{ batch.oil_name }}</span></span
            >
          </li>
        </ComboboxOption>
      </ComboboxOptions>
    </div>
  </Combobox>
</template>
