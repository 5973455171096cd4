<script setup lang="ts">
/** The ledger of a can, or the log of a dish, newest first; anything in it can be taken out. */
import { computed, ref } from 'vue'
import { clock, day } from '@/kit/format'
import type { Line } from './room'

const props = defineProps<{ lines: Line[]; earlier?: number; busy?: boolean; title: string }>()
const emit = defineEmits<{ strike: [id: string] }>()
const last = computed(() => props.lines.find((line) => line.can_strike)?.id)
const asking = ref<string>()
function strike(id: string): void {
  if (id === last.value || asking.value === id) {
    asking.value = undefined
    emit('strike', id)
  } else asking.value = id
}
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
        <template v-if="asking === line.id">
          <button
            type="button"
            class="btn min-h-12 px-2"
            :aria-label="`Yes, take out: ${line.text}`"
            @click="strike(line.id)"
          >
            Take it out
          </button>
          <button type="button" class="btn btn-quiet min-h-12 px-1" @click="asking = undefined">
            Keep it
          </button>
        </template>
        <button
          v-else-if="line.can_strike"
          type="button"
          class="btn btn-quiet small min-h-12 px-1"
          :disabled="busy"
          :aria-label="`Take out: ${line.text}`"
          @click="strike(line.id)"
        >
          {{ line.kind === 'strike' ? 'put back' : line.id === last ? 'undo' : 'take out' }}
        </button>
      </li>
    </ol>
    <p v-if="earlier" class="small quiet mt-1">
      and <span class="figure">{{ earlier }}</span> acts before these
    </p>
  </section>
</template>
