<script setup lang="ts">
/** A camera or a file, opened from elsewhere: a picture goes into the same queue as every other act. */
import { ref } from 'vue'

defineProps<{ label: string; camera?: boolean }>()
const emit = defineEmits<{ picture: [file: File] }>()
const input = ref<HTMLInputElement | null>(null)
function chosen(event: Event): void {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (file) emit('picture', file)
}
defineExpose({ open: () => input.value?.click() })
</script>

<template>
  <input
    ref="input"
    type="file"
    accept="image/*"
    :capture="camera ? 'environment' : undefined"
    class="sr-only"
    :aria-label="label"
    tabindex="-1"
    @change="chosen"
  />
</template>
