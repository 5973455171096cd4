<script setup lang="ts">
/** What to weigh for one rung, in order. */
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

defineProps<{ rung: Schemas['RungPlan'] }>()
</script>

<template>
  <div class="flex flex-wrap items-end gap-x-6">
    <p>
      <span class="small quiet block">1. paste</span
      ><span class="figure text-4xl font-semibold">{{ digits(rung.paste_g, 2) }}</span> g
    </p>
    <p v-for="(w, n) in rung.additives" :key="w.name">
      <span class="small quiet block">{{ n + 2 }}. {{ w.name.toLowerCase() }}</span
      ><span class="figure text-4xl font-semibold">{{ digits(w.weigh_g, 3) }}</span> g
    </p>
    <p>
      <span class="small quiet block">{{ rung.additives.length + 2 }}. plain oil</span
      ><span class="figure text-4xl font-semibold">{{ digits(rung.oil_g, 3) }}</span> g
    </p>
  </div>
</template>
