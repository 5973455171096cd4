<script setup lang="ts" generic="T extends string | number | boolean | null">
/** One of a few, side by side as buttons; the chosen one is dark. `slab`: large enough for a hand in a glove. */
defineProps<{ of: readonly (readonly [T, string])[]; label?: string; wide?: boolean; slab?: boolean }>()
const chosen = defineModel<T | undefined>({ required: true })
</script>

<template>
  <div class="flex gap-1.5" :class="wide ? '' : 'flex-wrap'" role="group" :aria-label="label">
    <button
      v-for="[key, says] in of"
      :key="says"
      type="button"
      class="btn px-3"
      :class="[slab ? 'btn-slab' : '', wide ? 'flex-1' : '', chosen === key ? 'bg-ink! text-white' : '']"
      :aria-pressed="chosen === key"
      @click="chosen = key"
    >
      {{ says }}
    </button>
  </div>
</template>
