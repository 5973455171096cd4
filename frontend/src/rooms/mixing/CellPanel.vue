<script setup lang="ts">
/** One square: its mixture, predicted and painted side by side, and reading it. */
import { ref } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import ColourReading, { type Colour } from '@/kit/ColourReading.vue'
import { digits } from '@/kit/format'
import { dE, PARTS_BY, partsOf, type Cell, type Chart, type ChartSaid } from './room'

const props = defineProps<{
  chart: Chart
  cell: Cell
  say: (said: ChartSaid) => Promise<boolean>
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ close: []; step: [by: number] }>()
const reading = ref(false)
const colour = ref<Colour>({})
const reader = async () =>
  (
    await answered(
      api.POST('/api/mixing/charts/{number}/stand-in-reading', {
        params: { path: { number: props.chart.number }, query: { square: props.cell.code } },
      }),
    )
  ).spectrum
async function keep(): Promise<void> {
  const square = { ...colour.value, code: props.cell.code }
  const how = colour.value.spectrum ? 'reader' : colour.value.uncertainty != null ? 'photo' : 'typed'
  if (await props.say({ kind: 'painted', squares: [square], how })) reading.value = false
}
/** What an eye says of the painted square beside its prediction. */
const looks = ref<Schemas['Looks'][]>([])
const LOOKS: Schemas['Looks'][] = [
  'lighter',
  'darker',
  'redder',
  'greener',
  'yellower',
  'bluer',
  'stronger',
  'duller',
]
const toggle = (word: Schemas['Looks']) =>
  (looks.value = looks.value.includes(word)
    ? looks.value.filter((one) => one !== word)
    : [...looks.value, word])
async function judge(words: Schemas['Looks'][]): Promise<void> {
  if (await props.say({ kind: 'judged', code: props.cell.code, looks: words })) looks.value = []
}
const lab = (of: Schemas['Lab']) => [of.L, of.a, of.b].map((value) => digits(value, 1)).join('  ')
</script>

<template>
  <section class="cell-panel" :aria-label="`Square ${cell.code}`">
    <div class="flex items-center gap-1">
      <h2 class="figure flex-1 text-2xl">{{ cell.code }}</h2>
      <button type="button" class="btn px-3" aria-label="The square before" @click="emit('step', -1)">
        ‹
      </button>
      <button type="button" class="btn px-3" aria-label="The next square" @click="emit('step', 1)">›</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
    <p class="mt-1 leading-snug font-semibold">
      {{ partsOf(cell, chart) }}{{ ' '
      }}<span class="quiet font-normal">{{ PARTS_BY[chart.layout.by] }}</span>
    </p>
    <div class="mt-2 flex h-24 border-4 border-[#bdbdbd]">
      <span class="flex-1" :style="{ background: cell.srgb }" /><span
        v-if="cell.painted_srgb"
        class="flex-1"
        :style="{ background: cell.painted_srgb }"
      />
    </div>
    <dl class="small mt-1 grid grid-cols-2 gap-x-2">
      <div>
        <dt class="quiet">predicted, Lab <BasisMark press :basis="cell.basis" /></dt>
        <dd class="figure">{{ lab(cell.lab) }}</dd>
        <dd class="quiet">may be off by {{ dE(cell.off) }} ΔE00</dd>
      </div>
      <div v-if="cell.painted_lab">
        <dt class="quiet">{{ cell.how === 'eye' ? 'painted, by eye' : 'painted, Lab' }}</dt>
        <dd class="figure">{{ lab(cell.painted_lab) }}</dd>
        <dd class="quiet">±{{ dE(cell.painted_off!) }} ΔE00</dd>
      </div>
    </dl>
    <p v-if="cell.de00 != null && cell.how !== 'eye'" class="mt-1">
      <span class="figure text-2xl font-semibold">{{ dE(cell.de00) }}</span> ΔE00 apart,
      {{ cell.within ? 'as near as was said' : 'further off than was said' }}
    </p>
    <button v-if="!reading" type="button" class="btn btn-main mt-2 w-full" @click="reading = true">
      {{ cell.painted_lab ? 'Read it again' : 'Read this square' }}
    </button>
    <fieldset v-if="!reading && (!cell.painted_lab || cell.how === 'eye')" class="mt-3">
      <legend class="label">Or by eye: the painted one looks</legend>
      <div class="grid grid-cols-2 gap-1.5">
        <button type="button" class="btn col-span-2 min-h-14" :disabled="busy" @click="judge([])">
          the same
        </button>
        <button
          v-for="word in LOOKS"
          :key="word"
          type="button"
          class="btn min-h-12"
          :class="looks.includes(word) ? 'bg-ink! text-white' : ''"
          :aria-pressed="looks.includes(word)"
          @click="toggle(word)"
        >
          {{ word }}
        </button>
      </div>
      <button
        v-if="looks.length"
        type="button"
        class="btn btn-main mt-1.5 w-full"
        :disabled="busy"
        @click="judge(looks)"
      >
        Keep: {{ looks.join(', ') }}
      </button>
      <p v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
    </fieldset>
    <form v-else class="mt-2 space-y-2" @submit.prevent="keep">
      <div class="flex flex-wrap items-end gap-2">
        <ColourReading
          v-model="colour"
          :guess="cell.srgb"
          :reader="reader"
          :refusal="refusal"
          under="squares.0."
        />
      </div>
      <button class="btn btn-main w-full" :disabled="busy">Keep it</button>
      <p
        v-if="
          refusal &&
          !refusal.at('squares.0.lab') &&
          !refusal.at('squares.0.srgb') &&
          !refusal.at('squares.0.spectrum')
        "
        class="refusal"
        role="alert"
      >
        {{ refusal.words }}
      </p>
    </form>
  </section>
</template>
