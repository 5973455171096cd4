<script setup lang="ts">
/** What each measure of a ladder has to be: at least, at most, or both. */
import type { Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'

defineProps<{ said: (field: string) => string | undefined }>()
const targets = defineModel<Schemas['TargetAsked'][]>({ required: true })
const ROWS = [
  ['yield_pa', 'Yield stress', 'Pa'],
  ['string_mm', 'String', 'mm'],
  ['bleed_mm', 'Halo after a day', 'mm'],
] as const
const place = (what: string) =>
  targets.value.filter((t) => t.at_least != null || t.at_most != null).findIndex((t) => t.what === what)
const of = (what: string) => targets.value.find((t) => t.what === what)
function set(what: Schemas['Measured'], which: 'at_least' | 'at_most', value: number | null): void {
  const rest = targets.value.filter((t) => t.what !== what)
  const changed = { ...(of(what) ?? { what }), [which]: value }
  targets.value = changed.at_least == null && changed.at_most == null ? rest : [...rest, changed]
}
</script>

<template>
  <div class="space-y-2">
    <div
      v-for="[what, name, unit] in ROWS"
      :key="what"
      class="grid grid-cols-[1fr_7rem_7rem] items-end gap-2"
    >
      <span class="pb-3">{{ name }}</span>
      <NumberField
        :model-value="of(what)?.at_least ?? null"
        :label="'at least'"
        :unit="unit"
        :refusal="place(what) >= 0 ? said(`targets.${place(what)}.at_least`) : undefined"
        @update:model-value="set(what, 'at_least', $event)"
      />
      <NumberField
        :model-value="of(what)?.at_most ?? null"
        :label="'at most'"
        :unit="unit"
        :refusal="place(what) >= 0 ? said(`targets.${place(what)}.at_most`) : undefined"
        @update:model-value="set(what, 'at_most', $event)"
      />
    </div>
  </div>
</template>
