<script setup lang="ts">
/** The crafts beside the way from powder to shelf, each with what waits there; folded, so that the way stays plain. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'
import { beside, type Beside } from '.'

const props = defineProps<{ home?: Schemas['Home'] }>()
const route = useRoute()
const here = computed(() => beside.find((room) => room.key === route.meta.station))
const waits = (room: Beside) => (props.home?.counts as Record<string, number> | undefined)?.[room.key] ?? 0
const all = computed(() => beside.reduce((sum, room) => sum + waits(room), 0))
</script>

<template>
  <Popover v-slot="{ close }" class="shrink-0">
    <PopoverButton
      class="flex min-h-14 flex-col justify-center px-2 text-left leading-tight whitespace-nowrap lg:px-3"
      :class="here ? 'font-bold' : ''"
    >
      <span class="flex items-center gap-1.5"
        >{{ here?.name ?? 'Crafts'
        }}<svg viewBox="0 0 16 16" class="h-3.5 w-3.5" aria-hidden="true">
          <path d="M2 5l6 6 6-6" fill="none" stroke="currentColor" stroke-width="2.500" /></svg></span
      ><span class="small quiet font-normal">{{ all ? `${all} to see` : '\u00a0' }}</span>
    </PopoverButton>
    <PopoverPanel
      as="nav"
      aria-label="Crafts"
      class="fixed z-40 grid w-80 max-w-[94vw] border-2 border-ink bg-sheet max-sm:right-2 max-sm:left-2"
    >
      <RouterLink
        v-for="room in beside"
        :key="room.key"
        :to="room.to"
        class="hairline flex min-h-14 items-center gap-3 px-4 first:border-0 hover:bg-act-wash"
        :class="route.meta.station === room.key ? 'font-bold' : ''"
        :aria-current="route.meta.station === room.key ? 'page' : undefined"
        @click="close()"
        ><span class="flex-1 leading-tight"
          >{{ room.name }}<span class="small quiet block font-normal">{{ room.says }}</span></span
        ><span v-if="waits(room)" class="small font-semibold">{{ room.waits(waits(room)) }}</span></RouterLink
      >
    </PopoverPanel>
  </Popover>
</template>
