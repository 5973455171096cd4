<script setup lang="ts">
/** A recipe being written: new, made of a batch, or a new version of one. */
import { keyOf, librarySource } from '@/kit/source'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useLibrary } from '@/api/queries'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { rowKey } from '@/kit/rows'
import DoseLines, { type DoseDraft } from '@/rooms/additives/DoseLines.vue'
import { KINDS, unitName, type Kind } from '@/rooms/checks/kinds'

const props = defineProps<{ number?: number }>()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: library } = useLibrary()

type Wanted = Schemas['WantedAsked']
const name = ref('')
const why = ref('')
const fromBatch = ref<number>()
const recipe = ref<Schemas['RecipeAsked']>()
const { data: kinds } = useQuery({
  queryKey: ['kinds'],
  queryFn: () => answered(api.GET('/api/checks/kinds')),
  staleTime: 3_600_000,
})
const { refusal, trouble, busy, tried } = useTried()
const said = (field: string) => refusal.value?.at(field) ?? refusal.value?.at(`recipe.${field}`)

onMounted(async () => {
  try {
    if (props.number) {
      const page = await answered(
        api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: props.number } } }),
      )
      name.value = page.name
      recipe.value = JSON.parse(JSON.stringify(page.versions[0]!.asked)) as Schemas['RecipeAsked']
      return
    }
    if (route.query.batch) {
      fromBatch.value = Number(route.query.batch)
      const proposed = await answered(
        api.GET('/api/recipes/from-batch/{number}', { params: { path: { number: fromBatch.value } } }),
      )
      name.value = proposed.name
      recipe.value = proposed.recipe
    }
  } catch (error) {
    trouble.value = error instanceof Refused ? error.words : 'The server does not answer; try again.'
  }
  recipe.value ??= {
    pigments: [{ pigment_key: 'burnt-sienna', parts: 1 }],
    oil_keys: ['linseed-refined'],
    reduced_pvc: 0.86,
    stance: 'pigment_and_oil',
    additives: [],
    checks: [{ kind: 'spread', target: 45, low: 42, high: 48 }],
  }
})
/** Doses as typed; a ladder stays the evidence of a dose only while it is the dose the ladder found. */
const doses = ref<DoseDraft[]>([])
watch(recipe, (kept, before) => {
  if (kept && !before)
    doses.value = (kept.additives ?? []).map((additive) => ({
      source: librarySource(additive.additive_key),
      dose: additive.dose_pct,
    }))
})
function dosed(): Schemas['RecipeAsked'] {
  const kept = recipe.value!
  const earlier = kept.additives ?? []
  const proposed = doses.value
    .filter((additive) => additive.dose != null)
    .map((additive) => {
      const additive_key = keyOf(additive.source)
      const same = earlier.find((e) => e.additive_key === additive_key && e.dose_pct === additive.dose)
      return { additive_key, dose_pct: additive.dose!, ladder_id: same?.ladder_id ?? null }
    })
  const parts =
    kept.oil_parts && kept.oil_keys.length > 1 ? kept.oil_keys.map((_, n) => kept.oil_parts![n] ?? 1) : null
  return { ...kept, oil_parts: parts, additives: kept.stance === 'additives' ? proposed : [] }
}
const has = (kind: Kind) => recipe.value?.checks?.find((c) => c.kind === kind)
function toggle(kind: Kind): void {
  const checks = recipe.value!.checks ?? []
  recipe.value!.checks = has(kind)
    ? checks.filter((c) => c.kind !== kind)
    : [...checks, { kind, ...(drawn(kind) ? { choice: kinds.value!.choices[kind]![0] } : {}) } as Wanted]
}
const drawn = (kind: Kind) => kind !== 'drying' && !!kinds.value?.choices[kind]
const place = (kind: Kind) => (recipe.value?.checks ?? []).findIndex((c) => c.kind === kind)

function anotherOil(): void {
  const r = recipe.value!
  r.oil_keys.push(library.value?.oils.find((o) => !r.oil_keys.includes(o.key))?.key ?? 'walnut-refined')
  r.oil_parts?.push(1)
}
function leaveOil(n: number): void {
  const r = recipe.value!
  r.oil_keys.splice(n, 1)
  r.oil_parts?.splice(n, 1)
  if (r.oil_keys.length < 2) r.oil_parts = null
}
const keep = () =>
  tried(async () => {
    let id = props.number
    if (id)
      await answered(
        api.POST('/api/recipes/{recipe_id}/versions', {
          params: { path: { recipe_id: id } },
          body: { recipe: dosed(), why: why.value },
        }),
      )
    else
      id = (
        await answered(
          api.POST('/api/recipes', {
            body: { name: name.value, recipe: dosed(), from_batch: fromBatch.value ?? null },
          }),
        )
      ).id
    await queries.invalidateQueries({ queryKey: ['recipe'] })
    void queries.invalidateQueries({ queryKey: ['recipes'] })
    await router.push(`/recipes/${id}`)
  })
</script>

<template>
  <form v-if="recipe" class="pt-5" @submit.prevent="keep">
    <h1 class="mb-4">
      {{ number ? `${name}: a new version` : fromBatch ? `A recipe of batch ${fromBatch}` : 'A new recipe' }}
    </h1>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[1fr_1.25fr]">
      <div class="space-y-4">
        <label v-if="!number" class="block"
          ><span class="label">Name</span
          ><input
            v-model="name"
            class="field text-lg"
            maxlength="120"
            :aria-invalid="said('name') ? 'true' : undefined"
          /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
        >
        <label v-else class="block"
          ><span class="label">Why this version differs from the one before</span
          ><input
            v-model="why"
            class="field text-lg"
            maxlength="300"
            :aria-invalid="said('why') ? 'true' : undefined"
          /><span v-if="said('why')" class="refusal" role="alert">{{ said('why') }}</span></label
        >
        <fieldset>
          <legend class="label">Pigments, parts by weight</legend>
          <div v-for="(part, n) in recipe.pigments" :key="rowKey(part)" class="mb-2 flex items-end gap-2">
            <select v-model="part.pigment_key" class="field min-w-0 flex-1" :aria-label="`Pigment ${n + 1}`">
              <option v-for="p in library?.pigments ?? []" :key="p.key" :value="p.key">{{ p.name }}</option>
            </select>
            <NumberField
              :model-value="part.parts ?? null"
              class="w-28"
              label="Parts"
              :refusal="said(`pigments.${n}.parts`)"
              @update:model-value="part.parts = $event ?? 0"
            />
            <button
              type="button"
              class="btn btn-quiet"
              :disabled="recipe.pigments.length < 2"
              :aria-label="`Leave pigment ${n + 1} out`"
              @click="recipe.pigments.splice(n, 1)"
            >
              leave out
            </button>
          </div>
          <span v-if="said('pigments')" class="refusal" role="alert">{{ said('pigments') }}</span>
          <button
            type="button"
            class="btn btn-quiet -ml-2"
            @click="recipe.pigments.push({ pigment_key: 'titanium-white-rutile', parts: 1 })"
          >
            Add a pigment
          </button>
        </fieldset>
        <fieldset>
          <legend class="label">Oil; others it may be made in follow</legend>
          <div v-for="(_, n) in recipe.oil_keys" :key="n" class="mb-2 flex items-end gap-2">
            <select v-model="recipe.oil_keys[n]" class="field min-w-0 flex-1" :aria-label="`Oil ${n + 1}`">
              <option v-for="o in library?.oils ?? []" :key="o.key" :value="o.key">
                {{ o.name }}, {{ o.process }}
              </option>
            </select>
            <button
              type="button"
              class="btn btn-quiet"
              :disabled="recipe.oil_keys.length < 2"
              :aria-label="`Leave oil ${n + 1} out`"
              @click="leaveOil(n)"
            >
              leave out
            </button>
          </div>
          <span v-if="said('oil_keys')" class="refusal" role="alert">{{ said('oil_keys') }}</span>
          <button type="button" class="btn btn-quiet -ml-2" @click="anotherOil">
            Another oil it may be made in
          </button>
        </fieldset>
        <label v-if="recipe.oil_keys.length > 1" class="flex min-h-12 items-center gap-3"
          ><input
            type="checkbox"
            class="h-6 w-6 accent-act"
            :checked="!!recipe.oil_parts"
            @change="recipe.oil_parts = recipe.oil_parts ? null : recipe.oil_keys.map(() => 1)"
          />Stirred together, not one or the other</label
        >
        <div v-if="recipe.oil_parts && recipe.oil_keys.length > 1" class="grid grid-cols-2 gap-3">
          <NumberField
            v-for="(_, n) in recipe.oil_keys"
            :key="n"
            :model-value="recipe.oil_parts[n] ?? null"
            :label="`Parts of oil ${n + 1}`"
            :refusal="said(`oil_parts.${n}`)"
            @update:model-value="recipe.oil_parts![n] = $event ?? 0"
          />
        </div>
        <span v-if="said('oil_parts')" class="refusal" role="alert">{{ said('oil_parts') }}</span>
        <DoseLines v-if="recipe.stance === 'additives'" v-model="doses" library-only :said="said" />
        <span
          v-if="refusal?.problem.errors.some((e) => e.field.endsWith('additives'))"
          class="refusal"
          role="alert"
          >{{ said('additives') }}</span
        >
        <div class="grid grid-cols-2 gap-3">
          <NumberField
            v-model="recipe.reduced_pvc"
            label="Target, reduced PVC"
            :refusal="said('reduced_pvc')"
            accepted="0.5 to 1.15"
          />
          <label
            ><span class="label">Stance</span
            ><select v-model="recipe.stance" class="field">
              <option value="pigment_and_oil">pigment and oil only</option>
              <option value="additives">additives may be used</option>
            </select></label
          >
          <NumberField
            :model-value="recipe.minutes_per_load ?? null"
            label="Mulling a load"
            unit="min"
            :refusal="said('minutes_per_load')"
            @update:model-value="recipe.minutes_per_load = $event"
          />
          <NumberField
            :model-value="recipe.fineness_um ?? null"
            label="Fineness at which it is done"
            unit="µm"
            :refusal="said('fineness_um')"
            @update:model-value="recipe.fineness_um = $event"
          />
          <NumberField
            :model-value="recipe.standard_batch ?? null"
            label="Standard batch, by number"
            :refusal="said('standard_batch')"
            @update:model-value="recipe.standard_batch = $event"
          />
        </div>
      </div>
      <fieldset>
        <legend class="mb-1 text-lg font-semibold">Checks it promises</legend>
        <div
          v-for="(kind, key) in KINDS"
          :key="key"
          class="hairline grid min-h-14 grid-cols-[1fr_repeat(3,6.5rem)] items-center gap-2 py-1 max-sm:grid-cols-3"
        >
          <label class="flex min-h-12 items-center gap-3 max-sm:col-span-3"
            ><input
              type="checkbox"
              class="h-6 w-6 accent-act"
              :checked="!!has(key)"
              @change="toggle(key)"
            />{{ kind.name }}
            <span v-if="kinds?.units[key]" class="quiet small">{{ unitName(kinds.units[key]!) }}</span></label
          >
          <template v-if="has(key) && drawn(key)"
            ><label class="col-span-3"
              ><span class="sr-only">{{ kind.name }} is</span
              ><select v-model="has(key)!.choice" class="field">
                <option v-for="c in kinds?.choices[key]" :key="c">{{ c }}</option>
              </select></label
            ></template
          >
          <template v-else-if="has(key)">
            <NumberField
              :model-value="has(key)!.target ?? null"
              label="target"
              :refusal="said(`checks.${place(key)}.target`)"
              @update:model-value="has(key)!.target = $event"
            />
            <NumberField
              :model-value="has(key)!.low ?? null"
              label="from"
              :refusal="said(`checks.${place(key)}.low`)"
              @update:model-value="has(key)!.low = $event"
            />
            <NumberField
              :model-value="has(key)!.high ?? null"
              label="to"
              :refusal="said(`checks.${place(key)}.high`)"
              @update:model-value="has(key)!.high = $event"
            />
          </template>
        </div>
      </fieldset>
    </div>
    <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span><span
      v-if="trouble"
      class="refusal"
      role="alert"
      >{{ trouble }}</span
    >
    <div class="mt-5 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">
        {{ number ? 'Keep as a new version' : 'Keep the recipe' }}</button><RouterLink
        class="btn btn-slab px-5"
        :to="number ? `/recipes/${number}` : '/recipes'"
        >Cancel</RouterLink
      >
    </div>
  </form>
  <p v-else-if="trouble" class="refusal py-10" role="alert">{{ trouble }}</p>
</template>
