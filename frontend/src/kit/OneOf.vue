<script setup lang="ts" generic="T extends string | number">
/** One of a few, side by side as buttons; the chosen one is dark. */
defineProps<{ of: readonly (readonly [T, string])[]; label?: string; wide?: boolean }>()
const chosen = defineModel<T | undefined>({ required: true })
</script>

<template>
  <div class="flex gap-1.5" :class="wide ? '' : 'flex-wrap'" role="group" :aria-label="label">
    <button
      v-for="[key, says] in of"
      :key="key"
      type="button"
      class="btn px-3"
      :class="[wide ? 'flex-1' : '', chosen === key ? 'bg-ink! text-white' : '']"
      :aria-pressed="chosen === key"
      @click="chosen = key"
    >
      {{ says }}
    </button>
  </div>
</template>
