<script setup lang="ts">
/** A number with its unit, typed with point or comma; a refusal stands beneath it and nothing typed is lost. */
import { computed, ref, useId, watch } from 'vue'

const props = defineProps<{
  label: string
  unit?: string
  modelValue: number | null
  refusal?: string
  large?: boolean
  /** What is accepted, said when the text is no number. */
  accepted?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [value: number | null]; enter: [] }>()

const id = useId()
const text = ref(props.modelValue == null ? '' : String(props.modelValue))
const parsed = (typed: string) => Number(typed.trim().replace(',', '.'))
const unreadable = computed(() => text.value.trim() !== '' && !Number.isFinite(parsed(text.value)))
const said = computed(() =>
  unreadable.value ? `Not a number. Try ${props.accepted ?? 'a number such as 12.5'}.` : props.refusal,
)

watch(
  () => props.modelValue,
  (value) => {
    const now = text.value.trim() === '' ? null : parsed(text.value)
    if (value !== now && !(value == null && unreadable.value)) text.value = value == null ? '' : String(value)
  },
)
function typed(event: Event): void {
  text.value = (event.target as HTMLInputElement).value
  const value = text.value.trim() === '' ? null : parsed(text.value)
  emit('update:modelValue', value != null && Number.isFinite(value) ? value : null)
}
const input = ref<HTMLInputElement | null>(null)
defineExpose({
  focus: () => {
    input.value?.focus()
    input.value?.select()
  },
})
</script>

<template>
  <div>
    <label :for="id" class="label">{{ label }}</label>
    <div class="flex items-center gap-2">
      <input
        :id="id"
        ref="input"
        class="field figure"
        :class="large ? 'h-[72px] text-4xl font-semibold' : ''"
        inputmode="decimal"
        autocomplete="off"
        :value="text"
        :aria-invalid="said ? 'true' : undefined"
        :aria-describedby="said ? `${id}-said` : undefined"
        @input="typed"
        @keydown.enter.prevent="emit('enter')"
      />
      <span v-if="unit" class="quiet shrink-0" :class="large ? 'text-2xl' : ''">{{ unit }}</span>
    </div>
    <span v-if="said" :id="`${id}-said`" class="refusal" role="alert">{{ said }}</span>
  </div>
</template>
