<script setup lang="ts">
/** A colour picked on the screen or typed as #rrggbb; a refusal stands beneath it. */
withDefaults(defineProps<{ label: string; refusal?: string; large?: boolean }>(), { refusal: undefined })
const colour = defineModel<string>({ required: true })
</script>

<template>
  <label class="block"
    ><span class="label">{{ label }}</span
    ><span class="flex items-center gap-2"
      ><input
        v-model="colour"
        type="color"
        :class="large ? 'h-[72px] w-28' : 'h-12 w-16'"
        aria-label="Pick the colour" /><input
        v-model="colour"
        class="field figure min-w-28 flex-1"
        maxlength="7"
        aria-label="The colour as #rrggbb"
        :aria-invalid="refusal ? 'true' : undefined" /></span
    ><span v-if="refusal" class="refusal" role="alert">{{ refusal }}</span></label
  >
</template>
