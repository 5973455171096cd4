<script setup lang="ts">
/** Checks that wait, the oldest first. */
import type { Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day } from '@/kit/format'
import { KINDS } from './kinds'

defineProps<{ due: Schemas['DueCheck'][] }>()
</script>

<template>
  <ul>
    <li v-for="wait in due" :key="`${wait.number}/${wait.kind}`" class="hairline">
      <RouterLink
        class="flex min-h-14 items-center gap-3 py-1 hover:bg-sheet"
        :to="{ path: `/checks/${wait.number}`, query: { check: wait.kind } }"
      >
        <ColourChip class="h-9 w-12" :colour="wait.masstone_srgb" />
        <span class="min-w-0 flex-1 leading-tight"
          ><strong class="font-semibold">{{ KINDS[wait.kind].name }}</strong
          >, {{ wait.says
          }}<span class="quiet small block">{{ wait.name }}, batch {{ wait.number }}</span></span
        >
        <span class="small whitespace-nowrap" :class="wait.overdue ? 'font-semibold' : 'quiet'">{{
          wait.overdue ? 'now' : day(wait.at)
        }}</span>
      </RouterLink>
    </li>
  </ul>
</template>
