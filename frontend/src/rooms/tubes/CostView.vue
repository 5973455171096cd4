<script setup lang="ts">
/** What a batch or the plan being made costs, and when making pays. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { day, digits, telling } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { asked as askedOf, usePlanDraft } from '@/rooms/plan/draft'

const route = useRoute()
const draft = usePlanDraft()
const { data: workshop } = useWorkshop()
const batch = ref<number | null>(Number(route.query.batch) || null)
const times = ref<number | null>(1)
const instead = ref<Record<string, number>>({})
watch(batch, () => (instead.value = {}))
const prices = useLocalStorage(
  'niddy-prices',
  {
    label: null as number | null,
    hours: null as number | null,
    wage: null as number | null,
    bought: null as number | null,
    tools: null as number | null,
    tube: 0,
  },
  { mergeDefaults: true },
)
const wish = computed(() => askedOf(draft.value))
const money = (value: number | null) => (value == null ? null : String(value))
const reckoning = computed(() => {
  const p = prices.value
  return {
    tube_type_id: p.tube || null,
    label_price: money(p.label),
    hours: String(p.hours ?? 0),
    wage_per_hour: money(p.wage),
    bought_per_tube: money(p.bought),
    tools: money(p.tools),
  }
})
const recipe = computed(() => Number(route.query.recipe) || 0)
const { data: recipeNow, error: recipeError } = useQuery({
  queryKey: ['cost', 'recipe', recipe, reckoning],
  enabled: () => !!recipe.value,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () =>
    answered(
      api.POST('/api/tubes/cost/recipe/{recipe_id}', {
        params: { path: { recipe_id: recipe.value } },
        body: reckoning.value,
      }),
    ),
})
const made = ref<Schemas['RecipeCost']>()
watch(
  recipeNow,
  (now) => {
    if (!now) return
    made.value = now
    batch.value ??= now.batches[0]?.number ?? null
  },
  { immediate: true },
)
const dearest = computed(() => Math.max(0.0001, ...(made.value?.batches ?? []).map((b) => Number(b.per_ml))))
const body = computed<Schemas['CostAsked'] | undefined>(() => {
  if (!batch.value && (recipe.value || !wish.value)) return undefined
  return {
    batch_number: batch.value,
    plan: batch.value ? null : wish.value,
    times: times.value ?? 1,
    instead: instead.value,
    ...reckoning.value,
  }
})
const { data: answer, error } = useQuery({
  queryKey: ['cost', body],
  enabled: () => !!body.value,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/tubes/cost', { body: body.value! })),
})
/** The last that could be reckoned: a value refused leaves it, and every field, where it is. */
const costed = ref<Schemas['Costed']>()
watch(answer, (now) => now && (costed.value = now), { immediate: true })
const refusal = computed(() => (error.value instanceof Refused ? error.value : undefined))
const said = (field: string) => refusal.value?.at(field)
const FIELDS = ['batch_number', 'times', 'label_price', 'bought_per_tube', 'hours', 'wage_per_hour', 'tools']
const choiceOf = (line: number) => costed.value?.choices.find((c) => c.line === line)
function take(source: string, lot: number): void {
  instead.value = { ...instead.value, [source]: lot }
}
const widest = computed(() =>
  Math.max(0.01, ...(costed.value?.cost.lines ?? []).map((l) => Number(l.cost ?? 0))),
)
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-end gap-4">
      <h1 class="min-w-72 flex-1">
        What it costs<span v-if="costed" class="quiet block text-base font-normal"
          >{{ costed.name }}, <span class="figure">{{ digits(Number(costed.volume_ml), 1) }}</span> ml{{
            times && times !== 1 ? `, ${telling(times)} times` : ','
          }}
          {{ batch ? `batch ${batch} as made` : 'the plan being made' }}</span
        >
      </h1>
      <NumberField
        v-model="batch"
        class="w-48"
        label="Batch; empty for the plan"
        :refusal="said('batch_number')"
      />
      <NumberField
        v-model="times"
        class="w-44"
        label="What if: times as much"
        :refusal="said('times')"
        accepted="above 0 and up to 1000"
      />
      <RouterLink v-if="!batch" class="btn" to="/plan">The plan</RouterLink>
    </div>
    <p
      v-if="
        recipeError instanceof Refused && !recipeError.problem.errors.some((e) => FIELDS.includes(e.field))
      "
      class="refusal"
      role="alert"
    >
      {{ recipeError.words }}
    </p>
    <p v-else-if="!body && !recipe" class="text-lg">
      There is no batch named and no plan being made.
      <RouterLink class="underline" to="/plan">Plan one</RouterLink>, or type a batch number.
    </p>
    <p v-else-if="refusal && !FIELDS.some(said)" class="refusal" role="alert">{{ refusal.words }}</p>
    <div v-if="costed && body" class="grid gap-x-12 gap-y-6 lg:grid-cols-[1.25fr_1fr]">
      <section aria-labelledby="lines">
        <h2 id="lines" class="text-lg">What goes in</h2>
        <table class="cost-table w-full">
          <thead>
            <tr class="small quiet text-right">
              <th class="text-left font-normal" scope="col">what</th>
              <th class="font-normal" scope="col">how much</th>
              <th class="font-normal" scope="col">at</th>
              <th class="font-normal" scope="col">{{ costed.currency }}</th>
              <th class="w-28" scope="col"><span class="sr-only">share</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(line, n) in costed.cost.lines" :key="n" class="hairline text-right">
              <th scope="row" class="py-2 text-left font-semibold">
                {{ line.name
                }}<select
                  v-if="choiceOf(n)?.lots.length"
                  class="field small mt-1 block max-w-48 py-1 font-normal"
                  :aria-label="`Lot of ${line.name.toLowerCase()}`"
                  :value="choiceOf(n)?.lot_id ?? ''"
                  @change="take(choiceOf(n)!.source, Number(($event.target as HTMLSelectElement).value))"
                >
                  <option v-if="choiceOf(n)?.lot_id == null" value="">no lot named</option>
                  <option v-for="lot in choiceOf(n)?.lots" :key="lot.lot_id" :value="lot.lot_id">
                    {{ lot.code
                    }}{{
                      lot.price_per_unit == null
                        ? ', no price'
                        : `, ${Number(lot.price_per_unit).toFixed(2)} a kg`
                    }}
                  </option>
                </select>
              </th>
              <td>
                <span class="figure">{{
                  line.unit === 'kg' ? digits(Number(line.amount) * 1000, 1) : telling(Number(line.amount))
                }}</span>
                {{
                  line.unit === 'kg'
                    ? 'g'
                    : line.unit === 'pieces' && Number(line.amount) === 1
                      ? 'piece'
                      : line.unit
                }}
              </td>
              <td class="figure">
                {{ line.price_per_unit == null ? '-' : Number(line.price_per_unit).toFixed(2)
                }}<span class="quiet small font-sans"
                  >&nbsp;{{ line.unit === 'kg' ? 'a kg' : line.unit === 'h' ? 'an hour' : 'each' }}</span
                >
              </td>
              <td class="figure font-semibold">
                {{ line.cost == null ? 'not known' : Number(line.cost).toFixed(2) }}
              </td>
              <td class="pl-3">
                <svg viewBox="0 0 100 14" preserveAspectRatio="none" class="h-3.5 w-full" aria-hidden="true">
                  <rect width="100" height="14" fill="#fff" />
                  <rect :width="(100 * Number(line.cost ?? 0)) / widest" height="14" fill="#171717" />
                </svg>
              </td>
            </tr>
            <tr class="border-t-2 border-ink text-right">
              <th scope="row" class="py-2 text-left text-lg">in all</th>
              <td />
              <td />
              <td class="figure text-2xl font-semibold">{{ Number(costed.cost.total).toFixed(2) }}</td>
              <td />
            </tr>
          </tbody>
        </table>
        <p v-if="costed.cost.missing.length" class="mt-2 border-l-4 border-stop pl-3">
          No price is known of {{ costed.cost.missing.join(', ') }}: a tube's cost cannot be told yet.
          <RouterLink class="underline" to="/stock">Prices stand with the lots.</RouterLink>
        </p>
        <p class="small quiet mt-2">
          Materials at what their lot cost; a batch counts what is in its paste, a plan what is to be weighed.
          Another lot is another price here: that it may want more oil, only a plan with it knows.
        </p>
        <section aria-labelledby="with" class="mt-6 grid grid-cols-2 gap-3">
          <h2 id="with" class="col-span-2 text-lg">What else it costs</h2>
          <label class="col-span-2"
            ><span class="label">The cost is of one</span
            ><select v-model="prices.tube" class="field">
              <option :value="0">the kind planned</option>
              <option v-for="t in workshop?.tube_types ?? []" :key="t.id" :value="t.id">{{ t.name }}</option>
            </select></label
          >
          <NumberField
            v-model="prices.label"
            label="A label"
            :unit="costed.currency"
            :refusal="said('label_price')"
          />
          <NumberField
            v-model="prices.bought"
            label="The same tube bought"
            :unit="costed.currency"
            :refusal="said('bought_per_tube')"
          />
          <NumberField v-model="prices.hours" label="Hours of work" unit="h" :refusal="said('hours')" />
          <NumberField
            v-model="prices.wage"
            label="An hour is worth"
            :unit="costed.currency"
            :refusal="said('wage_per_hour')"
          />
          <NumberField
            v-model="prices.tools"
            label="Tools cost"
            :unit="costed.currency"
            :refusal="said('tools')"
          />
        </section>
      </section>
      <div class="space-y-6">
        <section v-if="made" aria-labelledby="recipe-cost">
          <h2 id="recipe-cost" class="text-lg">
            {{ made.name }}
            <span class="quiet small font-normal"
              >by its latest
              {{ made.batches.length === 1 ? 'batch' : `${made.batches.length} batches` }}</span
            >
          </h2>
          <p class="my-1">
            <span class="figure text-3xl font-semibold">{{ Number(made.together.per_ml).toFixed(3) }}</span>
            {{ made.currency }} a ml
            <span class="quiet"
              >({{ Number(made.together.low).toFixed(3) }} to
              {{ Number(made.together.high).toFixed(3) }})</span
            ><template v-if="made.together.per_tube != null && !made.batches.some((b) => b.missing)"
              >, <span class="figure font-semibold">{{ Number(made.together.per_tube).toFixed(2) }}</span> a
              {{ made.tube_name }}</template
            >
          </p>
          <ul class="max-h-52 overflow-y-auto">
            <li v-for="line in made.batches" :key="line.number">
              <button
                type="button"
                class="cost-row hairline"
                :class="batch === line.number ? 'font-semibold' : ''"
                :aria-pressed="batch === line.number"
                @click="batch = line.number"
              >
                <span class="figure underline">{{ line.number }}</span><span class="small quiet">{{
                  day(line.ended_on)
                }}</span
                ><span class="text-right"
                  ><span class="figure">{{ digits(Number(line.volume_ml), 1) }}</span> ml</span
                ><span class="text-right leading-tight"
                  ><span class="figure">{{ Number(line.per_ml).toFixed(3) }}</span
                  ><span v-if="line.missing" class="small block font-semibold"
                    >{{ line.missing }} without a price</span
                  ></span
                ><svg viewBox="0 0 100 12" preserveAspectRatio="none" class="h-3 w-full" aria-hidden="true">
                  <rect width="100" height="12" fill="#fff" />
                  <rect :width="(100 * Number(line.per_ml)) / dearest" height="12" fill="#171717" />
                </svg>
              </button>
            </li>
          </ul>
        </section>
        <div class="flex flex-wrap gap-x-10 gap-y-3">
          <p v-if="costed.cost.per_tube != null && !costed.cost.missing.length">
            <span class="small quiet block"
              >one {{ costed.tube_name }}{{ made ? ` of batch ${batch}` : '' }}</span
            ><span class="figure text-5xl font-semibold">{{ Number(costed.cost.per_tube).toFixed(2) }}</span>
            {{ costed.currency }}
          </p>
          <p v-if="!costed.cost.missing.length">
            <span class="small quiet block">one ml{{ made ? ' of it' : '' }}</span
            ><span class="figure text-5xl font-semibold">{{ Number(costed.cost.per_ml).toFixed(3) }}</span>
            {{ costed.currency }}
          </p>
        </div>
        <p
          v-if="costed.cost.against"
          class="border-2 border-ink bg-sheet p-4 text-xl font-semibold"
          role="status"
        >
          {{ costed.cost.against.says
          }}<span class="quiet block text-base font-normal"
            >Bought at <span class="figure">{{ Number(costed.cost.against.bought_per_ml).toFixed(3) }}</span>
            {{ costed.currency }} a ml, made at
            <span class="figure">{{ Number(costed.cost.per_ml).toFixed(3) }}</span>:
            <span class="figure">{{ Number(costed.cost.against.saving_per_ml).toFixed(3) }}</span> saved on
            each ml.</span
          >
        </p>
      </div>
    </div>
  </div>
</template>
