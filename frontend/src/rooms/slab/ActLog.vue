<script setup lang="ts">
/** The log of a batch, newest first at the slab; what was struck out stays readable. */
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { clock, digits, grams, massUnit } from '@/kit/format'
import WhoDid from '@/kit/log/WhoDid.vue'

const props = defineProps<{
  entries: Schemas['TimelineEntry'][]
  number: number
  oldestFirst?: boolean
  readonly?: boolean
}>()
const emit = defineEmits<{ strike: [id: string] }>()
const shown = computed(() => (props.oldestFirst ? props.entries : [...props.entries].reverse()))
/** The last act goes by one tap; an earlier one is asked about, since what came after it stands on it. */
const last = computed(() => props.entries.findLast((entry) => entry.can_strike)?.id)
const asking = ref<string>()
function strike(id: string): void {
  if (id === last.value || asking.value === id) {
    asking.value = undefined
    emit('strike', id)
  } else asking.value = id
}
const TAKES = new Set(['sample', 'draw_oil'])
</script>

<template>
  <ol class="text-[0.97rem]">
    <li v-if="!entries.length" class="quiet py-2">Nothing is logged yet.</li>
    <li
      v-for="entry in shown"
      :key="entry.id"
      class="hairline flex min-h-12 items-center gap-2.5 py-0.5"
      :data-kind="entry.kind"
    >
      <span class="figure quiet small w-11 shrink-0">{{ clock(entry.made_at) }}</span>
      <span class="min-w-0 flex-1 leading-tight" :class="entry.struck ? 'quiet line-through' : ''">
        {{ entry.text }}
        <span v-if="entry.expected" class="small quiet block">{{
          entry.as_expected ? 'as expected' : `${entry.expected} was expected`
        }}</span>
        <a
          v-if="entry.kind === 'photo'"
          :href="`/api/slab/${number}/photos/${entry.id}.jpg`"
          target="_blank"
          class="block"
          ><img
            :src="`/api/slab/${number}/photos/${entry.id}.jpg`"
            :alt="entry.text"
            width="120"
            height="90"
            loading="lazy"
            class="mt-1 mb-1 h-[90px] w-[120px] border border-rule object-cover"
        /></a>
        <span v-if="entry.oil_g_per_100g != null" class="small quiet block"
          >ratio <span class="figure">{{ digits(entry.oil_g_per_100g, 1) }}</span>, {{ entry.body }}</span
        >
      </span>
      <span
        v-if="entry.minutes != null"
        class="text-right whitespace-nowrap"
        :class="entry.struck ? 'quiet line-through' : ''"
        ><span class="figure font-semibold">{{ digits(entry.minutes, 1) }}</span> min</span
      >
      <span
        v-if="entry.grams != null"
        class="text-right whitespace-nowrap"
        :class="entry.struck ? 'quiet line-through' : ''"
      >
        <span class="figure font-semibold"
          >{{ TAKES.has(entry.kind) ? '-' : '+' }}{{ grams(entry.grams) }}</span
        >
        {{ massUnit() }}
        <span v-if="entry.spread_g" class="small quiet figure block"
          >±{{ grams(entry.spread_g) }} {{ massUnit() }}</span
        >
      </span>
      <WhoDid :id="entry.id" />
      <template v-if="!readonly && asking === entry.id">
        <button
          type="button"
          class="btn min-h-12 px-2"
          :aria-label="`Yes, strike out: ${entry.text}`"
          @click="strike(entry.id)"
        >
          Take it out
        </button>
        <button type="button" class="btn btn-quiet min-h-12 px-1" @click="asking = undefined">Keep it</button>
      </template>
      <button
        v-else-if="!readonly && entry.can_strike"
        type="button"
        class="btn btn-quiet small min-h-12 px-1"
        :aria-label="`Strike out: ${entry.text}`"
        @click="strike(entry.id)"
      >
        {{ entry.id === last ? 'undo' : 'take out' }}
      </button>
      <button
        v-else-if="!readonly && entry.can_restore"
        type="button"
        class="btn btn-quiet small min-h-12 px-1"
        :aria-label="`Put back what was ${entry.text}`"
        @click="emit('strike', entry.id)"
      >
        put back
      </button>
    </li>
  </ol>
</template>
