<script setup lang="ts">
/** One act of a run at the bench: weighed in, pH, warmth, a wash, the plate, heating, a step, what there is, waste. */
import { computed, onMounted, ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import type { Reading } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import { amount, type Run, type RunSaid } from './room'
import SieveEntry from './SieveEntry.vue'

export type RunPanel =
  | 'added'
  | 'ph'
  | 'temperature'
  | 'washed'
  | 'weighed'
  | 'heated'
  | 'sieved'
  | 'step'
  | 'finish'
  | 'waste'
  | 'colour'
  | 'note'
  | 'abandon'
const props = defineProps<{
  panel: RunPanel
  view: Run
  of?: string
  weight?: Reading
  acidity?: number | null
  warmth?: number | null
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: RunSaid]; close: [] }>()
const ingredient = computed(() => props.view.weigh.find((one) => one.key === props.of))
const step = computed(() => props.view.steps.find((one) => one.key === props.of))
const title = computed(
  () =>
    ({
      added: `${ingredient.value?.name ?? ''} in`,
      ph: 'pH',
      temperature: 'How warm it is',
      washed: 'One wash',
      weighed: 'On the balance while it dries',
      heated: 'Heated',
      sieved: 'Sieved',
      step: step.value?.says ?? '',
      finish: 'All there is, dry',
      waste: 'Into the waste book',
      colour: 'How it looks now',
      note: 'A note',
      abandon: 'Give it up',
    })[props.panel],
)
const LABELS: Partial<Record<RunPanel, [string, string]>> = {
  added: ['How much', 'g'],
  ph: ['pH, by strip or meter', ''],
  temperature: ['Temperature', '\u00b0C'],
  washed: ['Water', 'ml'],
  weighed: ['With its plate', 'g'],
  heated: ['After', 'g'],
  finish: ['Without its dish', 'g'],
  waste: ['How much', 'ml'],
}
function suggested(): number | null {
  const v = props.view
  switch (props.panel) {
    case 'added':
      return ingredient.value?.left_g ? Number(ingredient.value.left_g.toFixed(2)) : null
    case 'washed':
      return v.wash?.ml ? Math.round(v.wash.ml) : null
    case 'waste':
      return v.waste.open_ml ? Math.round(v.waste.open_ml) : null
    case 'temperature':
      return props.warmth != null ? Math.round(props.warmth) : null
    case 'ph':
      return props.acidity != null ? Number(props.acidity.toFixed(1)) : null
    default:
      return null
  }
}
const value = ref<number | null>(suggested())
const before = ref<number | null>(props.view.heat?.before_g ?? props.view.dry?.readings.at(-1)?.g ?? null)
const tare = ref<number | null>(props.view.dry?.tare_g ?? null)
const unit = ref<Schemas['Unit']>('g')
const UNITS: [Schemas['Unit'], string][] = [
  ['g', 'g'],
  ['teaspoon', 'level teaspoons'],
  ['tablespoon', 'level tablespoons'],
]
const way = ref<Schemas['WasteWay']>('kept')
const srgb = ref('#6a8f7a')
const text = ref('')
const missing = ref('')
const balance = computed(() => ['added', 'weighed', 'heated', 'finish'].includes(props.panel))
const live = computed(() => (props.weight?.state === 'steady' ? props.weight.weight_g : null))
const said = (field: string) => props.refusal?.at(field)
const FIELDS =
  /^(g|ml|ph|temperature_c|measure(\..*)?|why|way|before_g|tare_g|anyway|lot_id|fractions.*|pan_g|charge_g)$/
const other = computed(() =>
  props.refusal && !props.refusal.problem.errors.some((e) => FIELDS.test(e.field))
    ? props.refusal.words
    : undefined,
)
/** Whether it is asked if it is really so: a weight above the last one, or above all there can be. */
const asked = computed(() => said('anyway'))
/** Another lot than the one planned: a bag that is empty half way. */
const lot = ref<number | null>(null)
const chosenLot = computed(() =>
  ingredient.value?.offered.find((one) => one.lot_id === (lot.value ?? ingredient.value?.lot_id)),
)
const first = ref<{ focus?: () => void } | null>(null)
onMounted(() => first.value?.focus?.())
const fieldSaid = computed(
  () =>
    asked.value ??
    said('measure.amount') ??
    said('measure') ??
    (props.panel === 'ph' ? said('ph') : undefined) ??
    said('temperature_c') ??
    said('ml') ??
    said('g') ??
    (missing.value || undefined),
)
const byStep = computed(() => (step.value ? { step: step.value.key } : {}))
function keep(anyway = false): void {
  missing.value = ''
  const v = value.value ?? (balance.value ? (live.value ?? null) : null)
  const need = (what: string) => void (missing.value = `Missing. Accepted: ${what}.`)
  const words = text.value.trim()
  switch (props.panel) {
    case 'added':
      if (v == null) return need('how much went in')
      return emit('record', {
        kind: 'added',
        ingredient: props.of!,
        measure: { unit: unit.value, amount: v },
        step: '',
        ...(lot.value != null ? { lot_id: lot.value } : {}),
      })
    case 'ph':
      if (v == null) return need('the pH, 0 to 14')
      return emit('record', { kind: 'ph', ph: v })
    case 'temperature':
      if (v == null) return need('degrees')
      return emit('record', { kind: 'temperature', temperature_c: v })
    case 'washed':
      if (v == null) return need('the ml of one wash, above 0')
      return emit('record', { kind: 'washed', ml: v, step: '' })
    case 'weighed':
      if (v == null) return need('what it weighs with its plate, in g')
      return emit('record', { kind: 'weighed', g: v, tare_g: tare.value ?? 0, anyway, step: '' })
    case 'heated':
      if (v == null || before.value == null) return need('both weights, in g')
      return emit('record', { kind: 'heated', before_g: before.value, g: v, step: '', ...byStep.value })
    case 'finish':
      if (v == null) return need('what there is, in g')
      return emit('record', { kind: 'finish', g: v, anyway })
    case 'waste':
      if (v == null) return need('the ml that left')
      return emit('record', { kind: 'waste', ml: v, way: way.value, text: words })
    case 'colour':
      return emit('record', { kind: 'colour', srgb: srgb.value, text: words })
    case 'note':
      if (!words) return need('a few words')
      return emit('record', { kind: 'note', text: words })
    case 'abandon':
      return emit('record', { kind: 'abandon', text: words })
    default:
      return
  }
}
const mark = (kind: 'done' | 'skip') =>
  emit('record', { kind, step: props.of!, why: text.value.trim() } as RunSaid)
const WAYS: [Schemas['WasteWay'], string][] = [
  ['kept', 'kept here'],
  ['handed_over', 'to licensed disposal'],
  ['drain', 'poured away'],
]
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-3 sm:p-4" :aria-label="title">
    <h2 class="mb-2 text-xl">{{ title }}</h2>
    <SieveEntry
      v-if="panel === 'sieved'"
      :refusal="refusal"
      :busy="busy"
      @record="(s) => emit('record', s)"
    />
    <template v-else-if="panel === 'step'">
      <p v-if="step?.good" class="mb-2">Good: {{ step.good }}</p>
      <label class="block max-w-xl"
        ><span class="label">Why, where it is out of order or left out</span
        ><input v-model="text" class="field" maxlength="300" /><span
          v-if="said('why')"
          class="refusal"
          role="alert"
          >{{ said('why') }}</span
        ></label
      >
      <div class="mt-3 flex flex-wrap gap-3">
        <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="mark('done')">
          It is done
        </button>
        <button type="button" class="btn btn-slab px-6" :disabled="busy" @click="mark('skip')">
          Leave it out
        </button>
        <button
          v-if="step && (step.minutes || step.kind === 'hold' || step.kind === 'settle')"
          type="button"
          class="btn btn-slab px-6"
          :disabled="busy"
          @click="emit('record', { kind: step.running ? 'rest' : 'hold', step: step.key })"
        >
          {{ step.running ? 'Let the time rest' : 'Start its time' }}
        </button>
      </div>
    </template>
    <div v-else class="flex flex-wrap items-end gap-x-4 gap-y-3">
      <NumberField
        v-if="panel === 'heated'"
        v-model="before"
        class="w-40"
        large
        label="Before"
        unit="g"
        :refusal="said('before_g')"
      />
      <NumberField
        v-if="LABELS[panel]"
        ref="first"
        v-model="value"
        class="w-52"
        large
        :label="LABELS[panel]![0]"
        :unit="panel === 'added' && unit !== 'g' ? '' : LABELS[panel]![1]"
        :refusal="fieldSaid"
        @enter="keep()"
      />
      <div v-if="panel === 'ph'" class="flex basis-full flex-wrap gap-1.5" role="group" aria-label="By strip">
        <button
          v-for="one in view.ph_strip"
          :key="one.ph"
          type="button"
          class="btn figure min-h-14 min-w-14 px-2 text-lg"
          :class="one.inside ? 'border-4 border-act' : ''"
          :disabled="busy"
          @click="emit('record', { kind: 'ph', ph: one.ph })"
        >
          {{ one.ph }}
        </button>
      </div>
      <div v-if="panel === 'added'" class="flex flex-wrap" role="group" aria-label="Measured in">
        <button
          v-for="[key, name] in UNITS"
          :key="key"
          type="button"
          class="btn btn-slab -ml-[1.5px] rounded-none px-3 first:ml-0"
          :class="unit === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="unit === key"
          @click="unit = key"
        >
          {{ name }}
        </button>
      </div>
      <label v-if="panel === 'added' && ingredient?.offered.length" class="w-64"
        ><span class="label">Of which lot</span
        ><select
          class="field h-[72px]"
          :value="lot ?? ingredient.lot_id ?? 0"
          @change="lot = Number(($event.target as HTMLSelectElement).value) || null"
        >
          <option v-if="!ingredient.lot_id" :value="0">no lot of the stock</option>
          <option v-for="one in ingredient.offered" :key="one.lot_id" :value="one.lot_id">
            {{ one.code }}, {{ Math.round(one.left_g) }} g{{ one.suspect ? ' - UNDER SUSPICION' : '' }}
          </option></select
        ><span v-if="said('lot_id')" class="refusal" role="alert">{{ said('lot_id') }}</span></label
      >
      <NumberField
        v-if="panel === 'weighed'"
        v-model="tare"
        class="w-36"
        label="Plate alone"
        unit="g"
        :refusal="said('tare_g')"
      />
      <p v-if="balance && weight?.weight_g != null" class="text-lg" role="status">
        the balance shows <span class="figure font-semibold">{{ digits(weight.weight_g, 2) }}</span> g<span
          class="quiet small block"
          >{{ live == null ? 'settling' : 'left empty, this is kept' }}</span
        >
      </p>
      <div v-if="panel === 'waste'" class="flex flex-wrap" role="group" aria-label="Where it went">
        <button
          v-for="[key, name] in WAYS"
          :key="key"
          type="button"
          class="btn -ml-[1.5px] rounded-none first:ml-0"
          :class="way === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="way === key"
          @click="way = key"
        >
          {{ name }}
        </button>
        <span v-if="said('way')" class="refusal basis-full" role="alert">{{ said('way') }}</span>
      </div>
      <label v-if="panel === 'colour'" class="w-28"
        ><span class="label">Colour</span
        ><input v-model="srgb" type="color" class="h-[72px] w-full border border-rule bg-white p-1"
      /></label>
      <label v-if="['waste', 'colour', 'note', 'abandon'].includes(panel)" class="min-w-56 flex-1"
        ><span class="label">{{
          panel === 'waste' ? 'In what, and where it stands' : panel === 'abandon' ? 'Why' : 'In words'
        }}</span
        ><input v-model="text" class="field" maxlength="300" @keydown.enter.prevent="keep()" /><span
          v-if="panel === 'note' && missing"
          class="refusal"
          role="alert"
          >{{ missing }}</span
        ></label
      >
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep()">
        Keep it
      </button>
    </div>
    <p v-if="panel === 'added' && ingredient" class="small quiet mt-2">
      Planned <span class="figure">{{ amount(ingredient.g) }}</span> g<template v-if="unit !== 'g'"
        >; {{ ingredient.spoon_says }}</template
      >
    </p>
    <p v-if="panel === 'added' && chosenLot?.suspect" class="mt-2 border-l-4 border-stop pl-3 text-stop">
      Lot {{ chosenLot.code }} is under suspicion: {{ chosenLot.suspect }}
    </p>
    <p v-if="panel === 'waste' && view.waste.holds.length" class="mt-3 border-l-4 border-stop pl-3">
      It may hold {{ view.waste.holds.join(', ') }}. A closed, named canister; licensed disposal.
    </p>
    <div v-if="asked" class="mt-3 flex flex-wrap gap-3">
      <button type="button" class="btn" :disabled="busy" @click="keep(true)">
        {{ panel === 'finish' ? 'Keep it all the same' : 'Yes, that is what it weighs' }}
      </button>
      <button v-if="panel === 'finish'" type="button" class="btn" @click="emit('close')">
        Dry or wash it on
      </button>
    </div>
    <span v-if="other" class="refusal" role="alert">{{ other }}</span>
    <button type="button" class="btn btn-quiet mt-2 -ml-2" @click="emit('close')">Close</button>
  </section>
</template>
