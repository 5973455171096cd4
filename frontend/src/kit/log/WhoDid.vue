<script setup lang="ts">
/** The initials of whoever made an act. */
import { useWho } from './who'

const props = defineProps<{ id: string }>()
const initials = useWho(() => props.id)
</script>

<template>
  <span v-if="initials" class="small shrink-0 font-semibold" :title="`made by ${initials}`">{{
    initials
  }}</span>
</template>
