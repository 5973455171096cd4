<script setup lang="ts">
/** An amount in whatever way it was measured: grams, millilitres, level spoons, drops, or the bottle weighed back. */
import { computed, onMounted, ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { massUnit } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'

type Measure = Schemas['AmountAsked']
const props = defineProps<{ title: string; suggested?: number | null; powder?: boolean; only?: Schemas['Unit'][]; refusal?: Refused; doing: string; busy?: boolean }>()
const emit = defineEmits<{ record: [measure: Measure]; close: [] }>()
const { data: workshop } = useWorkshop()

const NAMES: Partial<Record<Schemas['Unit'], string>> = {
  g: 'grams', ounce: 'ounces', ml: 'millilitres', drop: 'drops', weigh_back: 'weigh back',
  teaspoon: 'teaspoons', half_teaspoon: 'half teaspoons', quarter_teaspoon: 'quarter teaspoons', tablespoon: 'tablespoons',
  us_teaspoon: 'US teaspoons', us_half_teaspoon: 'US half teaspoons', us_quarter_teaspoon: 'US quarter teasp.', us_tablespoon: 'US tablespoons',
}
const spoonSet = computed<Schemas['Unit'][]>(() =>
  workshop.value?.settings.spoon_set === 'us'
    ? ['us_teaspoon', 'us_half_teaspoon', 'us_quarter_teaspoon', 'us_tablespoon']
    : ['teaspoon', 'half_teaspoon', 'quarter_teaspoon', 'tablespoon'],
)
const plain = computed<Schemas['Unit'][]>(() => (massUnit() === 'oz' ? ['g', 'ounce'] : ['g']))
const units = computed<Schemas['Unit'][]>(() => props.only ?? (props.powder ? [...plain.value, 'weigh_back', ...spoonSet.value] : [...plain.value, 'drop', 'ml', 'weigh_back', ...spoonSet.value]))
const unit = ref<Schemas['Unit']>('g')
const amount = ref<number | null>(props.suggested != null ? Number(props.suggested.toFixed(1)) || Number(props.suggested.toFixed(2)) : null)
const before = ref<number | null>(null)
const after = ref<number | null>(null)
const field = ref<InstanceType<typeof NumberField> | null>(null)
onMounted(() => field.value?.focus())

const missing = ref('')
function send(): void {
  missing.value = ''
  if (unit.value === 'weigh_back') {
    if (before.value == null || after.value == null) missing.value = 'Both weights are needed, in g.'
    else emit('record', { unit: 'weigh_back', before_g: before.value, after_g: after.value })
  } else if (amount.value == null) missing.value = 'Accepted: a number above 0.'
  else emit('record', { unit: unit.value, amount: amount.value })
}
const said = (name: string) => props.refusal?.at(`measure.${name}`)
function pick(chosen: Schemas['Unit']): void {
  if (unit.value === 'g' && chosen !== 'g') amount.value = null
  unit.value = chosen
  field.value?.focus()
}
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="send" @keydown.esc.prevent="emit('close')">
    <h2 class="mb-2 text-xl">{{ title }}</h2>
    <slot />
    <div class="flex flex-wrap items-end gap-3">
      <template v-if="unit === 'weigh_back'">
        <NumberField ref="field" v-model="before" class="w-48" large label="Before" unit="g" :refusal="said('before_g')" @enter="send" />
        <NumberField v-model="after" class="w-48" large label="After" unit="g" :refusal="said('after_g')" @enter="send" />
      </template>
      <NumberField v-else ref="field" v-model="amount" class="w-60" large label="How much" :unit="unit === 'g' || unit === 'ml' ? unit : unit === 'ounce' ? 'oz' : ''" :refusal="said('amount') ?? missing" @enter="send" />
      <button class="btn btn-main btn-slab px-8" :disabled="busy">{{ doing }}</button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
    <span v-if="unit === 'weigh_back' && missing" class="refusal" role="alert">{{ missing }}</span>
    <span v-if="refusal && !said('amount') && !said('before_g') && !said('after_g')" class="refusal" role="alert">{{ refusal.message }}</span>
    <div v-if="units.length > 1" class="mt-3 flex flex-wrap gap-1.5" role="group" aria-label="Measured in">
      <button v-for="one in units" :key="one" type="button" class="btn px-3 text-[0.95rem]" :class="unit === one ? 'bg-ink! text-white' : ''" :aria-pressed="unit === one" @click="pick(one)">{{ NAMES[one] }}</button>
    </div>
  </form>
</template>
