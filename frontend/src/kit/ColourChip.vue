<script setup lang="ts">
/** A small patch of paint on neutral grey, beside the words that name it. */
defineProps<{ colour: string }>()
</script>

<template>
  <span class="shrink-0 border-4 border-[#bdbdbd]" :style="{ background: colour }" aria-hidden="true" />
</template>
