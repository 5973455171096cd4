<script setup lang="ts">
/** What is wanted: pigments, oil, additives, how much to start from, on which slab. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useSavedPlans, useWorkshop } from '@/api/queries'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import TubeRack from '@/kit/TubeRack.vue'
import { rowKey } from '@/kit/rows'
import DoseLines from '@/rooms/additives/DoseLines.vue'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import { useUnits } from '@/kit/units'
import { type Draft, emptyLine, type Start } from './draft'
import MeasuringChoice from './MeasuringChoice.vue'

defineProps<{
  said: (field: string) => string | undefined
  oddAdditives: boolean
  plan?: Schemas['Plan']
}>()
const draft = defineModel<Draft>({ required: true })
const queries = useQueryClient()
const { data: workshop } = useWorkshop()
const { data: saved } = useSavedPlans()
const { spooned: spoons, teaspoon } = useUnits()
const GRINDS: [Schemas['Grind'], string][] = [
  ['coarse', 'Brushable'],
  ['usual', 'Smooth'],
  ['smooth', 'Finest'],
]

const without = computed(
  () => (draft.value.measuring ?? workshop.value?.settings.measuring ?? 'scale') !== 'scale',
)
const starts = computed<{ key: Start; name: string }[]>(() => [
  { key: 'tubes', name: 'Tubes wanted' },
  ...(without.value ? [] : [{ key: 'pigment' as const, name: 'Pigment on hand' }]),
  { key: 'spoons', name: without.value ? 'Spoons on hand' : many.value ? 'Spoons, mixed' : 'Spoons' },
])
/** Parts of a blend are level spoons where nobody weighs. */
const partsName = computed(() => (without.value && !draft.value.recipe ? 'Spoons' : 'Parts'))
const doses = computed({
  get: () => draft.value.additives ?? [],
  set: (lines) => (draft.value.additives = lines),
})
function blendOil(): void {
  draft.value.oil_parts ??= 1
  ;(draft.value.more_oils ??= []).push({ source: '', parts: 1 })
}
const many = computed(() => draft.value.lines.length > 1)
const taken = computed(() => draft.value.lines.map((line) => line.source))

async function forget(id: number): Promise<void> {
  await answered(api.DELETE('/api/plan/saved/{plan_id}', { params: { path: { plan_id: id } } }))
  void queries.invalidateQueries({ queryKey: ['plans'] })
  void queries.invalidateQueries({ queryKey: ['home'] })
}
</script>

<template>
  <div class="space-y-4">
    <div v-for="(line, n) in draft.lines" :key="rowKey(line)" class="flex items-end gap-2">
      <MaterialPicker
        v-model="line.source"
        class="min-w-0 flex-1"
        kind="pigment"
        :label="many ? `Pigment ${n + 1}` : 'Pigment'"
        :taken="taken"
        :refusal="said(`lines.${n}.lot_id`) ?? said(`lines.${n}.pigment_key`)"
      />
      <NumberField
        v-if="many && draft.start !== 'spoons'"
        v-model="line.parts"
        class="w-20 shrink-0"
        :label="partsName"
        :refusal="said(`lines.${n}.parts`)"
        accepted="a number above 0"
      />
      <button
        v-if="many"
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Leave out pigment ${n + 1}`"
        @click="draft.lines.splice(n, 1)"
      >
        <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
          <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
        </svg>
      </button>
    </div>
    <button
      type="button"
      class="btn btn-quiet -mt-3 -mb-1 -ml-2 min-h-12"
      @click="draft.lines.push(emptyLine('', teaspoon))"
    >
      Blend in another pigment
    </button>
    <div class="flex items-end gap-2">
      <MaterialPicker
        v-model="draft.oil"
        class="min-w-0 flex-1"
        kind="oil"
        label="Oil"
        :refusal="said('oil')"
      />
      <NumberField
        v-if="draft.more_oils?.length"
        :model-value="draft.oil_parts ?? null"
        class="w-20 shrink-0"
        label="Parts"
        :refusal="said('oil.blend.0.parts')"
        @update:model-value="draft.oil_parts = $event"
      />
    </div>
    <div v-for="(more, n) in draft.more_oils ?? []" :key="rowKey(more)" class="-mt-2 flex items-end gap-2">
      <MaterialPicker
        v-model="more.source"
        class="min-w-0 flex-1"
        kind="oil"
        :label="`Oil ${n + 2}`"
        :taken="[draft.oil]"
        :refusal="said(`oil.blend.${n + 1}`)"
      />
      <NumberField
        v-model="more.parts"
        class="w-20 shrink-0"
        label="Parts"
        :refusal="said(`oil.blend.${n + 1}.parts`)"
      />
      <button
        type="button"
        class="btn btn-quiet px-1"
        :aria-label="`Leave out oil ${n + 2}`"
        @click="draft.more_oils!.splice(n, 1)"
      >
        <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
          <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
        </svg>
      </button>
    </div>
    <button
      v-if="(draft.more_oils?.length ?? 0) < 3"
      type="button"
      class="btn btn-quiet -mt-3 -mb-1 -ml-2 min-h-12"
      @click="blendOil"
    >
      Blend in another oil
    </button>
    <DoseLines v-model="doses" :said="said" />
    <label v-if="doses.length" class="flex min-h-12 items-center gap-3"
      ><input v-model="draft.trial" type="checkbox" class="h-6 w-6 accent-act" />A trial: doses above their
      ceiling are allowed</label
    >
    <span v-if="oddAdditives" class="refusal" role="alert">{{ said('additives') }}</span>

    <fieldset>
      <legend class="label">Start from</legend>
      <div class="grid auto-cols-fr grid-flow-col">
        <button
          v-for="start in starts"
          :key="start.key"
          type="button"
          class="btn -ml-[1.5px] rounded-none px-2 text-[0.92rem] first:ml-0"
          :class="draft.start === start.key ? 'bg-ink! text-white' : ''"
          :aria-pressed="draft.start === start.key"
          @click="draft.start = start.key"
        >
          {{ start.name }}
        </button>
      </div>
    </fieldset>
    <div
      v-if="draft.start === 'tubes'"
      class="space-y-2"
      @click="draft.tubes_meant = true"
      @input="draft.tubes_meant = true"
    >
      <div v-for="type in workshop?.tube_types ?? []" :key="type.id" class="flex items-center gap-2">
        <span class="flex-1"
          >{{ type.name }}
          <span class="quiet small"
            >takes
            <span class="figure">{{ digits(type.usable_ml, type.usable_ml % 1 ? 1 : 0) }}</span> ml</span
          ></span
        >
        <button
          type="button"
          class="btn w-12 px-0 text-xl"
          :aria-label="`One ${type.name} less`"
          :disabled="!draft.tubes[type.id]"
          @click="draft.tubes[type.id] = Math.max(0, (draft.tubes[type.id] ?? 0) - 1)"
        >
          -
        </button>
        <input
          class="field figure w-14 px-1 text-center text-xl"
          inputmode="numeric"
          :aria-label="`How many: ${type.name}`"
          :value="draft.tubes[type.id] ?? 0"
          @input="
            draft.tubes[type.id] = /^\d{1,4}$/.test(($event.target as HTMLInputElement).value)
              ? Number(($event.target as HTMLInputElement).value)
              : 0
          "
        />
        <button
          type="button"
          class="btn w-12 px-0 text-xl"
          :aria-label="`One ${type.name} more`"
          @click="draft.tubes[type.id] = (draft.tubes[type.id] ?? 0) + 1"
        >
          +
        </button>
      </div>
      <span v-if="said('tubes')" class="refusal" role="alert">{{ said('tubes') }}</span>
    </div>
    <NumberField
      v-else-if="draft.start === 'pigment'"
      v-model="draft.pigment_g"
      label="Pigment in all"
      unit="g"
      :refusal="said('pigment_g') ?? said('start')"
      accepted="grams above 0 and up to 20 000"
    />
    <div v-else class="space-y-2">
      <div v-for="(line, n) in draft.lines" :key="rowKey(line)" class="flex items-end gap-2">
        <NumberField
          v-model="line.spoons"
          class="w-28"
          :label="many ? `Pigment ${n + 1}, level` : 'How much, level'"
          :refusal="said(`lines.${n}.spoons`)"
          accepted="a number above 0"
        />
        <label class="flex-1"
          ><span class="sr-only">Which spoon</span
          ><select v-model="line.spoon" class="field">
            <option v-for="one in spoons" :key="one.unit" :value="one.unit">{{ one.many }}</option>
            <option value="g">grams</option>
            <option value="ml">ml, loose</option>
          </select></label
        >
      </div>
      <span v-if="said('start')" class="refusal" role="alert">{{ said('start') }}</span>
    </div>
    <MeasuringChoice v-model="draft" :one-mass="plan?.facts.one_mass ?? false" />
    <div>
      <span class="label">Finish</span>
      <div class="flex" role="group" aria-label="Finish">
        <button
          v-for="[key, name] in GRINDS"
          :key="key"
          type="button"
          class="btn -ml-[1.5px] flex-1 rounded-none px-1 first:ml-0"
          :class="(draft.grind ?? 'usual') === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="(draft.grind ?? 'usual') === key"
          @click="draft.grind = key"
        >
          {{ name }}
        </button>
      </div>
    </div>
    <details class="hairline pt-1" :open="!!draft.fineness_um || !!said('target_fineness_um')">
      <summary class="min-h-10 py-1.5">I have a fineness gauge</summary>
      <NumberField
        :model-value="draft.fineness_um ?? null"
        label="A load is done at this fineness"
        unit="µm"
        :refusal="said('target_fineness_um')"
        accepted="1 to 250"
        @update:model-value="draft.fineness_um = $event"
      />
    </details>
    <p v-if="draft.recipe" class="border-l-4 border-act pl-3">
      By
      <RouterLink class="underline" :to="`/recipes/${draft.recipe.id}`"
        >recipe {{ draft.recipe.id }}</RouterLink
      >, version {{ draft.recipe.version }}.
      <button type="button" class="btn btn-quiet" @click="draft.recipe = null">plan without it</button
      ><span v-if="said('recipe_id')" class="refusal" role="alert">{{ said('recipe_id') }}</span>
    </p>
    <TubeRack v-if="plan?.tubes.length" :tubes="plan.tubes" :colour="plan.masstone_srgb" />
    <details v-if="saved?.length" class="hairline pt-2">
      <summary class="min-h-10 py-1 font-semibold">Kept plans ({{ saved.length }})</summary>
      <ul>
        <li v-for="kept in saved" :key="kept.id" class="flex items-center gap-2">
          <RouterLink
            class="flex min-h-12 flex-1 items-center underline decoration-1 underline-offset-4"
            :to="{ path: '/plan', query: { kept: kept.id } }"
            >{{ kept.name }}</RouterLink
          >
          <button
            type="button"
            class="btn btn-quiet small"
            :aria-label="`Forget the plan ${kept.name}`"
            @click="forget(kept.id)"
          >
            forget
          </button>
        </li>
      </ul>
    </details>
  </div>
</template>
