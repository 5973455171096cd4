<script setup lang="ts">
/** The measuring layout of one check: how it is done, a drawing of what is measured, its fields. */
import { useObjectUrl } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { COLOURS, KINDS, type Kind } from './kinds'

type Sent = Omit<Schemas['CheckAsked'], 'id' | 'made_at' | 'note'>
const props = defineProps<{ kind: Kind; checks: Schemas['BatchChecks']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [check: Sent, note: string] }>()

const d1 = ref<number | null>(null)
const d2 = ref<number | null>(null)
const volume = ref<number | null>(props.kind === 'density' ? 5 : 0.5)
const mass = ref<number | null>(0.65)
const plate = ref<number | null>(150)
const gross = ref<number | null>(null)
const tare = ref<number | null>(null)
const length = ref<number | null>(null)
const fineness = ref<number | null>(null)
const note = ref('')
const way = ref<'lab' | 'srgb' | 'file' | 'photo' | 'reader'>('lab')
const lab = ref<{ L: number | null; a: number | null; b: number | null }>({ L: null, a: null, b: null })
const srgb = ref(props.checks.masstone_srgb)
const spectrum = ref<number[]>()
const uncertainty = ref<number>()
const samples = ref<Schemas['Reading'][]>([])
const trouble = ref('')
const choices = computed(() => props.checks.choices[props.kind] ?? [])
const said = (field: string) => props.refusal?.at(field)

/** What the figures typed so far come to, as the core reckons it. */
const told = ref('')
let latest: symbol | undefined
watch([d1, d2, volume, mass, plate, gross, tare], async () => {
  const at = Symbol()
  latest = at
  let words = ''
  try {
    if (props.kind === 'spread' && d1.value != null && d2.value != null) {
      const answer = await answered(
        api.POST('/api/calc/spread', {
          body: {
            diameters_mm: [d1.value, d2.value],
            volume_ml: volume.value ?? 0.5,
            mass_kg: mass.value ?? 0.65,
            plate_mm: plate.value,
          },
        }),
      )
      words = `${digits(answer.diameter_mm, 1)} mm across; yields at ${digits(answer.yield_stress_pa, 0)} Pa`
    } else if (
      props.kind === 'density' &&
      gross.value != null &&
      tare.value != null &&
      volume.value &&
      props.checks.components.length
    ) {
      const answer = await answered(
        api.POST('/api/calc/air', {
          body: {
            gross_g: gross.value,
            tare_g: tare.value,
            volume_ml: volume.value,
            components: props.checks.components,
          },
        }),
      )
      words = `${digits(answer.density_g_per_ml, 3)} g/ml, ${digits(answer.theoretical_g_per_ml, 3)} without air: air ${digits(100 * answer.air_fraction, 1)} %`
    }
  } catch {
    words = ''
  }
  if (latest === at) told.value = words
})
/** How each drawn choice looks. */
const DRAWN: Record<string, string> = {
  opaque: '1',
  'semi-opaque': '.82',
  'semi-transparent': '.55',
  transparent: '.28',
}
const SURFACES: Record<string, string> = {
  smooth: 'M8 22q30-4 60 0',
  'fine tooth': 'M8 22l4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3 4-3 4 3',
  gritty: 'M8 22l5-8 4 8 7-12 3 12 6-7 5 7 4-11 6 11 5-8 4 8 6-6 5 6',
  keeps: 'M8 14h60M8 19h60M8 24h60M8 29h60',
  softens: 'M8 16q30 3 60 0M8 24q30 3 60 0',
  levels: 'M8 22h60',
  wet: 'M38 8q12 14 12 20a12 12 0 0 1-24 0q0-6 12-20z',
  tacky: 'M26 8v10q-4 6-2 14M38 8v26M50 8v10q4 6 2 14',
  'touch-dry': 'M20 22l12 12 26-26',
}
function send(): void {
  const k = props.kind
  if (k === 'spread')
    emit(
      'record',
      {
        kind: k,
        diameters_mm: [d1.value, d2.value],
        volume_ml: volume.value,
        mass_kg: mass.value,
        plate_mm: plate.value,
      },
      note.value,
    )
  else if (k === 'density')
    emit('record', { kind: k, gross_g: gross.value, tare_g: tare.value, volume_ml: volume.value }, note.value)
  else if (k === 'string' || k === 'bleed') emit('record', { kind: k, length_mm: length.value }, note.value)
  else if (k === 'fineness') emit('record', { kind: k, fineness_um: fineness.value }, note.value)
  else if (COLOURS.includes(k)) {
    if (spectrum.value) emit('record', { kind: k, spectrum: spectrum.value }, note.value)
    else if (way.value === 'srgb') emit('record', { kind: k, srgb: srgb.value }, note.value)
    else
      emit(
        'record',
        { kind: k, lab: lab.value as Schemas['LabAsked'], uncertainty: uncertainty.value },
        note.value,
      )
  }
}
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
/** A file that does not say what its figures are of waits for the maker's word. */
const unscaled = ref<File>()
const file = (event: Event) => {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (chosen) void readFile(chosen)
}
async function readFile(chosen: File, scale?: Schemas['LightScale']): Promise<void> {
  unscaled.value = undefined
  await tried(async () => {
    try {
      samples.value = await answered(
        api.POST('/api/checks/reading-file', {
          params: { query: { scale } },
          body: (await chosen.arrayBuffer()) as unknown as string,
          bodySerializer: (b: unknown) => b as ArrayBuffer,
          headers: { 'content-type': 'text/plain' },
        }),
      )
      if (samples.value.length === 1) take(samples.value[0]!)
    } catch (problem) {
      if (!(problem instanceof Refused) || !problem.at('scale')) throw problem
      unscaled.value = chosen
    }
  })
}
const reader = () =>
  tried(async () => {
    const told = await answered(
      api.POST('/api/checks/{number}/stand-in-reading', {
        params: { path: { number: props.checks.number }, query: { kind: props.kind } },
      }),
    )
    spectrum.value = told.spectrum
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
      const told = await answered(
        api.POST('/api/checks/photograph', {
          params: { query: { card_x: card.x, card_y: card.y, paint_x: paint.x, paint_y: paint.y } },
          body: photo.value as unknown as string,
          bodySerializer: (b: unknown) => b as Blob,
          headers: { 'content-type': photo.value!.type || 'image/jpeg' },
        }),
      )
      lab.value = { L: round(told.lab.L), a: round(told.lab.a), b: round(told.lab.b) }
      uncertainty.value = round(told.uncertainty)
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
  <section class="border-2 border-ink bg-sheet p-4" :aria-label="KINDS[kind].name">
    <div class="flex flex-wrap gap-x-8 gap-y-3">
      <div class="min-w-60 flex-1">
        <h2 class="text-[1.7rem] leading-tight font-semibold">{{ KINDS[kind].name }}</h2>
        <ol class="mt-1 space-y-0.5">
          <li v-for="(step, n) in KINDS[kind].how" :key="step" class="flex gap-2">
            <span class="figure quiet">{{ n + 1 }}</span>{{ step }}
          </li>
        </ol>
      </div>
      <svg
        viewBox="0 0 220 130"
        class="w-56"
        aria-hidden="true"
        font-size="14"
        fill="none"
        stroke="#171717"
        stroke-width="1.800"
      >
        <template v-if="kind === 'spread'">
          <rect x="30" y="3" width="160" height="124" fill="#fff" />
          <circle cx="110" cy="65" r="44" :fill="checks.masstone_srgb" stroke="none" />
          <path d="M66 65h88M110 21v88" stroke="#fff" stroke-width="2" />
          <text x="160" y="60" fill="#171717" stroke="none">1</text>
          <text x="114" y="122" fill="#171717" stroke="none">2</text>
        </template>
        <template v-else-if="kind === 'density'">
          <path d="M40 50h110v30H40zM150 58h14v14h-14M164 65h30M40 58H20M20 46v38" fill="#fff" />
          <rect x="70" y="51" width="79" height="28" :fill="checks.masstone_srgb" stroke="none" />
          <path d="M70 44v42" stroke-width="3" />
        </template>
        <template v-else-if="kind === 'string'">
          <path d="M60 16h92l22 7-22 7H60z" fill="#bdbdbd" />
          <path d="M106 30q-8 20-2 38t2 38" :stroke="checks.masstone_srgb" stroke-width="5" />
          <path d="M60 118q46-24 96 0z" :fill="checks.masstone_srgb" stroke="none" />
          <path d="M178 32v74M172 32h12M172 106h12" />
        </template>
        <template v-else-if="kind === 'fineness'">
          <rect x="14" y="40" width="192" height="48" fill="#fff" />
          <path d="M22 48h176l0 12q-90 24-176 20z" :fill="checks.masstone_srgb" stroke="none" />
          <path v-for="n in 5" :key="n" :d="`M${20 + n * 32} 88v8`" />
        </template>
        <template v-else-if="kind === 'bleed'">
          <rect x="40" y="4" width="140" height="122" fill="#fff" />
          <circle cx="110" cy="65" r="46" fill="#e2e2e2" stroke="#8a8a8a" stroke-dasharray="3 3" />
          <circle cx="110" cy="65" r="24" :fill="checks.masstone_srgb" stroke="none" />
          <path d="M134 65h22M134 59v12M156 59v12" />
        </template>
        <template v-else-if="kind === 'transparency'">
          <rect x="20" y="24" width="90" height="82" fill="#171717" />
          <rect x="110" y="24" width="90" height="82" fill="#fff" />
          <path
            d="M30 50q80-14 160 0v30q-80-14-160 0z"
            :fill="checks.masstone_srgb"
            fill-opacity=".72"
            stroke="none"
          />
        </template>
        <template v-else-if="COLOURS.includes(kind)">
          <rect x="14" y="16" width="84" height="98" fill="#777" stroke="none" />
          <rect x="98" y="16" width="108" height="98" fill="#9a9a9a" stroke="none" />
          <rect x="114" y="32" width="76" height="66" :fill="checks.masstone_srgb" stroke="none" />
          <text x="22" y="108" fill="#fff" stroke="none">grey card</text>
        </template>
        <template v-else>
          <path d="M20 90q90-26 180 0v14H20z" :fill="checks.masstone_srgb" stroke="none" />
          <path
            v-for="n in 9"
            :key="n"
            :d="`M${26 + n * 18} ${92 - Math.sin(n / 3) * 14}q10-6 16 0`"
            stroke="#fff"
            stroke-opacity=".6"
          />
        </template>
      </svg>
    </div>
    <form class="mt-3" @submit.prevent="send">
      <div class="flex flex-wrap items-end gap-3">
        <template v-if="kind === 'spread'">
          <NumberField
            v-model="d1"
            class="w-36"
            large
            label="Across, 1"
            unit="mm"
            :refusal="said('diameters_mm.0')"
            @enter="send"
          />
          <NumberField
            v-model="d2"
            class="w-36"
            large
            label="Across, 2"
            unit="mm"
            :refusal="said('diameters_mm.1') ?? said('diameters_mm')"
            @enter="send"
          />
          <NumberField v-model="volume" class="w-24" label="Volume" unit="ml" :refusal="said('volume_ml')" />
          <NumberField
            v-model="mass"
            class="w-28"
            label="Plate, weight"
            unit="kg"
            :refusal="said('mass_kg')"
          />
          <NumberField v-model="plate" class="w-28" label="Plate" unit="mm" :refusal="said('plate_mm')" />
        </template>
        <template v-else-if="kind === 'density'">
          <NumberField
            v-model="tare"
            class="w-40"
            large
            label="Empty"
            unit="g"
            :refusal="said('tare_g')"
            @enter="send"
          />
          <NumberField
            v-model="gross"
            class="w-40"
            large
            label="Full"
            unit="g"
            :refusal="said('gross_g')"
            @enter="send"
          />
          <NumberField
            v-model="volume"
            class="w-32"
            label="Volume of paint"
            unit="ml"
            :refusal="said('volume_ml')"
            @enter="send"
          />
        </template>
        <NumberField
          v-else-if="kind === 'string' || kind === 'bleed'"
          v-model="length"
          class="w-48"
          large
          :label="kind === 'string' ? 'Longest thread' : 'Halo'"
          unit="mm"
          :refusal="said('length_mm')"
          @enter="send"
        />
        <NumberField
          v-else-if="kind === 'fineness'"
          v-model="fineness"
          class="w-48"
          large
          label="Gauge reads"
          unit="µm"
          :refusal="said('fineness_um')"
          @enter="send"
        />
        <div v-else-if="choices.length" class="flex flex-wrap gap-2" role="group" aria-label="It is">
          <button
            v-for="one in choices"
            :key="one"
            type="button"
            class="btn btn-slab flex-col gap-1 px-6 py-2"
            :disabled="busy"
            @click="emit('record', { kind, choice: one }, note)"
          >
            <svg viewBox="0 0 76 40" width="76" height="40" aria-hidden="true">
              <template v-if="kind === 'transparency'">
                <path d="M4 4h34v32H4z" fill="#171717" />
                <path d="M38 4h34v32H38z" fill="#fff" stroke="#171717" />
                <path
                  d="M8 14q30-6 60 0v14q-30-6-60 0z"
                  :fill="checks.masstone_srgb"
                  :fill-opacity="DRAWN[one]"
                />
              </template>
              <template v-else>
                <rect
                  x="4"
                  y="4"
                  width="68"
                  height="32"
                  :fill="kind === 'drying' ? '#fff' : checks.masstone_srgb"
                />
                <path
                  :d="SURFACES[one]"
                  :fill="one === 'wet' ? '#9a9a9a' : 'none'"
                  :stroke="kind === 'drying' ? '#171717' : '#fff'"
                  stroke-width="2"
                />
              </template></svg
            >{{ one }}
          </button>
        </div>
        <template v-else>
          <div class="flex basis-full flex-wrap gap-1.5" role="group" aria-label="How it is read">
            <button
              v-for="[key, name] in WAYS"
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
          <label v-if="way === 'srgb'"
            ><span class="label">sRGB</span
            ><input
              v-model="srgb"
              class="field figure w-40"
              maxlength="7"
              :aria-invalid="said('srgb') ? 'true' : undefined"
            /><span v-if="said('srgb')" class="refusal" role="alert">{{ said('srgb') }}</span></label
          >
          <div v-else-if="way === 'file'" class="basis-full">
            <label class="btn"
              ><input type="file" class="sr-only" accept=".txt,.csv,.cgats,.it8" @change="file" />Choose a
              file</label
            >
            <p class="small quiet mt-1">CGATS.17 text or CSV: Lab, or 400 to 700 nm in steps of 10.</p>
            <div v-if="unscaled" class="mt-2" role="alert">
              <p>The file does not say what its figures are of. What is all the light in it?</p>
              <div class="mt-1 flex gap-2">
                <button type="button" class="btn" @click="void readFile(unscaled, 'fraction')">
                  1 (fractions)
                </button>
                <button type="button" class="btn" @click="void readFile(unscaled, 'percent')">
                  100 (percent)
                </button>
              </div>
            </div>
            <div
              v-if="samples.length > 1"
              class="mt-2 flex flex-wrap gap-1.5"
              role="group"
              aria-label="Which sample"
            >
              <button v-for="one in samples" :key="one.name" type="button" class="btn" @click="take(one)">
                {{ one.name }}
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
                  class="pointer-events-none absolute h-5 w-5 -translate-x-1/2 -translate-y-1/2 border-2 border-white outline-2 outline-ink"
                  :style="{ left: `${at.x * 100}%`, top: `${at.y * 100}%` }"
                />
              </div>
            </template>
          </div>
          <button v-else-if="way === 'reader'" type="button" class="btn btn-slab px-6" @click="reader">
            Read it
          </button>
          <template
            v-if="way === 'lab' || (!spectrum && (way === 'photo' || way === 'file') && lab.L != null)"
          >
            <NumberField v-model="lab.L" class="w-32" label="L" :refusal="said('lab.L')" />
            <NumberField v-model="lab.a" class="w-32" label="a" :refusal="said('lab.a')" />
            <NumberField v-model="lab.b" class="w-32" label="b" :refusal="said('lab.b')" />
            <p v-if="uncertainty" class="small quiet pb-3">
              may be off by ΔE00 <span class="figure">{{ uncertainty }}</span>
            </p>
          </template>
          <svg
            v-if="spectrum"
            viewBox="0 0 240 90"
            class="w-60"
            role="img"
            aria-label="The spectrum, 400 to 700 nm"
          >
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
        <button v-if="!choices.length" class="btn btn-main btn-slab px-8" :disabled="busy">Record</button>
        <p v-if="told" class="pb-5 text-lg font-semibold" role="status" aria-label="So far">
          <span class="figure">{{ told }}</span>
        </p>
      </div>
      <label class="mt-3 block max-w-lg"
        ><span class="label">A note to it, if any</span><input v-model="note" class="field" maxlength="500"
      /></label>
      <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
    </form>
  </section>
</template>
