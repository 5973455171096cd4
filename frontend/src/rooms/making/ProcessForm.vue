<script setup lang="ts">
/** A process written down, with what it comes to beside it while one writes; or a new version of one. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { rowKey } from '@/kit/rows'
import { useUnits } from '@/kit/units'
import { ROLES, TEMPLATES, useMaking, type Said } from './room'
import RunOnPaper from './RunOnPaper.vue'
import StepRow from './StepRow.vue'

const props = defineProps<{ number?: number }>()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: room } = useMaking()
const { data: kept } = useQuery({
  queryKey: ['process', props.number],
  queryFn: () =>
    answered(
      api.GET('/api/making/processes/{process_id}', { params: { path: { process_id: props.number! } } }),
    ),
  enabled: props.number != null,
})
const said = ref<Said>()
const { units } = useUnits()
const measures = computed(() =>
  units.value.filter(
    (one) =>
      one.family !== 'own' && !['weigh_back', 'ounce'].includes(one.unit) && (one.powder || one.liquid),
  ),
)
const name = ref('')
const note = ref('')
const why = ref('')
const copy = (of: Said): Said => JSON.parse(JSON.stringify(of)) as Said
const from = computed(() => (route.query.from as Schemas['Template'] | undefined) ?? 'precipitation')
watch(
  [room, kept, from],
  () => {
    const base =
      props.number != null ? kept.value?.said : room.value?.templates.find((t) => t.key === from.value)?.said
    if (base && !said.value) said.value = copy(base)
  },
  { immediate: true },
)
function start(key: Schemas['Template']): void {
  said.value = copy(room.value!.templates.find((t) => t.key === key)!.said)
  void router.replace({ query: { from: key } })
}
const products = computed({
  get: () => (said.value?.products ?? []).join(' + '),
  set: (text: string) =>
    said.value &&
    (said.value.products = text
      .split('+')
      .map((one) => one.trim())
      .filter(Boolean)),
})
/** An equation begins once something has a formula: what comes out is asked then. */
const formulas = computed(() => (said.value?.ingredients ?? []).some((one) => one.formula))
const written = refDebounced(
  computed(() => JSON.stringify(said.value ?? null)),
  250,
)
const { data: seen, error } = useQuery({
  queryKey: ['process-preview', written],
  queryFn: () => answered(api.POST('/api/making/preview', { body: JSON.parse(written.value) as Said })),
  enabled: computed(() => written.value !== 'null'),
  placeholderData: keepPreviousData,
  retry: false,
})
const { refusal, trouble, busy, said: told, tried } = useTried()
const at = (field: string) =>
  told(field) ?? (error.value instanceof Refused ? error.value.at(field) : undefined)
const other = computed(() => {
  const found = refusal.value ?? (error.value instanceof Refused ? error.value : undefined)
  const first = found?.problem.errors[0]
  return first && /^(ingredients|steps|products|reactants)$/.test(first.field) ? found.words : undefined
})
const keep = () =>
  tried(async () => {
    const body = said.value!
    const done =
      props.number != null
        ? await answered(
            api.POST('/api/making/processes/{process_id}/versions', {
              params: { path: { process_id: props.number } },
              body: { ...body, why: why.value },
            }),
          )
        : await answered(
            api.POST('/api/making/processes', { body: { ...body, name: name.value, note: note.value } }),
          )
    for (const queryKey of [['making'], ['process']]) void queries.invalidateQueries({ queryKey })
    await router.push(`/making/${done.id}`)
  })
const blankIngredient = (): Schemas['IngredientAsked'] => ({
  name: '',
  parts_g: 10,
  unit: 'g',
  role: 'other',
  formula: '',
  purity: 1,
  solution_pct: null,
})
const blankStep = (): Schemas['StepAsked'] => ({
  kind: 'own',
  says: '',
  how: '',
  from_formula: '',
  to_formula: '',
  done_when: '',
})
function dropIngredient(n: number): void {
  said.value!.ingredients.splice(n, 1)
  for (const step of said.value!.steps ?? [])
    if (step.ingredient != null)
      step.ingredient =
        step.ingredient === n ? null : step.ingredient > n ? step.ingredient - 1 : step.ingredient
}
function move(n: number, by: number): void {
  const steps = said.value!.steps!
  const [one] = steps.splice(n, 1)
  steps.splice(n + by, 0, one!)
}
</script>

<template>
  <form v-if="said" class="pt-5" @submit.prevent="keep">
    <h1 class="mb-3">
      {{ number != null ? `New version of ${kept?.name ?? ''}` : 'New process' }}
    </h1>
    <div v-if="number == null" class="mb-4 flex flex-wrap gap-2" role="group" aria-label="Start from">
      <button
        v-for="([title], key) in TEMPLATES"
        :key="key"
        type="button"
        class="btn"
        :class="from === key ? 'bg-ink! text-white' : ''"
        :aria-pressed="from === key"
        @click="start(key)"
      >
        {{ title }}
      </button>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1.45fr_1fr]">
      <div class="min-w-0 space-y-6">
        <div v-if="number == null" class="grid gap-3 sm:grid-cols-2">
          <label
            ><span class="label">Name</span
            ><input
              v-model="name"
              class="field"
              maxlength="80"
              :aria-invalid="told('name') ? 'true' : undefined"
            /><span v-if="told('name')" class="refusal" role="alert">{{ told('name') }}</span></label
          >
          <label><span class="label">Note</span><input v-model="note" class="field" maxlength="500" /></label>
        </div>
        <label v-else class="block"
          ><span class="label">Why this version differs</span
          ><input
            v-model="why"
            class="field"
            maxlength="300"
            :aria-invalid="told('why') ? 'true' : undefined"
          /><span v-if="told('why')" class="refusal" role="alert">{{ told('why') }}</span></label
        >
        <section aria-labelledby="goes-in">
          <h2 id="goes-in" class="mb-1 text-lg">What goes in</h2>
          <div
            v-for="(one, n) in said.ingredients"
            :key="rowKey(one)"
            class="hairline grid grid-cols-2 items-start gap-x-3 gap-y-2 py-2 sm:grid-cols-12"
            role="group"
            :aria-label="`Ingredient ${n + 1}`"
          >
            <label class="col-span-2 sm:col-span-4"
              ><span class="label">Name</span><input v-model="one.name" class="field" maxlength="80" /><span
                v-if="at(`ingredients.${n}.name`)"
                class="refusal"
                role="alert"
                >{{ at(`ingredients.${n}.name`) }}</span
              ></label
            >
            <label class="col-span-2 sm:col-span-4"
              ><span class="label">Formula, if it has one</span
              ><input
                v-model="one.formula"
                class="field"
                maxlength="80"
                placeholder="CuSO4.5H2O"
                autocapitalize="off"
                spellcheck="false"
              /><span v-if="at(`ingredients.${n}.formula`)" class="refusal" role="alert">{{
                at(`ingredients.${n}.formula`)
              }}</span></label
            >
            <div class="col-span-2 flex items-end gap-2 sm:col-span-4">
              <NumberField
                v-if="one.unit !== 'eye'"
                :model-value="(one.unit === 'g' ? one.parts_g : one.amount) ?? null"
                class="min-w-20 flex-1"
                label="How much"
                :refusal="at(`ingredients.${n}.parts_g`) ?? at(`ingredients.${n}.amount`)"
                @update:model-value="one.unit === 'g' ? (one.parts_g = $event) : (one.amount = $event)"
              />
              <label class="min-w-24 flex-1"
                ><span class="label">{{ one.unit === 'eye' ? 'How much' : 'of' }}</span
                ><select
                  class="field"
                  :value="one.unit"
                  @change="one.unit = ($event.target as HTMLSelectElement).value as Schemas['Unit']"
                >
                  <option value="eye">some</option>
                  <option v-for="unit in measures" :key="unit.unit" :value="unit.unit">
                    {{ unit.many }}
                  </option>
                </select></label
              >
            </div>
            <NumberField
              :model-value="one.solution_pct ?? null"
              class="sm:col-span-2"
              label="Dissolved to"
              unit="%"
              :refusal="at(`ingredients.${n}.solution_pct`)"
              @update:model-value="one.solution_pct = $event"
            />
            <label class="sm:col-span-4"
              ><span class="label">What it does</span
              ><select v-model="one.role" class="field">
                <option v-for="(words, key) in ROLES" :key="key" :value="key">{{ words }}</option>
              </select></label
            >
            <NumberField
              :model-value="one.purity == null ? null : Number((100 * one.purity).toFixed(2))"
              class="sm:col-span-3"
              label="Pure to"
              unit="%"
              :refusal="at(`ingredients.${n}.purity`) && 'Try a number up to 100 %.'"
              @update:model-value="one.purity = $event == null ? (null as unknown as number) : $event / 100"
            />
            <button
              type="button"
              class="btn btn-quiet self-end sm:col-span-3"
              :aria-label="`Leave out ingredient ${n + 1}`"
              @click="dropIngredient(n)"
            >
              Leave it out
            </button>
          </div>
          <button type="button" class="btn mt-2" @click="said.ingredients.push(blankIngredient())">
            Add an ingredient
          </button>
        </section>
        <section v-if="formulas || said.products?.length" aria-labelledby="comes-out">
          <h2 id="comes-out" class="mb-1 text-lg">What comes out</h2>
          <div class="grid gap-3 sm:grid-cols-[2fr_1fr]">
            <label
              ><span class="label"
                >All that comes out, with + between; water and gases too; empty: no equation</span
              ><input
                v-model.lazy="products"
                class="field"
                maxlength="300"
                placeholder="Cu2(OH)2CO3 + Na2SO4 + CO2 + H2O"
                autocapitalize="off"
                spellcheck="false"
                :aria-invalid="at('products') ? 'true' : undefined"
              /><span v-if="at('products') ?? at('reactants')" class="refusal" role="alert">{{
                at('products') ?? at('reactants')
              }}</span></label
            >
            <label
              ><span class="label">Which of it is the pigment</span
              ><select v-model="said.wanted" class="field">
                <option value="">choose one</option>
                <option v-for="one in said.products" :key="one" :value="one">{{ one }}</option></select
              ><span v-if="at('wanted') && said.products?.length" class="refusal" role="alert">{{
                at('wanted')
              }}</span></label
            >
          </div>
        </section>
        <section aria-labelledby="steps">
          <h2 id="steps" class="mb-1 text-lg">Steps</h2>
          <StepRow
            v-for="(step, n) in said.steps"
            :key="rowKey(step)"
            :step="step"
            :n="n"
            :last="n === said.steps!.length - 1"
            :ingredients="said.ingredients"
            :at="(field) => at(`steps.${n}.${field}`)"
            @up="move(n, -1)"
            @down="move(n, 1)"
            @drop="said.steps!.splice(n, 1)"
          />
          <button type="button" class="btn mt-2" @click="(said.steps ??= []).push(blankStep())">
            Add a step
          </button>
        </section>
        <span v-if="other" class="refusal" role="alert">{{ other }}</span>
        <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        <div class="flex gap-3">
          <button class="btn btn-main btn-slab px-8" :disabled="busy">
            {{ number != null ? 'Keep this version' : 'Keep the process' }}
          </button>
          <RouterLink class="btn btn-quiet" :to="number != null ? `/making/${number}` : '/making'"
            >Leave</RouterLink
          >
        </div>
      </div>
      <div class="space-y-5">
        <section class="border-2 border-ink bg-sheet p-4" aria-labelledby="comes-to">
          <h2 id="comes-to" class="mb-2 text-xl">What it comes to</h2>
          <RunOnPaper v-if="seen && !error" :run="seen.run" />
          <p v-else-if="error instanceof Refused" class="text-lg">
            Fill in what is marked to see the figures.
          </p>
          <p v-else-if="error">The server does not answer; what you typed is kept.</p>
          <p v-else class="quiet">Working it out.</p>
        </section>
        <CautionList
          v-if="seen"
          :cautions="seen.cautions"
          :always="seen.always"
          :deference="seen.deference"
        />
      </div>
    </div>
  </form>
</template>
