<script setup lang="ts">
/** Something to hand over to another studio: as a file, or printed as a card. */
defineProps<{ kind: 'recipe' | 'base' | 'process'; id: number }>()
</script>

<template>
  <a class="btn btn-quiet" :href="`/api/swap/${kind}/${id}/file`" download>As a file</a>
  <a class="btn btn-quiet" :href="`/api/swap/${kind}/${id}/card.pdf`" target="_blank">As a card</a>
</template>
