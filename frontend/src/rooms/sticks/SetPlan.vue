<script setup lang="ts">
/** A stick or a set: colours times moulds of one base; what to weigh, how hard, what limits it, what to cast first. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { librarySource } from '@/kit/source'
import { useTried } from '@/kit/tried'
import { rowKey } from '@/kit/rows'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import { asked as askedOf, newColour, useDraft } from './draft'
import { useRoom } from './room'
import SetColour from './SetColour.vue'
import SetFigures from './SetFigures.vue'
import SetList from './SetList.vue'
import UsualMoulds from './UsualMoulds.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: room } = useRoom()
const draft = useDraft()
const chosen = ref(0)

const { data: base } = useQuery({
  queryKey: ['base', () => draft.value.base, 'plan'],
  enabled: () => draft.value.base > 0,
  queryFn: () =>
    answered(api.GET('/api/sticks/bases/{base_id}', { params: { path: { base_id: draft.value.base } } })),
})
const blocks = computed(() => base.value?.shown.blocks ?? [])
watch(blocks, (now) => {
  if (draft.value.block && base.value && !now.some((b) => b.lot_id === draft.value.block))
    draft.value.block = 0
})
watch(
  room,
  (now) => {
    if (!now) return
    const wanted = Number(route.query.base) || draft.value.base
    const known = now.bases.some((b) => b.id === wanted)
    draft.value.base = known ? wanted : (now.bases[0]?.id ?? 0)
    for (const colour of draft.value.colours)
      if (!now.moulds.some((m) => m.id === colour.mould)) colour.mould = now.moulds[0]?.id ?? 0
    if (!draft.value.colours.length && now.moulds[0]) draft.value.colours.push(newColour(now.moulds[0].id))
    if (!draft.value.oil) draft.value.oil = librarySource('linseed-refined')
  },
  { immediate: true },
)
/** The same again: a recipe of a stick, with whatever lots are there now. */
watch(
  [() => route.query.recipe, () => room.value?.moulds],
  async ([id, moulds]) => {
    if (!id || !moulds?.length) return
    const recipe = await answered(
      api.GET('/api/sticks/recipes/{recipe_id}', { params: { path: { recipe_id: Number(id) } } }),
    )
    const lots = await answered(
      api.GET('/api/materials/lots', { params: { query: { kind: 'pigment', limit: 500 } } }),
    )
    const sourceOf = (key: string) => {
      const lot = lots.filter((l) => l.material_key === key).at(-1)
      return lot ? `lot-${lot.id}` : librarySource(key)
    }
    draft.value = {
      ...draft.value,
      name: recipe.line.name,
      base: recipe.line.base_id,
      block: 0,
      oil: librarySource(recipe.line.oil_key),
      colours: [
        {
          ...newColour(moulds[0]!.id),
          name: recipe.line.name,
          parts: recipe.colour.pigments.map((p) => ({ source: sourceOf(p.pigment_key), parts: p.parts })),
          school: recipe.colour.school ?? 'volume',
          share: recipe.colour.share ?? null,
          dent: recipe.line.target_dmm,
          recipe: recipe.line.id,
        },
      ],
    }
    await router.replace({ query: {} })
  },
  { immediate: true },
)

const wish = computed(() => askedOf(draft.value))
const settled = refDebounced(wish, 150)
const { data: planned, error } = useQuery({
  queryKey: ['set-plan', settled],
  enabled: () => !!settled.value,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/sticks/plan', { body: settled.value! })),
})
const { trouble, busy, said: kept, tried, once } = useTried()
const said = (field: string) =>
  (error.value instanceof Refused ? error.value.at(field) : undefined) ?? kept(`set.${field}`) ?? kept(field)
const refusedWhole = computed(() => {
  if (!(error.value instanceof Refused)) return ''
  return error.value.problem.errors.some((e) => /^(colours\.|oil|block|pot)/.test(e.field))
    ? ''
    : error.value.words
})
const shown = computed(() => planned.value?.colours[Math.min(chosen.value, planned.value.colours.length - 1)])
const neverDries = computed(() => planned.value?.colours.some((c) => c.plan.stick.dries === 'not') ?? false)

function add(blending: boolean): void {
  const last = draft.value.colours.at(-1)
  const mould = last?.mould ?? room.value?.moulds[0]?.id ?? 0
  const colour = newColour(mould)
  colour.count = last?.count ?? 1
  if (!blending && last) colour.dent = last.dent
  if (blending) colour.dent = 48
  draft.value.colours.push(colour)
  chosen.value = draft.value.colours.length - 1
}
function drop(n: number): void {
  draft.value.colours.splice(n, 1)
  chosen.value = Math.max(0, Math.min(chosen.value, draft.value.colours.length - 1))
}
const cast = () =>
  tried(async () => {
    if (!wish.value) return
    const body = { set: wish.value }
    const begun = await answered(
      api.POST('/api/sticks/pots', { body: { request_id: once(body).id, ...body } }),
    )
    for (const key of ['sticks', 'home', 'base']) void queries.invalidateQueries({ queryKey: [key] })
    draft.value = { ...draft.value, name: '', colours: [] }
    await router.push(`/sticks/${begun.numbers[0]}`)
  })
</script>

<template>
  <section v-if="room && !room.bases.length" class="py-10">
    <h1 class="mb-2">A stick needs a base first</h1>
    <p class="mb-4 max-w-prose">
      The base is what makes it a stick: two waxes are enough to begin with, beeswax and a hard one.
    </p>
    <RouterLink class="btn btn-main btn-slab px-8" to="/sticks/bases/new">Make a base</RouterLink>
  </section>
  <section v-else-if="room && !room.moulds.length" class="py-10">
    <h1 class="mb-2">And a mould</h1>
    <p class="mb-4 max-w-prose">What will you cast in? Nothing is wrong with paper rolled round a finger.</p>
    <UsualMoulds :moulds="room.moulds" />
    <p class="mt-4 max-w-prose">
      Or one of your own: fill it with water to the brim, its grams are its ml.
      <RouterLink class="underline" to="/sticks">To the moulds</RouterLink>
    </p>
  </section>
  <div v-else-if="room" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[55%] flex-1 sm:min-w-72">
        {{ draft.colours.length > 1 ? 'A set of sticks' : 'A stick'
        }}<span v-if="planned" class="quiet block text-base font-normal"
          >{{ planned.sticks }} {{ planned.sticks === 1 ? 'stick' : 'sticks' }} of {{ planned.base_name }},
          version {{ planned.base_version }}</span
        >
      </h1>
      <button
        type="button"
        class="btn btn-main btn-slab px-8"
        :disabled="!wish || !!error || busy"
        @click="cast"
      >
        Take it to the pot
      </button>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <span v-if="refusedWhole" class="refusal" role="alert">{{ refusedWhole }}</span>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[25rem_1fr]">
      <div class="space-y-4">
        <div class="grid grid-cols-2 gap-3">
          <label
            ><span class="label">Base</span
            ><select v-model="draft.base" class="field">
              <option v-for="b in room.bases" :key="b.id" :value="b.id">{{ b.name }}</option>
            </select></label
          >
          <label
            ><span class="label">of</span
            ><select v-model="draft.block" class="field">
              <option :value="0">waxes, melted fresh</option>
              <option v-for="b in blocks" :key="b.lot_id" :value="b.lot_id">
                block {{ b.code }}, {{ digits(b.on_hand_g, 0) }} g
              </option>
            </select>
            <span v-if="said('block_lot_id')" class="refusal" role="alert">{{
              said('block_lot_id')
            }}</span></label
          >
        </div>
        <MaterialPicker
          v-model="draft.oil"
          kind="oil"
          label="Drying oil"
          :refusal="said('oil_key') ?? said('oil_lot_id')"
        />
        <div role="group" aria-label="How the pigment goes in">
          <span class="label">How the pigment goes in</span>
          <div class="grid grid-cols-2 gap-1.5">
            <button
              v-for="[way, says] in [
                ['mulled', 'mulled into the oil first'],
                ['dry', 'dry, into the pot'],
              ] as const"
              :key="way"
              type="button"
              class="btn min-h-14 px-2"
              :class="draft.way === way ? 'bg-ink! text-white' : ''"
              :aria-pressed="draft.way === way"
              @click="draft.way = way"
            >
              {{ says }}
            </button>
          </div>
        </div>
        <fieldset>
          <legend class="mb-1 font-semibold">Colours</legend>
          <SetColour
            v-for="(colour, n) in draft.colours"
            :key="rowKey(colour)"
            v-model="draft.colours[n]!"
            :n="n"
            :open="n === chosen"
            :shown="planned?.colours[n]"
            :moulds="room.moulds"
            :zones="room.scale"
            :said="(field: string) => said(`colours.${n}.${field}`)"
            :alone="draft.colours.length === 1"
            @open="chosen = n"
            @drop="drop(n)"
          />
          <div class="mt-2 flex flex-wrap gap-2">
            <button type="button" class="btn" @click="add(false)">Add a colour</button>
            <button type="button" class="btn" @click="add(true)">Add a blending stick</button>
          </div>
        </fieldset>
        <label
          v-if="neverDries || draft.crayon"
          class="flex min-h-12 items-center gap-2 border-l-4 border-stop pl-3"
          ><input v-model="draft.crayon" type="checkbox" class="h-6 w-6 shrink-0" />
          <span
            >It need not dry: call it a crayon<span v-if="said('crayon')" class="refusal" role="alert">{{
              said('crayon')
            }}</span></span
          ></label
        >
        <NumberField
          class="w-56"
          :model-value="draft.pot ?? null"
          label="What your pot holds, if you know"
          unit="ml"
          :refusal="said('pot_ml')"
          accepted="millilitres"
          @update:model-value="draft.pot = $event"
        />
        <label v-if="draft.colours.length > 1" class="block"
          ><span class="label">Name of the set, if it has one</span
          ><input v-model="draft.name" class="field" maxlength="80"
        /></label>
      </div>
      <div class="min-w-0 space-y-7">
        <SetFigures
          v-if="shown && draft.colours[chosen]"
          :shown="shown"
          :zones="room.scale"
          :dent="draft.colours[chosen]!.dent"
          @dent="draft.colours[chosen]!.dent = $event"
        />
        <p v-else class="quiet">Choose a pigment and a mould.</p>
        <SetList v-if="planned" :planned="planned" />
      </div>
    </div>
  </div>
</template>
