<script setup lang="ts">
/** Every act a hand may want, each with its key. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import type { Panel } from './tap'

const props = defineProps<{
  view: Schemas['SlabView']
  heldBack: boolean
  hasPowder: boolean
  busy?: boolean
}>()
const emit = defineEmits<{ show: [panel: Panel]; strike: []; picture: [] }>()
type Act = { name: string; key: string; act: () => void; off?: boolean }
const open = (panel: Panel) => () => emit('show', panel)
const acts = computed<Act[]>(() => [
  { name: 'Powder', key: 'd', act: open('powder'), off: props.heldBack },
  { name: 'Pour', key: 'p', act: open('oil') },
  { name: 'By eye', key: 'e', act: open('by_eye') },
  { name: 'Additive', key: 'a', act: open('additive'), off: !props.hasPowder },
  { name: 'Look', key: 'l', act: open('look') },
  { name: 'Sample', key: 's', act: open('sample') },
  { name: 'Note', key: 'n', act: open('note') },
  { name: 'Picture', key: 'h', act: () => emit('picture'), off: props.busy },
  { name: 'Ways', key: 'w', act: open('ways'), off: !props.view.ways.length },
  {
    name: 'Undo',
    key: 'x',
    act: () => emit('strike'),
    off: !props.view.timeline.some((e) => e.can_strike),
  },
  { name: 'Finish', key: 'f', act: open('finish'), off: !props.view.ratio },
])
</script>

<template>
  <div
    class="grid grid-cols-3 gap-1.5 sm:grid-cols-5 xl:flex xl:[&>*]:flex-auto"
    role="group"
    aria-label="Acts"
  >
    <button
      v-for="button in acts"
      :key="button.key"
      type="button"
      class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
      :disabled="button.off"
      @click="button.act"
    >
      {{ button.name }}<kbd class="keycap max-sm:hidden">{{ button.key }}</kbd>
    </button>
  </div>
</template>
