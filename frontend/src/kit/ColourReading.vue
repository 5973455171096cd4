<script setup lang="ts">
/** A colour read in whichever way: typed, from a reader's file, from a photograph with a grey card, by the reader. */
import { useObjectUrl } from '@vueuse/core'
import { ref, watchEffect } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourPick from '@/kit/ColourPick.vue'
import NumberField from '@/kit/NumberField.vue'
import ReadingFile from '@/kit/ReadingFile.vue'

/** A colour as it was read. */
export type Colour = Pick<Schemas['ReadColour'], 'spectrum' | 'srgb' | 'lab' | 'uncertainty'>

/** `guess` is the sRGB to begin with, `reader` asks the reader, `under` names where refusals of it stand. */
const props = withDefaults(
  defineProps<{ guess: string; reader?: () => Promise<number[]>; refusal?: Refused; under?: string }>(),
  { reader: undefined, refusal: undefined, under: '' },
)
const read = defineModel<Colour>({ required: true })
const said = (field: string) => props.refusal?.at(props.under + field)
const way = ref<'lab' | 'srgb' | 'file' | 'photo' | 'reader'>('lab')
const lab = ref<{ L: number | null; a: number | null; b: number | null }>({ L: null, a: null, b: null })
const srgb = ref(props.guess)
const spectrum = ref<number[]>()
const uncertainty = ref<number>()
const samples = ref<Schemas['Reading'][]>([])
const trouble = ref('')
watchEffect(() => {
  if (spectrum.value) read.value = { spectrum: spectrum.value }
  else if (way.value === 'srgb') read.value = { srgb: srgb.value }
  else read.value = { lab: lab.value as Schemas['LabAsked'], uncertainty: uncertainty.value }
})
function take(reading: Schemas['Reading']): void {
  spectrum.value = reading.spectrum ?? undefined
  if (reading.lab) lab.value = { ...reading.lab }
}
async function tried(work: () => Promise<void>): Promise<void> {
  trouble.value = ''
  try {
    await work()
  } catch (error) {
    trouble.value = error instanceof Refused ? error.words : 'The server does not answer; try again.'
  }
}
async function readFile(content: ArrayBuffer, scale?: Schemas['LightScale']): Promise<void> {
  samples.value = await answered(
    api.POST('/api/checks/reading-file', {
      params: { query: { scale } },
      body: content as unknown as string,
      bodySerializer: (b: unknown) => b as ArrayBuffer,
      headers: { 'content-type': 'text/plain' },
    }),
  )
  if (samples.value.length === 1) take(samples.value[0]!)
}
const readIt = () =>
  tried(async () => {
    spectrum.value = await props.reader?.()
  })

/** A photograph: tap the card, then the paint. */
const photo = ref<File>()
const photoUrl = useObjectUrl(photo)
const taps = ref<{ x: number; y: number }[]>([])
function photographed(event: Event): void {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (!chosen) return
  photo.value = chosen
  taps.value = []
}
function tap(event: MouseEvent): void {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  const at = { x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height }
  taps.value = taps.value.length >= 2 ? [at] : [...taps.value, at]
  if (taps.value.length === 2)
    void tried(async () => {
      const [card, paint] = taps.value as [{ x: number; y: number }, { x: number; y: number }]
      const found = await answered(
        api.POST('/api/checks/photograph', {
          params: { query: { card_x: card.x, card_y: card.y, paint_x: paint.x, paint_y: paint.y } },
          body: photo.value as unknown as string,
          bodySerializer: (b: unknown) => b as Blob,
          headers: { 'content-type': photo.value!.type || 'image/jpeg' },
        }),
      )
      lab.value = { L: round(found.lab.L), a: round(found.lab.a), b: round(found.lab.b) }
      uncertainty.value = round(found.uncertainty)
      spectrum.value = undefined
    })
}
const round = (value: number) => Number(value.toFixed(2))
const WAYS = [
  ['lab', 'Lab typed'],
  ['srgb', 'sRGB'],
  ['file', 'Reading file'],
  ['photo', 'Photograph'],
  ['reader', 'Stand-in reader'],
] as const
</script>

<template>
  <div class="flex basis-full flex-wrap gap-1.5" role="group" aria-label="How it is read">
    <button
      v-for="[key, name] in WAYS.filter(([key]) => key !== 'reader' || reader)"
      :key="key"
      type="button"
      class="btn px-3"
      :class="way === key ? 'bg-ink! text-white' : ''"
      :aria-pressed="way === key"
      @click="((way = key), (spectrum = undefined), (uncertainty = undefined))"
    >
      {{ name }}
    </button>
  </div>
  <ColourPick
    v-if="way === 'srgb'"
    v-model="srgb"
    class="w-60"
    label="sRGB, a guess"
    :refusal="said('srgb')"
  />
  <div v-else-if="way === 'file'" class="basis-full">
    <ReadingFile :read="readFile" says="CGATS.17 text or CSV: Lab, or 400 to 700 nm in steps of 10." />
    <div v-if="samples.length > 1" class="mt-2 flex flex-wrap gap-1.5" role="group" aria-label="Which sample">
      <button v-for="taken in samples" :key="taken.name" type="button" class="btn" @click="take(taken)">
        {{ taken.name }}
      </button>
    </div>
  </div>
  <div v-else-if="way === 'photo'" class="basis-full">
    <label class="btn"
      ><input type="file" class="sr-only" accept="image/*" @change="photographed" />Choose or take a
      photograph</label
    >
    <template v-if="photoUrl">
      <p class="mt-2 font-semibold" role="status">
        {{
          taps.length === 0
            ? 'Tap the grey card.'
            : taps.length === 1
              ? 'Now tap the paint.'
              : 'Read. Tap the card again to start over.'
        }}
      </p>
      <div class="relative mt-1 inline-block">
        <img
          :src="photoUrl"
          alt="The photograph: tap the grey card, then the paint"
          class="max-h-80 cursor-crosshair border border-rule"
          @click="tap"
        />
        <span
          v-for="(at, n) in taps"
          :key="n"
          class="tapped-here"
          :style="{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }"
        />
      </div>
    </template>
  </div>
  <button v-else-if="way === 'reader'" type="button" class="btn btn-slab px-6" @click="readIt">
    Read it
  </button>
  <template v-if="way === 'lab' || (!spectrum && (way === 'photo' || way === 'file') && lab.L != null)">
    <NumberField v-model="lab.L" class="w-32" label="L" :refusal="said('lab.L')" />
    <NumberField v-model="lab.a" class="w-32" label="a" :refusal="said('lab.a')" />
    <NumberField v-model="lab.b" class="w-32" label="b" :refusal="said('lab.b')" />
    <p v-if="uncertainty" class="small quiet pb-3">
      may be off by ΔE00 <span class="figure">{{ uncertainty }}</span>
    </p>
  </template>
  <svg v-if="spectrum" viewBox="0 0 240 90" class="w-60" role="img" aria-label="The spectrum, 400 to 700 nm">
    <path d="M20 8v66h212" fill="none" stroke="#8a8a8a" />
    <path
      :d="spectrum.map((r, n) => `${n ? 'L' : 'M'}${20 + n * 7} ${74 - r * 64}`).join('')"
      fill="none"
      stroke="#171717"
      stroke-width="2"
    />
    <text x="20" y="88" font-size="12" fill="#565656">400</text>
    <text x="206" y="88" font-size="12" fill="#565656">700 nm</text>
  </svg>
  <span v-if="said('spectrum')" class="refusal basis-full" role="alert">{{ said('spectrum') }}</span>
  <span v-if="trouble" class="refusal basis-full" role="alert">{{ trouble }}</span>
</template>
