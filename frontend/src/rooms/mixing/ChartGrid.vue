<script setup lang="ts">
/** The squares of a chart: predicted, beside painted where it was read, with the difference where there is room. */
import { computed } from 'vue'
import { dE, HIDES, nameOf, type Cell, type Chart } from './room'

const props = defineProps<{ chart: Chart; chosen?: string }>()
const film = (row: number) => props.chart.films.find((one) => one.row === row)
const emit = defineEmits<{ choose: [code: string] }>()
const n = computed(() => props.chart.layout.paints)
const rows = computed(() => n.value + props.chart.layout.white_rows.length)
/** The squares by rows; nothing where none is. */
const grid = computed(() => {
  const found: (Cell | undefined)[][] = Array.from({ length: rows.value }, () =>
    Array(n.value).fill(undefined),
  )
  for (const cell of props.chart.cells) found[cell.row]![cell.column] = cell
  return found
})
const letter = (column: number) => String.fromCharCode(65 + column)
/** A dark or a light square's writing. */
const onIt = (cell: Cell) => (cell.lab.L > 58 ? '#171717' : '#ffffff')
const tall = computed(() => (n.value <= 8 ? 60 : n.value <= 14 ? 46 : 34))
const told = (cell: Cell) =>
  cell.de00 != null
    ? `${cell.code}: predicted and painted, ${dE(cell.de00)} apart`
    : `${cell.code}: predicted, may be off by ${dE(cell.off)}`
</script>

<template>
  <div class="overflow-x-auto pb-2">
    <table
      class="w-full table-fixed border-separate border-spacing-[3px]"
      :style="{ minWidth: `${n * 40 + 44}px` }"
    >
      <thead>
        <tr>
          <th class="w-9"></th>
          <th v-for="column in n" :key="column" class="px-0 align-bottom font-semibold">
            <RouterLink
              class="block leading-tight"
              :to="`/mixing/paints/${chart.paints[column - 1]!.id}`"
              :title="nameOf(chart.paints[column - 1]!)"
              ><span class="figure">{{ letter(column - 1) }}</span
              ><span
                v-if="chart.paints[column - 1]!.here"
                class="ml-1 inline-block size-2 rounded-full bg-ink align-middle"
                role="img"
                aria-label="you have it"
              /><span
                v-if="n <= 8"
                class="quiet block text-[0.78rem] leading-tight font-normal max-sm:hidden"
                >{{ chart.paints[column - 1]!.name }}</span
              ></RouterLink
            >
          </th>
          <th v-if="chart.films.length" class="px-0 align-bottom text-[0.78rem] font-semibold">thin</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(cells, r) in grid" :key="r">
          <th class="figure pr-1 text-right font-semibold">
            {{ r + 1
            }}<span v-if="r >= n" class="quiet block font-sans text-[0.72rem] font-normal whitespace-nowrap"
              >+{{ chart.layout.white_rows[r - n] }} W</span
            >
          </th>
          <td v-for="(cell, c) in cells" :key="c" class="p-0">
            <button
              v-if="cell"
              type="button"
              class="relative flex w-full overflow-hidden"
              :class="chosen === cell.code ? 'outline-4 outline-offset-0 outline-ink' : ''"
              :style="{ height: `${tall}px`, background: cell.srgb }"
              :aria-label="told(cell)"
              :aria-pressed="chosen === cell.code"
              @click="emit('choose', cell.code)"
            >
              <span
                v-if="cell.painted_srgb"
                class="absolute inset-y-0 right-0 w-1/2"
                :style="{ background: cell.painted_srgb! }"
              />
              <span
                v-if="n <= 14"
                class="figure relative m-auto text-[0.8rem]"
                :style="{ color: onIt(cell) }"
                >{{ cell.de00 != null ? dE(cell.de00) : `±${dE(cell.off)}` }}</span
              >
            </button>
            <span v-else class="block border border-line" :style="{ height: `${tall}px` }" />
          </td>
          <td v-if="film(r)" class="p-0">
            <button
              type="button"
              class="flex w-full items-center justify-center border border-line text-[0.72rem] leading-tight"
              :class="chosen === film(r)!.code ? 'outline-4 outline-offset-0 outline-ink' : ''"
              :style="{ height: `${tall}px` }"
              :aria-label="`${film(r)!.code}: thin film of ${nameOf(chart.paints[r]!)}`"
              :aria-pressed="chosen === film(r)!.code"
              @click="emit('choose', film(r)!.code)"
            >
              {{ film(r)!.hides ? `hides ${HIDES[film(r)!.hides!]}` : '?' }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
</template>
