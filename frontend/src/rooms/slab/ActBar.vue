<script setup lang="ts">
/** One act is next and big, four stand beside it, the rest in one place; on a small screen at the bottom edge. */
import { Menu, MenuButton, MenuItem, MenuItems } from '@headlessui/vue'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { begunOf, type Panel, type Tap } from './tap'

const props = defineProps<{
  view: Schemas['SlabView']
  tap?: Tap
  heldBack: boolean
  hasPowder: boolean
  atMuller: boolean
  running: boolean
  /** Something is open in front of it: its own buttons are what is next. */
  covered: boolean
  practice?: boolean
  busy?: boolean
}>()
const emit = defineEmits<{ show: [panel: Panel]; undo: []; picture: []; tapped: []; mull: []; done: [] }>()
type Act = { name: string; key: string; act: () => void; off?: boolean }
const open = (panel: Panel) => () => emit('show', panel)
const begun = computed(() => begunOf(props.view))
const beside = computed<Act[]>(() => [
  props.view.habit.how === 'eye'
    ? { name: 'Some oil', key: 'e', act: open('by_eye') }
    : { name: 'Pour', key: 'p', act: open('oil') },
  { name: 'Look', key: 'l', act: open('look') },
  props.running || begun.value
    ? { name: 'Load done', key: 'o', act: () => emit('done'), off: props.busy }
    : {
        name: props.view.tool === 'knife' ? 'Work' : 'Mull',
        key: 'm',
        act: () => emit('mull'),
        off: !props.atMuller || props.busy || props.tap?.said?.kind === 'mull',
      },
  { name: 'Undo', key: 'x', act: () => emit('undo'), off: !props.view.timeline.some((e) => e.can_strike) },
])
/** A practice has no stock to take from, no bottle and no record: what is about those is left out. */
const rest = computed<Act[]>(() => (props.practice ? practised.value : all.value))
const practised = computed<Act[]>(() => [
  { name: 'Powder in', key: 'd', act: open('powder') },
  { name: 'Oil drawn out on paper', key: '', act: open('draw_oil') },
  { name: 'Ways back', key: 'w', act: open('ways'), off: !props.view.ways.length },
  { name: 'Write a note', key: 'n', act: open('note') },
  { name: 'It is right: finish', key: 'f', act: open('finish'), off: !props.view.can_finish },
  { name: 'Throw this practice away', key: '', act: open('abandon') },
])
const all = computed<Act[]>(() => [
  { name: 'Powder in', key: 'd', act: open('powder'), off: props.heldBack },
  props.view.habit.how === 'eye'
    ? { name: 'Oil with its amount', key: 'p', act: open('oil') }
    : { name: 'Oil by eye', key: 'e', act: open('by_eye') },
  { name: 'How much oil came out', key: 'k', act: open('came_out'), off: !props.view.can_tell },
  { name: 'Additive in', key: 'a', act: open('additive'), off: !props.hasPowder },
  { name: 'Sample taken out', key: 's', act: open('sample'), off: !props.hasPowder },
  { name: 'Write a note', key: 'n', act: open('note') },
  { name: 'Take a picture', key: 'h', act: () => emit('picture'), off: props.busy },
  { name: 'Ways back', key: 'w', act: open('ways'), off: !props.view.ways.length },
  { name: 'Finish the batch', key: 'f', act: open('finish'), off: !props.view.can_finish },
  { name: 'Give this batch up', key: '', act: open('abandon') },
])
</script>

<template>
  <div
    class="max-lg:fixed max-lg:inset-x-0 max-lg:bottom-0 max-lg:z-30 max-lg:mb-0!"
    :class="['max-lg:border-t-2 max-lg:border-ink max-lg:bg-page max-lg:p-2', covered ? 'max-lg:hidden' : '']"
    data-part="acts"
  >
    <button
      v-if="tap"
      type="button"
      class="btn btn-main btn-slab mb-1.5 w-full px-3 text-xl lg:hidden!"
      :disabled="busy"
      @click="emit('tapped')"
    >
      {{ tap.name }}
    </button>
    <div class="grid grid-cols-5 gap-1.5" role="group" aria-label="Acts">
      <button
        v-for="button in beside"
        :key="button.name"
        type="button"
        class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
        :disabled="button.off"
        @click="button.act"
      >
        {{ button.name }}<kbd class="keycap max-sm:hidden">{{ button.key }}</kbd>
      </button>
      <Menu as="div" class="relative">
        <MenuButton class="btn btn-slab w-full px-0.5 text-base">More</MenuButton>
        <MenuItems
          class="absolute right-0 z-40 w-72 border-2 border-ink bg-white max-lg:bottom-full max-lg:mb-1 lg:mt-1"
        >
          <MenuItem v-for="act in rest" :key="act.name" v-slot="{ active }" :disabled="act.off">
            <button
              type="button"
              class="flex min-h-12 w-full items-center justify-between px-3 text-left"
              :class="[active ? 'bg-act-wash' : '', act.off ? 'quiet' : 'font-semibold']"
              @click="act.act"
            >
              {{ act.name }}<kbd v-if="act.key" class="keycap max-sm:hidden">{{ act.key }}</kbd>
            </button>
          </MenuItem>
        </MenuItems>
      </Menu>
    </div>
  </div>
</template>
