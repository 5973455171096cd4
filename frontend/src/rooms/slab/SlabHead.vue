<script setup lang="ts">
/** The head of a slab: what it is, what the balance shows, and whether every act is saved. */
import type { Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { digits } from '@/kit/format'
import type { Reading } from './acts'

defineProps<{
  view: Schemas['SlabView']
  weight?: Reading
  waits: number
  followed: boolean
  offline: boolean
  lasting: boolean
}>()
</script>

<template>
  <div class="flex flex-wrap items-center gap-x-4 pt-3 pb-2">
    <ColourChip class="h-10 w-16" :colour="view.masstone_srgb" />
    <h1 class="min-w-[50%] flex-1">
      {{ view.name }}
      <span class="quiet text-base font-normal sm:whitespace-nowrap"
        >{{ view.practice ? 'practice' : `batch ${view.number}` }}, in {{ view.oil.name.toLowerCase() }}</span
      >
    </h1>
    <p
      v-if="weight"
      class="leading-tight"
      :class="weight.state === 'steady' ? '' : 'quiet'"
      role="status"
      aria-label="Balance"
    >
      <span class="figure text-xl font-semibold">{{
        weight.weight_g != null ? digits(weight.weight_g, 2) : '- - -'
      }}</span>
      g<span class="small quiet block" :class="weight.weight_g == null ? 'text-stop!' : ''"
        >balance, {{ weight.state.replace('_', ' ') }}</span
      >
    </p>
    <p class="small quiet" role="status">
      <template v-if="waits"
        ><strong class="text-stop"
          >{{ waits }} {{ waits === 1 ? 'act waits' : 'acts wait' }} for the server</strong
        ></template
      >
      <template v-else-if="followed">every act saved</template>
      <template v-else>{{ offline ? 'the server is away' : 'reaching the server' }}</template>
      <strong v-if="!lasting" class="block text-stop"
        >This browser keeps nothing: leave the page open.</strong
      >
    </p>
    <RouterLink v-if="view.practice" class="btn btn-quiet" to="/practice">All exercises</RouterLink>
    <RouterLink v-else class="btn btn-quiet" :to="`/batches/${view.number}`">Batch page</RouterLink>
  </div>
</template>
