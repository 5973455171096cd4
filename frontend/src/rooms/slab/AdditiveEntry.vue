<script setup lang="ts">
/** An additive into the paste: a planned one, or any other the studio has, in whatever way it was measured. */
import { computed } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { BASIS_OF, optionsOf, useChoices } from '@/rooms/additives/choices'
import type { Reading } from './acts'
import AmountEntry from './AmountEntry.vue'

const props = defineProps<{
  view: Schemas['SlabView']
  suggested: number | null
  weight?: Reading
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [measure: Schemas['AmountAsked']]; leaveOut: []; close: [] }>()
const source = defineModel<string>({ required: true })
const { data: choices } = useChoices()
const others = computed(() =>
  optionsOf(choices.value ?? [], false).filter(
    (o) => !props.view.additives.some((a) => a.source === o.source),
  ),
)
const planned = computed(() => props.view.additives.find((a) => a.source === source.value))
const other = computed(() => others.value.find((o) => o.source === source.value)?.choice)
const known = computed(() => ({
  density_g_per_ml: planned.value?.density_g_per_ml ?? other.value?.additive.density_g_per_ml ?? null,
  drop_g: planned.value?.drop_g ?? null,
  drop_measured: planned.value?.drop_measured ?? false,
}))
const units: Schemas['Unit'][] = ['g', 'drop', 'ml', 'weigh_back']
</script>

<template>
  <AmountEntry
    :key="source"
    :known="known"
    :title="planned ? `${planned.name} in` : other ? `${other.additive.name} in` : 'Which additive?'"
    :suggested="planned ? suggested : null"
    :weight="weight"
    :only="units"
    :told="view.advice.source === source ? view.advice_told : undefined"
    fine
    doing="Record"
    :refusal="refusal"
    :busy="busy || !source"
    @close="emit('close')"
    @record="emit('record', $event)"
  >
    <div class="mb-3 flex flex-wrap items-end gap-2" role="group" aria-label="Which additive">
      <button
        v-for="a in view.additives"
        :key="a.source"
        type="button"
        class="btn"
        :class="a.source === source ? 'bg-ink! text-white' : ''"
        :aria-pressed="a.source === source"
        @click="source = a.source"
      >
        {{ a.name }}
      </button>
      <label class="min-w-56 flex-1"
        ><span class="sr-only">Another additive, not in the plan</span
        ><select
          class="field"
          :value="planned ? '' : source"
          @change="source = ($event.target as HTMLSelectElement).value"
        >
          <option value="">another, not in the plan</option>
          <option v-for="o in others" :key="o.source" :value="o.source">{{ o.name }}, {{ o.detail }}</option>
        </select></label
      >
      <button
        v-if="planned && planned.missing_g > 0 && !planned.left_out"
        type="button"
        class="btn btn-quiet"
        :disabled="busy"
        @click="emit('leaveOut')"
      >
        Leave it out
      </button>
    </div>
    <p v-if="planned?.drops_to_go != null" class="mb-2">
      About <strong class="figure">{{ digits(planned.drops_to_go, 0) }}</strong> drops to go ({{
        planned.drop_measured
          ? 'drops of this bottle were weighed'
          : `a drop is assumed ${digits(planned.drop_g ?? 0, 3)} g: weigh 20 once`
      }}).
    </p>
    <p v-if="other" class="mb-2">
      Usual
      <span class="figure">{{ other.additive.dose_low_pct }} to {{ other.additive.dose_high_pct }} %</span>
      {{ BASIS_OF[other.additive.dose_basis] }}, never above {{ other.additive.dose_ceiling_pct }} %.
      <span class="quiet">{{ other.additive.note }}</span>
    </p>
    <div v-if="other?.beware.length" class="mb-2 border-l-4 border-stop pl-3">
      <p v-for="line in other.beware" :key="line">{{ line }}</p>
      <p class="small quiet">{{ view.caution_deference }}</p>
    </div>
    <span v-if="refusal?.at('source')" class="refusal" role="alert">{{ refusal.at('source') }}</span>
  </AmountEntry>
</template>
