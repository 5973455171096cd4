<script setup lang="ts">
/** Checks that wait, the oldest first. */
import type { Schemas } from '@/api/client'
import { day } from '@/kit/format'
import { KINDS } from './kinds'

defineProps<{ due: Schemas['DueCheck'][] }>()
</script>

<template>
  <ul>
    <li v-for="one in due" :key="`${one.number}/${one.kind}`" class="hairline">
      <RouterLink
        class="flex min-h-14 items-center gap-3 py-1 hover:bg-sheet"
        :to="{ path: `/checks/${one.number}`, query: { check: one.kind } }"
      >
        <span
          class="h-9 w-12 shrink-0 border-4 border-[#bdbdbd]"
          :style="{ background: one.masstone_srgb }"
          aria-hidden="true"
        />
        <span class="min-w-0 flex-1 leading-tight"
          ><strong class="font-semibold">{{ KINDS[one.kind].name }}</strong
          >, {{ one.says }}<span class="quiet small block">{{ one.name }}, batch {{ one.number }}</span></span
        >
        <span class="small whitespace-nowrap" :class="one.overdue ? 'font-semibold' : 'quiet'">{{
          one.overdue ? 'now' : day(one.at)
        }}</span>
      </RouterLink>
    </li>
  </ul>
</template>
