<script setup lang="ts">
/** The additives of a plan or recipe: what each comes from and its dose on its own basis. */
import { computed } from 'vue'
import NumberField from '@/kit/NumberField.vue'
import { BASIS_OF, MOMENTS, optionsOf, useChoices } from './choices'

export type DoseDraft = { source: string; dose: number | null }
const props = defineProps<{ said: (field: string) => string | undefined; libraryOnly?: boolean }>()
const lines = defineModel<DoseDraft[]>({ required: true })
const { data: choices } = useChoices()
const options = computed(() =>
  optionsOf(choices.value ?? []).filter((o) => !props.libraryOnly || o.source.startsWith('library-')),
)
const of = (source: string) => options.value.find((o) => o.source === source)?.choice
function add(): void {
  const taken = new Set(lines.value.map((line) => of(line.source)?.additive.key))
  const next = options.value.find((o) => !taken.has(o.choice.additive.key)) ?? options.value[0]
  if (next) lines.value = [...lines.value, { source: next.source, dose: null }]
}
</script>

<template>
  <fieldset class="space-y-2">
    <legend class="label">Additives, if any</legend>
    <div v-for="(line, n) in lines" :key="n">
      <div class="flex items-end gap-2">
        <select v-model="line.source" class="field min-w-0 flex-1" :aria-label="`Additive ${n + 1}`">
          <option v-for="o in options" :key="o.source" :value="o.source">
            {{ o.name }}{{ libraryOnly ? '' : `, ${o.detail}` }}
          </option>
        </select>
        <NumberField
          v-model="line.dose"
          class="w-24 shrink-0"
          label="Dose"
          unit="%"
          :refusal="said(`additives.${n}.dose_pct`)"
          :accepted="of(line.source) ? `up to ${of(line.source)!.additive.dose_ceiling_pct} %` : undefined"
        />
        <button
          type="button"
          class="btn btn-quiet px-1"
          :aria-label="`Leave out additive ${n + 1}`"
          @click="lines = lines.filter((_, at) => at !== n)"
        >
          <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
            <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
          </svg>
        </button>
      </div>
      <p v-if="of(line.source)" class="small quiet mt-0.5">
        {{ BASIS_OF[of(line.source)!.additive.dose_basis] }}, {{ MOMENTS[of(line.source)!.moment] }}; usual
        {{ of(line.source)!.additive.dose_low_pct }} to {{ of(line.source)!.additive.dose_high_pct }} %, never
        above {{ of(line.source)!.additive.dose_ceiling_pct }} %<template
          v-if="of(line.source)!.known?.least_dose_pct"
          >; your ladder found {{ of(line.source)!.known!.least_dose_pct!.toPrecision(2) }} %</template
        >
      </p>
      <span
        v-if="said(`additives.${n}.lot_id`) ?? said(`additives.${n}.additive`)"
        class="refusal"
        role="alert"
        >{{ said(`additives.${n}.lot_id`) ?? said(`additives.${n}.additive`) }}</span
      >
    </div>
    <button type="button" class="btn btn-quiet -ml-2 min-h-12" :disabled="!options.length" @click="add">
      Add an additive
    </button>
  </fieldset>
</template>
