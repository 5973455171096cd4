<script setup lang="ts">
/** The tubes and jars that were filled, each drawn as full as it is. */
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import TubeDrawing from './TubeDrawing.vue'

defineProps<{ items: Schemas['ItemLine'][] }>()
</script>

<template>
  <ul class="flex flex-wrap gap-x-5">
    <li v-for="item in items" :key="item.id" class="text-center">
      <RouterLink class="block min-h-12 p-1" :to="`/shelf/${item.id}`"
        ><TubeDrawing
          v-if="item.kind === 'tube'"
          class="mx-auto"
          :colour="item.masstone_srgb"
          :full="item.full"
          :height="92"
        /><svg v-else viewBox="0 0 60 92" height="92" class="mx-auto" aria-hidden="true">
          <path d="M8 30v56h44V30" fill="#fff" stroke="#171717" stroke-width="1.800" />
          <rect x="10" y="52" width="40" height="33" :fill="item.masstone_srgb" />
          <path d="M5 20h50v10H5z" fill="#565656" /></svg
        ><span class="underline">{{ item.code }}</span
        ><span class="small quiet block"
          >{{ digits(item.volume_ml, 1) }} ml<template v-if="item.status === 'waiting'"
            >, waits</template
          ></span
        ></RouterLink
      >
    </li>
  </ul>
</template>
