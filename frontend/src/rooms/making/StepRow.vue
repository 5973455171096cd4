<script setup lang="ts">
/** One step of a process being written: its kind, its words, and the window or amount its kind has. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { KINDS } from './room'

const props = defineProps<{
  step: Schemas['StepAsked']
  n: number
  last: boolean
  ingredients: Schemas['IngredientAsked'][]
  at: (field: string) => string | undefined
}>()
const emit = defineEmits<{ up: []; down: []; drop: [] }>()
// The step belongs to the sheet: it is written into at once, as its ingredients are.
const step = computed(() => props.step)
const has = (...kinds: Schemas['StepKind'][]) => kinds.includes(step.value.kind)
type Figure = {
  [K in keyof Schemas['StepAsked']]-?: NonNullable<Schemas['StepAsked'][K]> extends number ? K : never
}[keyof Schemas['StepAsked']]
const FIGURES: [Figure, string, string, Schemas['StepKind'][]][] = [
  ['minutes', 'Minutes', 'min', ['add', 'hold', 'settle', 'own']],
  ['ph_low', 'pH from', '', ['acidity']],
  ['ph_high', 'to', '', ['acidity']],
  ['temperature_low_c', 'Warm from', '°C', ['hold', 'heat', 'dissolve']],
  ['temperature_high_c', 'to', '°C', ['hold', 'heat', 'dissolve']],
  ['washes', 'Washes', '', ['wash']],
  ['wash_ml', 'Each', 'ml', ['wash']],
  ['mesh_um', 'Mesh', 'µm', ['sieve']],
]
</script>

<template>
  <div
    class="hairline grid grid-cols-2 items-start gap-x-3 gap-y-2 py-2 sm:grid-cols-12"
    role="group"
    :aria-label="`Step ${n + 1}`"
  >
    <label class="sm:col-span-2"
      ><span class="label">Step {{ n + 1 }}</span
      ><select v-model="step.kind" class="field">
        <option v-for="(words, key) in KINDS" :key="key" :value="key">{{ words }}</option>
      </select></label
    >
    <label class="col-span-2 sm:col-span-5"
      ><span class="label">What to do</span
      ><textarea v-model="step.says" class="field field-sizing-content" rows="1" maxlength="300" /><span
        v-if="at('says')"
        class="refusal"
        role="alert"
        >{{ at('says') }}</span
      ></label
    >
    <label class="col-span-2 sm:col-span-5"
      ><span class="label">How, in a few words</span
      ><textarea v-model="step.how" class="field field-sizing-content" rows="1" maxlength="300" />
    </label>
    <label v-if="has('add', 'acidity', 'dissolve')" class="sm:col-span-3"
      ><span class="label">Of what</span
      ><select v-model="step.ingredient" class="field">
        <option :value="null">-</option>
        <option v-for="(one, i) in ingredients" :key="i" :value="i">{{ one.name || `no. ${i + 1}` }}</option>
      </select></label
    >
    <template v-for="[key, label, unit, kinds] in FIGURES" :key="key">
      <NumberField
        v-if="has(...kinds)"
        :model-value="step[key] ?? null"
        class="sm:col-span-2"
        :label="label"
        :unit="unit"
        :refusal="at(key)"
        @update:model-value="step[key] = $event"
      />
    </template>
    <label v-if="has('filter')" class="sm:col-span-3"
      ><span class="label">Through</span
      ><select
        class="field"
        :value="step.through ?? 'paper'"
        @change="step.through = ($event.target as HTMLSelectElement).value as Schemas['Through']"
      >
        <option value="paper">paper</option>
        <option value="cloth">cloth</option>
        <option value="suction">paper, with suction</option>
      </select></label
    >
    <template v-if="has('heat')">
      <label class="sm:col-span-3"
        ><span class="label">From, a formula</span
        ><input v-model="step.from_formula" class="field" maxlength="80" spellcheck="false" /><span
          v-if="at('from_formula')"
          class="refusal"
          role="alert"
          >{{ at('from_formula') }}</span
        ></label
      >
      <label class="sm:col-span-3"
        ><span class="label">to</span
        ><input v-model="step.to_formula" class="field" maxlength="80" spellcheck="false" /><span
          v-if="at('to_formula')"
          class="refusal"
          role="alert"
          >{{ at('to_formula') }}</span
        ></label
      >
    </template>
    <div class="col-span-2 flex justify-end self-end sm:col-span-12">
      <button
        type="button"
        class="btn btn-quiet"
        :disabled="!n"
        :aria-label="`Step ${n + 1} earlier`"
        @click="emit('up')"
      >
        earlier
      </button>
      <button
        type="button"
        class="btn btn-quiet"
        :disabled="last"
        :aria-label="`Step ${n + 1} later`"
        @click="emit('down')"
      >
        later
      </button>
      <button
        type="button"
        class="btn btn-quiet"
        :aria-label="`Leave out step ${n + 1}`"
        @click="emit('drop')"
      >
        leave it out
      </button>
    </div>
  </div>
</template>
