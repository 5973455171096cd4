<script setup lang="ts">
/** A paint's masstone beside its tint, on neutral grey; the tint is left out where nobody read it. */
defineProps<{ masstone: string; tint?: string | null; large?: boolean; alone?: boolean }>()
</script>

<template>
  <span
    class="flex shrink-0 border-4 border-[#bdbdbd] bg-[#bdbdbd]"
    :class="large ? 'h-28 w-56' : 'h-12 w-20'"
    aria-hidden="true"
    ><span class="flex-[1.4]" :style="{ background: masstone }" /><span
      v-if="!alone"
      class="ml-0.5 flex-1"
      :style="tint ? { background: tint } : {}"
      :class="tint ? '' : 'border-2 border-dashed border-rule bg-sheet'"
  /></span>
</template>
