<script setup lang="ts">
/** The ledger of a can, or the log of a dish, newest first; anything in it can be taken out. */
import { computed } from 'vue'
import { clock, day } from '@/kit/format'
import TakeOut from '@/kit/log/TakeOut.vue'
import type { Line } from './room'

const props = defineProps<{ lines: Line[]; earlier?: number; busy?: boolean; title: string }>()
const emit = defineEmits<{ strike: [id: string] }>()
const last = computed(() => props.lines.find((line) => line.can_strike)?.id)
</script>

<template>
  <section :aria-label="title">
    <h2 class="mb-1">{{ title }}</h2>
    <p v-if="!lines.length" class="quiet">Nothing yet.</p>
    <ol>
      <li v-for="line in lines" :key="line.id" class="hairline flex items-center gap-2 py-0.5">
        <span class="quiet small w-[4.3rem] shrink-0 leading-tight"
          >{{ day(line.at).slice(0, -5) }}<span class="figure block">{{ clock(line.at) }}</span></span
        >
        <span class="min-w-0 flex-1 leading-tight" :class="line.struck ? 'quiet line-through' : ''">{{
          line.text
        }}</span>
        <TakeOut :line="line" :last="last" :busy="busy" @strike="(id) => emit('strike', id)" />
      </li>
    </ol>
    <p v-if="earlier" class="small quiet mt-1">
      and <span class="figure">{{ earlier }}</span> acts before these
    </p>
  </section>
</template>
