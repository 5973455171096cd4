<script setup lang="ts">
/** Choose a batch by its name, number or colour; the newest first, type to narrow. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api } from '@/api/client'
import { day } from '@/kit/format'
import PickField from '@/kit/PickField.vue'
import PickOption from '@/kit/PickOption.vue'

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
</script>

<template>
  <PickField
    v-model:typed="typed"
    :model-value="modelValue"
    :label="label"
    :colour="chosen?.masstone_srgb"
    :display="shown"
    placeholder="Choose a batch"
    :shows-all="`Show the batches: ${label}`"
    @update:model-value="$emit('update:modelValue', $event)"
  >
    <li v-if="!found?.batches.length" class="p-3">No batch by that name or number.</li>
    <PickOption
      v-for="batch in found?.batches ?? []"
      :key="batch.number"
      :value="batch.number"
      :colour="batch.masstone_srgb"
      :detail="`${day(batch.started_at)}, ${batch.oil_name}`"
      >{{ batch.number }} {{ batch.name }}</PickOption
    >
  </PickField>
</template>
