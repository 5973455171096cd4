<script setup lang="ts">
/** A slab that is not clean: by which batch it is in use, or after what it waits to be cleaned; one tap says it is. */
import type { Schemas } from '@/api/client'
import { ago } from '@/kit/format'
import SlabClean from '@/rooms/day/SlabClean.vue'

defineProps<{ slab: Schemas['SlabNow']; now: string }>()
defineEmits<{ cleaned: [] }>()
</script>

<template>
  <div class="space-y-1 border-l-4 py-1 pl-3" :class="slab.strict ? 'border-stop' : 'border-ink'">
    <p>
      <template v-if="slab.surface === 'in_use'">
        <strong>{{ slab.name }} is in use</strong> by
        <RouterLink class="underline" :to="`/slab/${slab.batch}`"
          >{{ slab.batch_name }}, batch {{ slab.batch }}</RouterLink
        >.
      </template>
      <template v-else>
        <strong>{{ slab.name }} is to be cleaned</strong> of
        <RouterLink class="underline" :to="`/batches/${slab.batch}`"
          >{{ slab.batch_name }}, batch {{ slab.batch }}</RouterLink
        ><template v-if="slab.since">, ended {{ ago(slab.since, now) }}</template
        >.
      </template>
    </p>
    <p v-if="slab.strict" class="text-stop">
      <strong
        >Keep this slab and its tools for this paint, or wipe them down wet and bag the wipes before another
        one.</strong
      >
      Follow the safety data sheet, local codes and licensed disposal.
    </p>
    <SlabClean v-if="slab.surface === 'to_clean'" :batch="slab.batch!" dirty @cleaned="$emit('cleaned')" />
  </div>
</template>
