<script setup lang="ts">
/** Reading a painted chart back: square by square with the reader, from its file, or from one photograph. */
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useKeys } from '@/kit/keys'
import ReadingFile from '@/kit/ReadingFile.vue'
import PhotoBack from './PhotoBack.vue'
import { partsOf, type Chart, type ChartSaid } from './room'

const props = defineProps<{ chart: Chart; say: (said: ChartSaid) => Promise<boolean>; busy?: boolean }>()
const emit = defineEmits<{ close: [] }>()
const way = ref<'reader' | 'file' | 'photo'>('photo')
const WAYS = [
  ['photo', 'One photograph'],
  ['reader', 'Reader, square by square'],
  ['file', 'The reader’s file'],
] as const
const trouble = ref('')
const SAYS =
  'CGATS.17 text or CSV, Lab or 400 to 700 nm. Samples named by their squares, such as B3; ' +
  'or all squares in reading order.'
const next = computed(() => props.chart.cells.find((cell) => cell.code === props.chart.next_code))
const reading = ref(false)
async function readNext(): Promise<void> {
  const cell = next.value
  if (!cell || reading.value) return
  trouble.value = ''
  reading.value = true
  try {
    const found = await answered(
      api.POST('/api/mixing/charts/{number}/stand-in-reading', {
        params: { path: { number: props.chart.number }, query: { square: cell.code } },
      }),
    )
    const squares = [{ code: cell.code, spectrum: found.spectrum }]
    await props.say({ kind: 'painted', squares, how: 'reader' })
  } catch (problem) {
    trouble.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  } finally {
    reading.value = false
  }
}
const found = ref<Schemas['SquareFound'][]>([])
async function readFile(content: ArrayBuffer, scale?: Schemas['LightScale']): Promise<void> {
  found.value = []
  const answer = await answered(
    api.POST('/api/mixing/charts/{number}/file', {
      params: { path: { number: props.chart.number }, query: { scale } },
      body: content as unknown as string,
      bodySerializer: (b: unknown) => b as ArrayBuffer,
      headers: { 'content-type': 'text/plain' },
    }),
  )
  found.value = answer.squares
}
async function keep(squares: Schemas['SquareFound'][], how: 'file' | 'photo'): Promise<void> {
  const read = squares.map((one) => ({
    code: one.code,
    ...(one.spectrum ? { spectrum: [...one.spectrum] } : { lab: one.lab }),
    ...(one.off != null ? { uncertainty: one.off } : {}),
  }))
  if (await props.say({ kind: 'painted', squares: read, how })) emit('close')
}
useKeys(() => [
  {
    key: ' ',
    does: 'read the next square',
    act: () => void readNext(),
    when: () => way.value === 'reader' && !!next.value,
  },
])
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-label="Read it back">
    <div class="flex flex-wrap gap-1.5" role="group" aria-label="How it is read">
      <button
        v-for="[key, name] in WAYS"
        :key="key"
        type="button"
        class="btn px-4"
        :class="way === key ? 'bg-ink! text-white' : ''"
        :aria-pressed="way === key"
        @click="((way = key), (trouble = ''))"
      >
        {{ name }}
      </button>
      <span class="flex-1" />
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
    <PhotoBack
      v-if="way === 'photo'"
      class="mt-3"
      :chart="chart"
      :busy="busy"
      @keep="keep($event, 'photo')"
    />
    <div v-else-if="way === 'reader'" class="mt-3">
      <template v-if="next">
        <p class="flex flex-wrap items-center gap-4">
          <span class="figure text-6xl font-semibold">{{ next.code }}</span>
          <span class="min-w-52 flex-1 text-lg leading-snug"
            >{{ partsOf(next, chart)
            }}<span class="quiet block"
              >{{ chart.unread.length }} {{ chart.unread.length === 1 ? 'square' : 'squares' }} to go</span
            ></span
          >
          <button
            type="button"
            class="btn btn-main btn-slab px-10"
            :disabled="busy || reading"
            @click="readNext"
          >
            Read {{ next.code }}
          </button>
        </p>
        <p class="small quiet mt-2">
          Row by row from A1 to the right; the space bar reads as well. This is the stand-in reader: it makes
          its readings up from what is predicted.
        </p>
      </template>
      <p v-else class="text-lg font-semibold" role="status">Every square is read.</p>
    </div>
    <div v-else class="mt-3">
      <ReadingFile :read="readFile" :says="SAYS" />
      <template v-if="found.length">
        <ul class="mt-3 flex flex-wrap gap-1" aria-label="Squares in the file">
          <li v-for="one in found" :key="one.code" class="w-14 text-center">
            <span class="block h-9 border-2 border-[#bdbdbd]" :style="{ background: one.srgb }" /><span
              class="figure small"
              >{{ one.code }}</span
            >
          </li>
        </ul>
        <button
          type="button"
          class="btn btn-main btn-slab mt-3 px-8"
          :disabled="busy"
          @click="keep(found, 'file')"
        >
          Keep {{ found.length }} {{ found.length === 1 ? 'square' : 'squares' }}
        </button>
      </template>
    </div>
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
  </section>
</template>
