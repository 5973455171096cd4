<script setup lang="ts">
/** An amount in whatever way it was measured: grams, millilitres, level spoons, drops, or the bottle weighed back. */
import { computed, onMounted, ref, watch } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { asTold, useUnits } from '@/kit/units'
import type { Reading } from './acts'
import BalanceWeigh from '@/kit/BalanceWeigh.vue'

type Measure = Schemas['AmountAsked']
/** What is known of the material, so that any measure becomes grams. */
export type Known = {
  density_g_per_ml?: number | null
  loose_density_g_per_ml?: number | null
  loose_density_measured?: boolean
  drop_g?: number | null
  drop_measured?: boolean
}
const props = defineProps<{
  title: string
  suggested?: number | null
  powder?: boolean
  only?: Schemas['Unit'][]
  refusal?: Refused
  doing: string
  busy?: boolean
  known?: Known
  weight?: Reading
  fine?: boolean
  /** A balance that cannot be tared from here. */
  noTare?: boolean
  told?: Schemas['Told'] | null
  habit?: Schemas['Habit']
}>()
const emit = defineEmits<{ record: [measure: Measure]; close: [] }>()
const { units: offered, teaspoon, known: unitKnown } = useUnits()
/** Whether spoons and cups that are seldom at hand are offered too. */
const all = ref(false)
const units = computed(() =>
  props.only
    ? props.only.flatMap((unit) => unitKnown(unit) ?? [])
    : offered.value.filter(
        (one) =>
          (props.powder ? one.powder : one.liquid) && (all.value || !one.rare || one.unit === unit.value),
      ),
)
/** Who has no scale begins with a spoon, drops or marks. */
const first = computed<Schemas['Unit']>(() => {
  const habit = props.habit
  if (props.told && !props.weight) return props.told.unit
  if (!habit || habit.how === 'scale' || props.weight || props.only) return 'g'
  return props.powder ? teaspoon.value : habit.small === 'ml' ? 'ml' : 'drop'
})
const unit = ref<Schemas['Unit']>('g')
type Fill = NonNullable<Measure['fill']>
const fill = ref<Fill>('level')
const FILLS: { key: Fill; name: string; path: string }[] = [
  { key: 'level', name: 'level', path: 'M12 20h34' },
  { key: 'tapped', name: 'tapped, level', path: 'M12 20h34M20 26h18M24 31h10' },
  { key: 'heaped', name: 'heaped', path: 'M12 20q17-22 34 0z' },
]
const spooned = computed(() => props.powder && unitKnown(unit.value)?.family === 'spoon')
/** With a balance the amount is left to it; without one the suggestion is filled in. */
const amount = ref<number | null>(
  props.weight
    ? null
    : props.suggested != null
      ? Number(props.suggested.toFixed(props.fine && props.suggested < 5 ? 2 : 1)) ||
        Number(props.suggested.toFixed(2))
      : null,
)
const before = ref<number | null>(null)
const after = ref<number | null>(null)
const field = ref<InstanceType<typeof NumberField> | null>(null)
onMounted(() => {
  unit.value = first.value
  if (props.told && unit.value === props.told.unit) amount.value = props.told.amount
  else if (unit.value !== 'g') amount.value = null
  field.value?.focus()
})

/** What has been typed, in grams with its spread and basis, as the core reckons it. */
const mass = ref<Schemas['Estimate']>()
watch([unit, amount, before, after, fill], async () => {
  const [asked, at] = [measure(), Symbol()]
  latest = at
  if (!asked || asked.unit === 'g' || !props.known) return void (mass.value = undefined)
  const { density_g_per_ml, loose_density_g_per_ml, loose_density_measured, drop_g, drop_measured } =
    props.known
  const own = unitKnown(unit.value)?.family === 'own' ? unitKnown(unit.value) : undefined
  const volume = props.powder
    ? { loose_density_g_per_ml, loose_density_measured: loose_density_measured ?? false }
    : { density_g_per_ml }
  try {
    const answer = await answered(
      api.POST('/api/calc/measure', {
        body: {
          loose_density_measured: false,
          by_marks: true,
          ...asked,
          fill: asked.fill ?? 'level',
          ...volume,
          drop_g,
          drop_measured: drop_measured ?? false,
          holds_ml: own?.ml,
          holds_spread: own?.spread ?? 1,
        },
      }),
    )
    if (latest === at) mass.value = answer.mass_g
  } catch {
    if (latest === at) mass.value = undefined
  }
})
let latest: symbol | undefined
function measure(): Measure | undefined {
  if (unit.value === 'weigh_back')
    return before.value != null && after.value != null
      ? { unit: 'weigh_back', before_g: before.value, after_g: after.value }
      : undefined
  if (amount.value == null) return undefined
  // As it was told, in two measures, unless another amount was put in.
  const told = props.told
  if (told?.parts?.length && unit.value === told.unit && amount.value === told.amount) return asTold(told)
  return { unit: unit.value, amount: amount.value, ...(spooned.value && { fill: fill.value }) }
}
const missing = ref('')
const balance = ref<InstanceType<typeof BalanceWeigh> | null>(null)
function send(): void {
  missing.value = ''
  const measured = measure()
  if (!measured && balance.value) return balance.value.take()
  if (measured) emit('record', measured)
  else
    missing.value = unit.value === 'weigh_back' ? 'Both weights are needed, in g.' : 'Try a number above 0.'
}
const said = (name: string) => props.refusal?.at(`measure.${name}`)
function pick(chosen: Schemas['Unit']): void {
  if (unit.value !== chosen) amount.value = props.told?.unit === chosen ? props.told.amount : null
  unit.value = chosen
  field.value?.focus()
}
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="send" @keydown.esc.prevent="emit('close')">
    <h2 class="mb-2 text-xl">{{ title }}</h2>
    <slot />
    <BalanceWeigh
      v-if="weight"
      ref="balance"
      :weight="weight"
      :wanted="suggested"
      :no-tare="noTare"
      :busy="busy"
      @take="emit('record', $event)"
    />
    <div class="flex flex-wrap items-end gap-3">
      <template v-if="unit === 'weigh_back'">
        <NumberField
          ref="field"
          v-model="before"
          class="w-48"
          large
          label="Before"
          unit="g"
          :refusal="said('before_g')"
          @enter="send"
        />
        <NumberField
          v-model="after"
          class="w-48"
          large
          label="After"
          unit="g"
          :refusal="said('after_g')"
          @enter="send"
        />
      </template>
      <NumberField
        v-else
        ref="field"
        v-model="amount"
        class="w-52"
        large
        :label="weight ? 'Or typed' : 'How much'"
        :unit="unit === 'g' || unit === 'ml' ? unit : unit === 'ounce' ? 'oz' : ''"
        :refusal="said('amount') ?? missing"
        @enter="send"
      />
      <p v-if="mass" class="leading-tight" role="status">
        = <span class="figure text-2xl font-semibold">{{ digits(mass.median, 2) }}</span> g
        <span class="small quiet block"
          ><span v-if="mass.high > mass.low" class="figure"
            >{{ digits(mass.low, 2) }} to {{ digits(mass.high, 2) }} g </span
          ><BasisMark :basis="mass.basis" words
        /></span>
      </p>
      <button class="btn btn-slab px-6" :class="weight ? '' : 'btn-main'" :disabled="busy">
        {{ doing }}
      </button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
    <span v-if="unit === 'weigh_back' && missing" class="refusal" role="alert">{{ missing }}</span>
    <span
      v-if="refusal && !said('amount') && !said('before_g') && !said('after_g')"
      class="refusal"
      role="alert"
      >{{ refusal.words }}</span
    >
    <p v-if="told?.parts?.length && amount === told.amount && unit === told.unit" class="mt-2 text-lg">
      That is <strong>{{ told.words }}</strong>.
    </p>
    <div v-if="spooned" class="mt-3 flex flex-wrap gap-1.5" role="group" aria-label="How full">
      <button
        v-for="choice in FILLS"
        :key="choice.key"
        type="button"
        class="btn flex-col gap-0 px-3 text-[0.95rem]"
        :class="fill === choice.key ? 'bg-act-wash! outline-3 outline-act' : ''"
        :aria-pressed="fill === choice.key"
        @click="fill = choice.key"
      >
        <svg viewBox="0 0 76 40" width="57" height="30" aria-hidden="true">
          <path
            d="M10 20h38q-2 16-19 16T10 20zM48 22l24-6"
            fill="#bdbdbd"
            stroke="#171717"
            stroke-width="1.500"
          />
          <path
            :d="choice.path"
            :fill="choice.key === 'heaped' ? '#777' : 'none'"
            stroke="#171717"
            stroke-width="2"
          /></svg
        >{{ choice.name }}
      </button>
    </div>
    <div v-if="units.length > 1" class="mt-3 flex flex-wrap gap-1.5" role="group" aria-label="Measured in">
      <button
        v-for="choice in units"
        :key="choice.unit"
        type="button"
        class="btn px-3 text-[0.95rem]"
        :class="unit === choice.unit ? 'bg-ink! text-white' : ''"
        :aria-pressed="unit === choice.unit"
        @click="pick(choice.unit)"
      >
        {{ choice.button }}
      </button>
      <button v-if="!only && !all" type="button" class="btn btn-quiet text-[0.95rem]" @click="all = true">
        Cups and other spoons
      </button>
    </div>
  </form>
</template>
