<script setup lang="ts">
/** The measuring layout of one check: how it is done, a drawing of what is measured, its fields. */
import { computed, ref, watch } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import ColourReading, { type Colour } from '@/kit/ColourReading.vue'
import NumberField from '@/kit/NumberField.vue'
import DrawnChoices from './DrawnChoices.vue'
import { COLOURS, KINDS, type Kind } from './kinds'
import MeasureDrawing from './MeasureDrawing.vue'
import Term from '@/kit/Term.vue'

type Sent = Omit<Schemas['CheckAsked'], 'id' | 'made_at' | 'note'>
/** The words of the craft behind a check. */
const TERM_OF: Record<string, string> = {
  spread: 'yield stress',
  string: 'string',
  bleed: 'bleed',
  fineness: 'grind gauge',
  masstone: 'masstone',
  tint: 'tint',
  transparency: 'transparency',
}
const props = defineProps<{ kind: Kind; checks: Schemas['BatchChecks']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [check: Sent, note: string] }>()

const d1 = ref<number | null>(null)
const d2 = ref<number | null>(null)
const volume = ref<number | null>(
  props.kind === 'density' ? props.checks.usual.density_volume_ml : props.checks.usual.spread_volume_ml,
)
const mass = ref<number | null>(props.checks.usual.spread_mass_kg)
const plate = ref<number | null>(props.checks.usual.plate_mm)
const gross = ref<number | null>(null)
const tare = ref<number | null>(null)
const length = ref<number | null>(null)
const fineness = ref<number | null>(null)
const note = ref('')
/** What the colour was read as. */
const colour = ref<Colour>({})
const reader = async () =>
  (
    await answered(
      api.POST('/api/checks/{number}/stand-in-reading', {
        params: { path: { number: props.checks.number }, query: { kind: props.kind } },
      }),
    )
  ).spectrum
const choices = computed(() => props.checks.choices[props.kind] ?? [])
const said = (field: string) => props.refusal?.at(field)

/** What the figures typed so far come to, as the core reckons it. */
const soFar = ref('')
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
            volume_ml: volume.value ?? props.checks.usual.spread_volume_ml,
            mass_kg: mass.value ?? props.checks.usual.spread_mass_kg,
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
      words =
        `${digits(answer.density_g_per_ml, 3)} g/ml, ${digits(answer.theoretical_g_per_ml, 3)} without air: ` +
        `air ${digits(100 * answer.air_fraction, 1)} %`
    }
  } catch {
    words = ''
  }
  if (latest === at) soFar.value = words
})
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
  else if (COLOURS.includes(k)) emit('record', { kind: k, ...colour.value }, note.value)
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" :aria-label="KINDS[kind].name">
    <div class="flex flex-wrap gap-x-8 gap-y-3">
      <div class="min-w-60 flex-1">
        <h2 class="text-[1.7rem] leading-tight font-semibold">
          <Term v-if="TERM_OF[kind]" :of="TERM_OF[kind]!">{{ KINDS[kind].name }}</Term><template v-else>{{
            KINDS[kind].name
          }}</template>
        </h2>
        <ol class="mt-1 space-y-0.5">
          <li v-for="(step, n) in KINDS[kind].how" :key="step" class="flex gap-2">
            <span class="figure quiet">{{ n + 1 }}</span>{{ step }}
          </li>
        </ol>
      </div>
      <MeasureDrawing :kind="kind" :masstone="checks.masstone_srgb" />
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
        <DrawnChoices
          v-else-if="choices.length"
          :kind="kind"
          :choices="choices"
          :masstone="checks.masstone_srgb"
          :busy="busy"
          @choose="(choice) => emit('record', { kind, choice }, note)"
        />
        <ColourReading
          v-else
          v-model="colour"
          :guess="checks.masstone_srgb"
          :reader="reader"
          :refusal="refusal"
        />
        <button v-if="!choices.length" class="btn btn-main btn-slab px-8" :disabled="busy">Record</button>
        <p v-if="soFar" class="pb-5 text-lg font-semibold" role="status" aria-label="So far">
          <span class="figure">{{ soFar }}</span>
        </p>
      </div>
      <label class="mt-3 block max-w-lg"
        ><span class="label">A note to it, if any</span><input v-model="note" class="field" maxlength="500"
      /></label>
      <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
    </form>
  </section>
</template>
