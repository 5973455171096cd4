<script setup lang="ts">
/** All beside the craft in hand, behind one button: other crafts with what waits there, batches, workshop. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import type { Schemas } from '@/api/client'
import { crafts, waiting } from '.'

const props = defineProps<{ home?: Schemas['Home'] }>()
const route = useRoute()
const paint = {
  key: 'paint',
  name: 'Tube paint',
  to: '/plan',
  says: 'from powder and oil to the shelf',
  stations: [],
}
const others = [
  { key: 'day', name: 'The day', to: '/day', says: 'what is on today, done, and later', stations: [] },
  { key: 'batches', name: 'Batches', to: '/batches', says: 'every batch ever ground', stations: [] },
  {
    key: 'workshop',
    name: 'Workshop',
    to: '/workshop',
    says: 'slabs, tubes, measures, settings',
    stations: [],
  },
]
const all = computed(() =>
  crafts.reduce((sum, one) => sum + ((one.count && props.home?.counts[one.count]) || 0), 0),
)
</script>

<template>
  <Popover v-slot="{ close }" class="sticky -right-3 shrink-0 bg-page max-sm:-mr-3 max-sm:pr-3">
    <PopoverButton
      class="flex min-h-14 flex-col justify-center px-2 text-left leading-tight whitespace-nowrap lg:px-3"
    >
      <span class="flex items-center gap-1.5"
        >Menu<svg viewBox="0 0 16 16" class="h-3.5 w-3.5" aria-hidden="true">
          <path d="M2 5l6 6 6-6" fill="none" stroke="currentColor" stroke-width="2.500" /></svg></span
      ><span class="small quiet font-normal">{{ all ? `${all} to see` : '\u00a0' }}</span>
    </PopoverButton>
    <PopoverPanel
      as="nav"
      aria-label="Menu"
      class="fixed right-2 z-40 max-h-[85vh] w-80 max-w-[94vw] overflow-auto border-2 border-ink bg-sheet"
    >
      <RouterLink
        v-for="one in [paint, ...crafts, ...others]"
        :key="one.key"
        :to="one.to"
        class="hairline flex min-h-14 items-center gap-3 px-4 first:border-0 hover:bg-act-wash"
        :class="route.meta.station === one.key ? 'font-bold' : ''"
        :aria-current="route.meta.station === one.key ? 'page' : undefined"
        @click="close()"
        ><span class="flex-1 leading-tight"
          >{{ one.name }}<span class="small quiet block font-normal">{{ one.says }}</span></span
        ><span v-if="waiting(one, home)" class="small font-semibold">{{
          waiting(one, home)
        }}</span></RouterLink
      >
    </PopoverPanel>
  </Popover>
</template>
