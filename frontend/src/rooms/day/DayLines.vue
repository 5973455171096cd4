<script setup lang="ts">
/** The day by the clock: jobs, what is due, cleaning and breaks; a job of the slab can be moved by drag or by keys. */
import { computed, nextTick, ref } from 'vue'
import ColourChip from '@/kit/ColourChip.vue'
import { digits } from '@/kit/format'
import { clockOf, type Day, type Line } from './room'

const props = defineProps<{ day: Day; busy?: boolean }>()
const emit = defineEmits<{
  order: [keys: string[]]
  off: [line: Line]
  minutes: [line: Line, minutes: number]
}>()

type Row = { line: Line } | { rest: { from_min: number; to_min: number } }
const atOf = (row: Row) => ('line' in row ? (row.line.start_min ?? 0) : row.rest.from_min)
const rows = computed<Row[]>(() => {
  const lines: Row[] = props.day.lines.map((line) => ({ line }))
  const first = props.day.today ? props.day.now_min : 0
  const rests: Row[] = props.day.breaks.filter((r) => r.to_min > first).map((rest) => ({ rest }))
  return [...lines, ...rests].sort((a, b) => atOf(a) - atOf(b))
})
const movable = computed(() =>
  [...props.day.lines, ...props.day.left_over]
    .filter((l) => l.at_slab && l.status === 'todo')
    .map((l) => l.key),
)
const canMove = (line: Line) => movable.value.includes(line.key) && movable.value.length > 1
function moveTo(key: string, place: number): void {
  const keys = movable.value.filter((k) => k !== key)
  keys.splice(Math.max(0, Math.min(keys.length, place)), 0, key)
  if (keys.join() !== movable.value.join()) emit('order', keys)
}
async function step(line: Line, by: number): Promise<void> {
  moveTo(line.key, movable.value.indexOf(line.key) + by)
  await nextTick()
  document.getElementById(`move-${line.key}`)?.focus()
}
const dragged = ref<string>()
function dropped(onto: Line): void {
  if (dragged.value && canMove(onto)) moveTo(dragged.value, movable.value.indexOf(onto.key))
  dragged.value = undefined
}
const asking = ref<string>()
const minutes = ref<number | null>(null)
function say(line: Line): void {
  if (minutes.value != null && minutes.value >= 1) emit('minutes', line, minutes.value)
  asking.value = undefined
}
function ask(line: Line): void {
  asking.value = asking.value === line.key ? undefined : line.key
  minutes.value = Math.round(line.minutes)
}
</script>

<template>
  <ol>
    <li
      v-for="row in rows"
      :key="'line' in row ? row.line.key : `break-${row.rest.from_min}`"
      class="hairline"
      :class="'line' in row && dragged === row.line.key ? 'opacity-50' : ''"
      :draggable="'line' in row && canMove(row.line) ? true : undefined"
      @dragstart="'line' in row && (dragged = row.line.key)"
      @dragend="dragged = undefined"
      @dragover="'line' in row && dragged && canMove(row.line) && $event.preventDefault()"
      @drop="'line' in row && dropped(row.line)"
    >
      <p v-if="'rest' in row" class="quiet flex min-h-11 items-center gap-4">
        <span class="figure w-16">{{ clockOf(row.rest.from_min) }}</span>
        <span
          >break until <span class="figure">{{ clockOf(row.rest.to_min) }}</span></span
        >
      </p>
      <div
        v-else
        class="grid grid-cols-[4rem_1fr_auto] items-center gap-x-4 py-1.5 max-sm:grid-cols-[3.6rem_1fr]"
      >
        <span class="figure text-xl" :class="row.line.status === 'going' ? 'font-bold' : ''">{{
          clockOf(row.line.start_min ?? 0)
        }}</span>
        <RouterLink class="flex min-h-12 min-w-0 items-center gap-3 hover:bg-sheet" :to="row.line.page">
          <ColourChip v-if="row.line.masstone_srgb" class="h-8 w-11" :colour="row.line.masstone_srgb" />
          <span class="min-w-0 leading-tight"
            ><span class="quiet">{{ row.line.what }}</span
            >{{ ' ' }}<strong class="font-semibold">{{ row.line.name }}</strong
            ><span v-if="row.line.status === 'going'" class="small font-semibold">, on the slab now</span>
            <span class="small quiet block">
              <template v-if="row.line.says">{{ row.line.says }}; </template
              ><span class="figure">{{ digits(row.line.minutes, 0) }}</span> min, {{ row.line.minutes_say
              }}<template v-if="day.slabs > 1 && row.line.at_slab"
                >; slab <span class="figure">{{ row.line.slab + 1 }}</span></template
              ><template v-if="row.line.hazard"
                >; <strong class="text-stop">hazardous: see its data sheet</strong></template
              >
              <template v-if="row.line.cleaning_min >= 0.5"
                >; then clean <span class="figure">{{ digits(row.line.cleaning_min, 0) }}</span> min</template
              ></span
            ></span
          >
        </RouterLink>
        <span class="no-print flex items-center justify-end max-sm:col-span-2">
          <template v-if="canMove(row.line)">
            <button
              :id="`move-${row.line.key}`"
              type="button"
              class="btn btn-quiet cursor-grab px-2"
              :aria-label="`Move ${row.line.name}: arrow up for earlier, down for later`"
              :disabled="busy"
              @keydown.up.prevent="step(row.line, -1)"
              @keydown.down.prevent="step(row.line, 1)"
              @click="step(row.line, movable.indexOf(row.line.key) ? -1 : 1)"
            >
              <svg viewBox="0 0 20 24" width="20" height="24" aria-hidden="true">
                <path
                  d="M10 2v20M5 7l5-5 5 5M5 17l5 5 5-5"
                  fill="none"
                  stroke="currentColor"
                  stroke-width="2"
                />
              </svg>
            </button>
          </template>
          <template v-if="row.line.job_id">
            <button type="button" class="btn btn-quiet px-2" @click="ask(row.line)">
              <span class="sr-only">How long {{ row.line.name }} takes</span>min
            </button>
            <button
              type="button"
              class="btn btn-quiet px-2"
              :disabled="busy"
              :aria-label="`Take ${row.line.name} off the day`"
              @click="$emit('off', row.line)"
            >
              <svg viewBox="0 0 20 20" width="18" height="18" aria-hidden="true">
                <path d="M3 3l14 14M17 3L3 17" stroke="currentColor" stroke-width="2.500" />
              </svg>
            </button>
          </template>
        </span>
        <form
          v-if="asking === row.line.key"
          class="no-print col-span-3 flex items-end gap-2 pb-2"
          @submit.prevent="say(row.line)"
        >
          <label class="small"
            >Minutes it takes<input
              v-model.number="minutes"
              class="field figure mt-1 block w-28"
              type="number"
              min="1"
              max="1440"
          /></label>
          <button class="btn">Keep</button>
        </form>
      </div>
    </li>
  </ol>
</template>
