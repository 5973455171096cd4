<script setup lang="ts">
/** The entry of any act, as its declaration asks for it: one large figure, choices as buttons, the live reading. */
import { computed, nextTick, onMounted, ref } from 'vue'
import type { Refused } from '@/api/client'
import BalanceWeigh from '@/kit/BalanceWeigh.vue'
import { digits } from '@/kit/format'
import type { Reading } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import type { Entry, EntryField, Offer, Value } from './job'

const props = defineProps<{
  entry: Entry
  /** The entries that are one with this, to choose from. */
  group?: Entry[]
  offered?: Record<string, Offer[]>
  weight?: Reading
  temperature?: number | null
  ph?: number | null
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: { kind: string }]; close: []; other: [key: string] }>()

const live: Record<string, () => number | null> = {
  thermometer: () => (props.temperature != null ? Math.round(props.temperature) : null),
  ph_meter: () => (props.ph != null ? Number(props.ph.toFixed(1)) : null),
  balance: () => null,
}
const suggested = (field: EntryField): Value => (field.live && live[field.live]!()) ?? field.value ?? null
const values = ref<Record<string, Value>>(
  Object.fromEntries(props.entry.fields.map((field) => [field.name, suggested(field)])),
)
/** The field a number is sent as, or the unit an amount is in, where it can be in more than one. */
const units = ref<Record<string, string>>({})
const choicesOf = (field: EntryField): Offer[] => props.offered?.[field.name] ?? field.choices
const unitOf = (field: EntryField) => units.value[field.name] ?? unitsOf(field)[0]?.value?.toString()
const unitsOf = (field: EntryField): Offer[] => (field.drawn === 'amount' ? field.choices : field.units)
const pairs = (offers: Offer[]) => offers.map((one) => [one.value, one.label] as const)
/** Another unit: a number of the one before says nothing in it, but what is the same by another name stays. */
function turnTo(field: EntryField, to: string): void {
  if (field.drawn === 'amount' && unitOf(field) !== to) values.value[field.name] = null
  units.value[field.name] = to
}
const missing = ref<Record<string, string>>({})

const steady = computed(() => (props.weight?.state === 'steady' ? props.weight.weight_g : null))
const weighs = (field: EntryField) => field.live === 'balance' && props.weight?.weight_g != null
const fromBalance = (field: EntryField) =>
  field.live === 'balance' && field.drawn === 'number' ? (steady.value ?? null) : null
const said = (field: EntryField) =>
  props.refusal?.at(unitOf(field) ?? field.name) ??
  props.refusal?.at(field.name) ??
  props.refusal?.at(`${field.name}.amount`) ??
  missing.value[field.name]
const question = computed(() => props.refusal?.asks('anyway'))
const elsewhere = computed(() =>
  props.refusal && !question.value && !props.entry.fields.some((field) => said(field))
    ? props.refusal.words
    : undefined,
)
const unit = (field: EntryField) => {
  const chosen = unitsOf(field).find((one) => one.value === unitOf(field))
  if (!chosen) return field.unit
  return field.drawn === 'amount' && chosen.value !== 'g' ? '' : chosen.label
}
const chosen = (field: EntryField) => choicesOf(field).find((one) => one.value === values.value[field.name])
const cautions = computed(() => [
  ...props.entry.fields.map((field) => chosen(field)?.caution ?? '').filter(Boolean),
  ...(props.entry.caution ? [props.entry.caution] : []),
])
const numeric = (field: EntryField) => field.drawn === 'number' || field.drawn === 'amount'
/** Numbers that may be tapped at once, beneath what is typed. */
const strips = computed(() =>
  props.entry.fields.filter((field) => field.drawn === 'number' && field.choices.length),
)
const plain = computed(() => props.entry.fields.some((field) => field.large || field.drawn === 'amount'))

/** What the fields say, each under the name it goes out by; nothing where something needed is missing. */
function filled(only?: readonly string[] | null): Record<string, unknown> | undefined {
  missing.value = {}
  const out: Record<string, unknown> = {}
  for (const field of props.entry.fields) {
    if (only && !only.includes(field.name)) continue
    let value = values.value[field.name]
    if (numeric(field)) value ??= fromBalance(field)
    if (field.whole && typeof value === 'number') value = Math.round(value)
    const empty = value == null || (typeof value === 'string' && !value.trim())
    if (empty && (field.needed || field.units.length)) {
      missing.value[field.name] = `Needed: ${field.accepted || 'a value'}.`
    } else if (!empty && field.drawn === 'amount') {
      out[field.name] = { unit: unitOf(field) ?? 'g', amount: value }
    } else if (!empty) out[field.units.length ? unitOf(field)! : field.name] = value
  }
  return Object.keys(missing.value).length ? undefined : out
}
function send(kind: string, more: object = {}, only?: readonly string[] | null): void {
  const fields = filled(only)
  if (fields) emit('record', { ...props.entry.sends, ...fields, ...more, kind })
}
const keep = (more: object = {}) => send(props.entry.kind, more)
function atOnce(field: EntryField, value: Value): void {
  values.value[field.name] = value
  keep()
}
const first = ref<{ focus?: () => void }[]>([])
onMounted(() => void nextTick(() => first.value[0]?.focus?.()))
</script>

<template>
  <section
    class="border-2 border-ink bg-sheet p-3 sm:p-4"
    :aria-label="entry.title"
    @keydown.esc.prevent="emit('close')"
  >
    <h2 class="mb-2 text-xl">{{ entry.title }}</h2>
    <p v-if="entry.says && !plain" class="mb-2">{{ entry.says }}</p>
    <template v-for="field in entry.fields" :key="field.name">
      <BalanceWeigh
        v-if="field.drawn === 'amount' && weighs(field)"
        :weight="weight!"
        :wanted="entry.wanted_g"
        :busy="busy"
        @take="(measure) => emit('record', { ...entry.sends, kind: entry.kind, measure } as { kind: string })"
      />
    </template>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-3">
      <label v-if="group && group.length > 1" class="min-w-60 flex-1"
        ><span class="label">What</span
        ><select
          class="field h-[72px] text-lg"
          :value="entry.key"
          @change="emit('other', ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="one in group" :key="one.key" :value="one.key">{{ one.name }}</option>
        </select></label
      >
      <template v-for="field in entry.fields" :key="field.name">
        <template v-if="numeric(field)">
          <NumberField
            ref="first"
            v-model="values[field.name] as number | null"
            :class="field.large ? 'w-52' : 'w-44'"
            :large="field.large"
            :label="field.label"
            :unit="unit(field)"
            :refusal="said(field)"
            :accepted="field.accepted || undefined"
            @enter="keep()"
          />
          <OneOf
            v-if="unitsOf(field).length"
            :model-value="unitOf(field)"
            :of="pairs(unitsOf(field))"
            label="Measured in"
            @update:model-value="(to) => turnTo(field, to as string)"
          />
          <p v-if="field.drawn === 'number' && weighs(field)" class="text-lg" role="status">
            the balance shows
            <span class="figure font-semibold">{{ digits(weight!.weight_g!, 2) }}</span> g<span
              class="quiet small block"
              >{{ steady == null ? 'settling' : 'left empty, this is kept' }}</span
            >
          </p>
        </template>
        <div v-else-if="field.drawn === 'choice'">
          <span class="label" aria-hidden="true">{{ field.label }}</span>
          <OneOf v-model="values[field.name]" :of="pairs(field.choices)" :label="field.label" slab />
          <span v-if="said(field)" class="refusal" role="alert">{{ said(field) }}</span>
        </div>
        <div
          v-else-if="field.drawn === 'at_once'"
          class="grid basis-full gap-2 sm:grid-cols-2"
          role="group"
          :aria-label="field.label"
        >
          <button
            v-for="one in field.choices"
            :key="one.label"
            type="button"
            class="btn btn-slab flex-col items-start gap-0 py-2 text-left"
            :disabled="busy || one.off"
            @click="atOnce(field, one.value)"
          >
            {{ one.label }}<span class="small quiet font-normal">{{ one.detail }}</span>
          </button>
        </div>
        <label v-else-if="field.drawn === 'pick'" class="min-w-60 flex-1"
          ><span class="label">{{ field.label }}</span
          ><select
            v-model="values[field.name]"
            class="field h-[72px]"
            :aria-invalid="said(field) ? 'true' : undefined"
          >
            <option
              v-if="values[field.name] == null && !choicesOf(field).some((one) => one.value == null)"
              :value="null"
            >
              choose one
            </option>
            <option v-for="one in choicesOf(field)" :key="one.label" :value="one.value">
              {{ one.label }}{{ one.caution ? ' - UNDER SUSPICION' : '' }}
            </option></select
          ><span v-if="said(field)" class="refusal" role="alert">{{ said(field) }}</span></label
        >
        <label v-else-if="field.drawn === 'check'" class="flex min-h-12 items-center gap-3"
          ><input v-model="values[field.name]" type="checkbox" class="h-7 w-7 accent-act" /><span
            >{{ field.label
            }}<span v-if="field.detail" class="quiet small block">{{ field.detail }}</span></span
          ><span v-if="said(field)" class="refusal basis-full" role="alert">{{ said(field) }}</span></label
        >
        <label v-else-if="field.drawn === 'colour'" class="w-28"
          ><span class="label">{{ field.label }}</span
          ><input
            v-model="values[field.name]"
            type="color"
            class="h-[72px] w-full border border-rule bg-white p-1"
        /></label>
        <label v-else class="min-w-56 flex-1"
          ><span class="label">{{ field.label }}</span
          ><input
            v-model="values[field.name]"
            class="field"
            :class="field.large ? 'h-[72px] text-xl' : ''"
            :maxlength="field.longest"
            :aria-invalid="said(field) ? 'true' : undefined"
            @keydown.enter.prevent="keep()"
          /><span v-if="said(field)" class="refusal" role="alert">{{ said(field) }}</span></label
        >
      </template>
      <p v-if="entry.says && plain" class="quiet max-w-72">{{ entry.says }}</p>
      <template v-if="!entry.fields.some((field) => field.drawn === 'at_once')">
        <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep()">
          {{ entry.doing }}
        </button>
        <button
          v-for="one in entry.beside"
          :key="one.label"
          type="button"
          class="btn btn-slab px-6"
          :disabled="busy"
          @click="send(one.kind, one.sends, one.only)"
        >
          {{ one.label }}
        </button>
      </template>
    </div>
    <div
      v-for="field in strips"
      :key="field.name"
      class="mt-3 flex flex-wrap gap-1.5"
      role="group"
      :aria-label="field.detail"
    >
      <span class="label mb-0 basis-full" aria-hidden="true">{{ field.detail }}, one tap</span>
      <button
        v-for="one in field.choices"
        :key="one.label"
        type="button"
        class="btn min-h-14 min-w-14 px-2 text-lg"
        :class="one.marked ? 'border-4 border-act' : ''"
        :disabled="busy"
        @click="atOnce(field, one.value)"
      >
        {{ one.label }}
      </button>
    </div>
    <p v-for="caution in cautions" :key="caution" class="mt-3 border-l-4 border-stop pl-3">{{ caution }}</p>
    <div v-if="question" class="mt-3 border-2 border-stop bg-white p-3" role="alert">
      <p v-if="entry.question" class="text-lg font-semibold text-stop">{{ entry.question }}</p>
      <p class="mt-1">{{ question }}</p>
      <div class="mt-2 flex flex-wrap gap-3">
        <button
          v-for="one in entry.answers"
          :key="one.label"
          type="button"
          class="btn"
          :disabled="busy"
          @click="send(one.kind, one.sends, one.only)"
        >
          {{ one.label }}
        </button>
      </div>
    </div>
    <span v-if="elsewhere" class="refusal" role="alert">{{ elsewhere }}</span>
    <button type="button" class="btn btn-quiet mt-2 -ml-2" @click="emit('close')">Close</button>
  </section>
</template>
