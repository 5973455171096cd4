<script setup lang="ts">
/** One photograph of the whole sheet: its corners found or set by hand, every square shown before it is kept. */
import { useObjectUrl } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { dE, type Chart } from './room'

const props = defineProps<{ chart: Chart; busy?: boolean }>()
const emit = defineEmits<{ keep: [squares: Schemas['SquareFound'][]] }>()
type Point = [number, number]
const NAMES = ['top left', 'top right', 'bottom right', 'bottom left']
const photo = ref<File>()
const url = useObjectUrl(photo)
const corners = ref<Point[]>([])
/** Whether the corners are the maker's own: the program's are found anew with every picture. */
const byHand = ref(false)
const found = ref<Schemas['SquaresFound']>()
const card = ref<number | null>(18)
const trouble = ref('')
const looking = ref(false)
const withEmpty = ref(false)
const kept = computed(() => found.value?.squares.filter((one) => withEmpty.value || !one.empty) ?? [])
const empty = computed(() => found.value?.squares.filter((one) => one.empty).length ?? 0)
function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  photo.value = chosen
  byHand.value = false
  corners.value = []
  void look()
}
async function look(): Promise<void> {
  if (!photo.value) return
  looking.value = true
  trouble.value = ''
  found.value = undefined
  try {
    const set = byHand.value
      ? corners.value.map(([x, y]) => `${x.toFixed(5)},${y.toFixed(5)}`).join(';')
      : undefined
    const answer = await answered(
      api.POST('/api/mixing/charts/{number}/photograph', {
        params: {
          path: { number: props.chart.number },
          query: { corners: set, card_reflectance: (card.value ?? 18) / 100 },
        },
        body: photo.value as unknown as string,
        bodySerializer: (b: unknown) => b as Blob,
        headers: { 'content-type': photo.value.type || 'image/jpeg' },
      }),
    )
    found.value = answer
    corners.value = (answer.corners ?? []).map(({ x, y }) => [x, y])
  } catch (problem) {
    trouble.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
    // Where the program finds no corner, the maker drags four from where a sheet usually lies.
    if (problem instanceof Refused && problem.at('corners') && !corners.value.length)
      corners.value = [
        [0.08, 0.06],
        [0.92, 0.06],
        [0.92, 0.94],
        [0.08, 0.94],
      ]
  } finally {
    looking.value = false
  }
}
const dragged = ref<number>()
function drag(event: PointerEvent): void {
  if (dragged.value == null) return
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const within = (value: number) => Math.min(1, Math.max(0, value))
  corners.value[dragged.value] = [
    within((event.clientX - box.left) / box.width),
    within((event.clientY - box.top) / box.height),
  ]
  byHand.value = true
}
function drop(): void {
  if (dragged.value == null) return
  dragged.value = undefined
  void look()
}
/** A corner is moved by the arrow keys as well, a little at a time. */
function nudge(n: number, event: KeyboardEvent): void {
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key]
  if (!by) return
  event.preventDefault()
  const [x, y] = corners.value[n]!
  corners.value[n] = [x + by[0]! / 500, y + by[1]! / 500]
  byHand.value = true
}
</script>

<template>
  <div>
    <div class="flex flex-wrap items-end gap-4">
      <label class="btn btn-main btn-slab px-6"
        ><input type="file" class="sr-only" accept="image/*" @change="choose" />{{
          photo ? 'Another photograph' : 'Take or choose a photograph'
        }}</label
      >
      <NumberField v-model="card" class="w-40" label="The card reflects" unit="%" />
      <button
        v-if="photo && (byHand || trouble)"
        type="button"
        class="btn px-5"
        :disabled="looking"
        @click="look"
      >
        Look again
      </button>
    </div>
    <p v-if="!photo" class="quiet mt-2 max-w-2xl">
      The whole sheet from straight above, all four corner codes in it, the grey card on its place, even
      daylight, nothing shining. A photograph is rough: ±4 ΔE00 or more, and each square says so.
    </p>
    <p v-if="looking" class="mt-2 font-semibold" role="status">Looking…</p>
    <p v-if="trouble" class="refusal text-lg" role="alert">{{ trouble }}</p>
    <div v-if="url" class="mt-3 grid gap-5 lg:grid-cols-[minmax(0,30rem)_1fr]">
      <div>
        <div
          class="relative inline-block touch-none select-none"
          @pointermove="drag"
          @pointerup="drop"
          @pointerleave="drop"
        >
          <img
            :src="url"
            alt="The photographed sheet"
            class="max-h-[34rem] border border-rule"
            draggable="false"
          />
          <svg
            v-if="corners.length === 4"
            viewBox="0 0 1 1"
            preserveAspectRatio="none"
            class="pointer-events-none absolute inset-0 h-full w-full"
            aria-hidden="true"
          >
            <polygon
              :points="corners.map(([x, y]) => `${x},${y}`).join(' ')"
              fill="none"
              stroke="#fff"
              stroke-width="0.008"
            />
            <polygon
              :points="corners.map(([x, y]) => `${x},${y}`).join(' ')"
              fill="none"
              stroke="#171717"
              stroke-width="0.003"
            />
          </svg>
          <span
            v-for="one in found?.squares ?? []"
            :key="one.code"
            class="square-seen"
            :style="{ left: `${100 * one.x!}%`, top: `${100 * one.y!}%` }"
          />
          <button
            v-for="([x, y], n) in corners"
            :key="n"
            type="button"
            class="corner-mark"
            :style="{ left: `${100 * x}%`, top: `${100 * y}%` }"
            :aria-label="`Corner ${NAMES[n]}: drag it, or move it by the arrow keys`"
            @pointerdown.prevent="dragged = n"
            @keydown="nudge(n, $event)"
          />
        </div>
        <p v-if="found" class="small quiet mt-1">
          <template v-if="byHand">Corners as you set them.</template
          ><template v-else>{{ found.seen?.length }} of 4 corner codes found.</template> Drag a corner, at the
          outer edge of its code, where it is wrong.
        </p>
        <p v-else-if="corners.length" class="small mt-1 font-semibold">
          Drag the four marks to the outer corners of the sheet’s codes.
        </p>
      </div>
      <div v-if="found">
        <h3 class="font-semibold">{{ kept.length }} squares read</h3>
        <ul class="mt-1 flex max-h-96 flex-wrap gap-1 overflow-y-auto" aria-label="Squares in the photograph">
          <li v-for="one in kept" :key="one.code" class="w-12 text-center leading-tight">
            <span class="block h-8 border-2 border-[#bdbdbd]" :style="{ background: one.srgb }" /><span
              class="figure text-[0.8rem]"
              >{{ one.code }}</span
            ><span class="quiet block text-[0.72rem]">±{{ dE(one.off!) }}</span>
          </li>
        </ul>
        <label v-if="empty" class="mt-2 flex min-h-12 items-center gap-3"
          ><input v-model="withEmpty" type="checkbox" class="h-6 w-6" />{{ empty }}
          {{ empty === 1 ? 'square looks' : 'squares look' }} unpainted; keep
          {{ empty === 1 ? 'it' : 'them' }} all the same</label
        >
        <button
          type="button"
          class="btn btn-main btn-slab mt-2 px-8"
          :disabled="busy || looking || !kept.length"
          @click="emit('keep', kept)"
        >
          Keep {{ kept.length }} {{ kept.length === 1 ? 'square' : 'squares' }}
        </button>
      </div>
    </div>
  </div>
</template>
