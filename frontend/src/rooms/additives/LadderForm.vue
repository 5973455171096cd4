<script setup lang="ts">
/** A ladder being designed: what is tried, from which paste, and what would be good enough. */
import { lotOf } from '@/kit/source'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { newId } from '@/kit/ids'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { rowKey } from '@/kit/rows'
import { BASIS_OF, optionsOf, useChoices } from './choices'
import TargetFields from './TargetFields.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const { data: choices } = useChoices()
const { data: recipes } = useQuery({
  queryKey: ['recipes'],
  queryFn: () => answered(api.GET('/api/recipes')),
})
const options = computed(() => optionsOf(choices.value ?? [], false))

const recipe = ref(Number(route.query.recipe) || 0)
const name = ref('')
const parts = ref<{ source: string; top: number | null }[]>([])
const ratio = ref<number | null>(60)
const paste = ref<number | null>(5)
const rungs = ref<number | null>(6)
const custom = ref('')
const targets = ref<Schemas['TargetAsked'][]>([])
const of = (source: string) => options.value.find((o) => o.source === source)?.choice
watch(
  options,
  (now) => {
    const wanted = String(route.query.additive ?? 'aluminium-stearate')
    // A gel first: the little that a rung takes of the dry powder cannot be weighed.
    const first =
      now.find((o) => o.choice.additive.key === wanted && o.gel) ??
      now.find((o) => o.choice.additive.key === wanted)
    if (!parts.value.length && first)
      parts.value = [{ source: first.source, top: first.choice.ladder_top_pct }]
  },
  { immediate: true },
)
watch(
  recipe,
  async (id) => {
    if (!id) return
    const start = await answered(
      api.GET('/api/additives/ladders/start/{recipe_id}', { params: { path: { recipe_id: id } } }),
    )
    ratio.value = start.oil_g_per_100g
    targets.value = start.targets
    if (!name.value)
      name.value = `${start.name}, ${of(parts.value[0]?.source ?? '')?.additive.name.toLowerCase() ?? 'ladder'}`
  },
  { immediate: true },
)
const title = computed(() =>
  name.value || !parts.value[0] ? name.value : `${of(parts.value[0].source)?.additive.name ?? ''} ladder`,
)

const asked = computed<Schemas['LadderAsked'] | undefined>(() => {
  if (
    !parts.value.length ||
    parts.value.some((p) => p.top == null || !of(p.source)) ||
    ratio.value == null ||
    paste.value == null ||
    rungs.value == null
  )
    return undefined
  const doses = custom.value.trim()
    ? custom.value
        .trim()
        .split(/[\s;]+/)
        .map((d) => Number(d.replace(',', '.')))
    : null
  if (doses?.some((d) => !Number.isFinite(d))) return undefined
  return {
    name: title.value,
    recipe_id: recipe.value || null,
    additives: parts.value.map((p) => ({
      additive_key: of(p.source)!.additive.key,
      lot_id: lotOf(p.source) ?? null,
      top_dose_pct: p.top!,
    })),
    oil_g_per_100g: ratio.value,
    paste_per_rung_g: paste.value,
    rungs: Math.round(rungs.value),
    doses,
    targets: targets.value.filter((t) => t.at_least != null || t.at_most != null),
    trial: true,
  }
})
const { data: design, error } = useQuery({
  queryKey: ['ladder-design', asked],
  enabled: () => !!asked.value,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/additives/ladders/design', { body: asked.value! })),
})
const { refusal: kept, trouble, busy, tried } = useTried()
const said = (field: string) =>
  (error.value instanceof Refused ? error.value.at(field) : undefined) ??
  kept.value?.at(`ladder.${field}`) ??
  kept.value?.at(field)
const request = ref(newId())
watch(asked, () => (request.value = newId()), { deep: true })
const begin = () =>
  tried(async () => {
    if (!asked.value) return
    const made = await answered(
      api.POST('/api/additives/ladders', { body: { request_id: request.value, ladder: asked.value } }),
    )
    void queries.invalidateQueries({ queryKey: ['ladders'] })
    await router.push(`/additives/ladders/${made.id}`)
  })
function second(): void {
  const next = options.value.find(
    (o) => o.choice.additive.key !== of(parts.value[0]?.source ?? '')?.additive.key,
  )
  if (next) parts.value.push({ source: next.source, top: next.choice.additive.dose_high_pct })
}
</script>

<template>
  <form class="pt-5" @submit.prevent="begin">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        A new ladder<span class="quiet block text-base font-normal"
          >a row of doses in one mother paste, each with a little more additive; the checks tell the least
          dose that does</span
        >
      </h1>
      <button class="btn btn-main btn-slab px-8" :disabled="!asked || !!error || busy">
        Begin the ladder
      </button>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[24rem_1fr]">
      <div class="space-y-4">
        <label class="block"
          ><span class="label">For the recipe, if any: its ratio and checks are taken over</span
          ><select v-model="recipe" class="field">
            <option :value="0">no recipe</option>
            <option v-for="r in recipes ?? []" :key="r.id" :value="r.id">{{ r.name }}</option>
          </select></label
        >
        <label class="block"
          ><span class="label">Name</span
          ><input
            v-model="name"
            class="field"
            maxlength="120"
            :placeholder="title"
            :aria-invalid="said('name') ? 'true' : undefined"
          /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
        >
        <div v-for="(part, n) in parts" :key="rowKey(part)">
          <div class="flex items-end gap-2">
            <label class="min-w-0 flex-1"
              ><span class="label">{{ n ? 'with' : 'Additive' }}</span
              ><select v-model="part.source" class="field">
                <option v-for="o in options" :key="o.source" :value="o.source">
                  {{ o.name }}, {{ o.detail }}
                </option>
              </select></label
            >
            <NumberField
              v-model="part.top"
              class="w-24 shrink-0"
              label="Top dose"
              unit="%"
              :refusal="said(`additives.${n}.top_dose_pct`)"
            />
            <button
              v-if="n"
              type="button"
              class="btn btn-quiet px-1"
              aria-label="Leave out the second additive"
              @click="parts.splice(n, 1)"
            >
              <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
                <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
              </svg>
            </button>
          </div>
          <p v-if="of(part.source)" class="small quiet mt-0.5">
            {{ BASIS_OF[of(part.source)!.additive.dose_basis] }}; usual
            {{ of(part.source)!.additive.dose_low_pct }} to {{ of(part.source)!.additive.dose_high_pct }} %,
            ceiling {{ of(part.source)!.additive.dose_ceiling_pct }} %: a ladder is a trial and may go beyond
          </p>
          <span
            v-if="
              said(`additives.${n}.gel_strength`) ??
              said(`additives.${n}.additive_key`) ??
              said(`additives.${n}.lot_id`)
            "
            class="refusal"
            role="alert"
            >{{
              said(`additives.${n}.gel_strength`) ??
              said(`additives.${n}.additive_key`) ??
              said(`additives.${n}.lot_id`)
            }}</span
          >
        </div>
        <button v-if="parts.length === 1" type="button" class="btn btn-quiet -mt-2 -ml-2" @click="second">
          A second additive, rising with it
        </button>
        <div class="grid grid-cols-2 gap-3">
          <NumberField
            v-model="ratio"
            label="Ratio at every dose"
            unit="g/100 g"
            :refusal="said('oil_g_per_100g')"
          />
          <NumberField
            v-model="paste"
            label="Paste each"
            unit="g"
            :refusal="said('paste_per_rung_g')"
            accepted="3 g or more"
          />
          <NumberField
            v-model="rungs"
            label="Doses, with none as the first"
            :refusal="said('rungs')"
            accepted="3 to 12"
          />
          <label
            ><span class="label">or these doses, %</span
            ><input
              v-model="custom"
              class="field figure"
              placeholder="0 0.5 1 2"
              :aria-invalid="said('doses') ? 'true' : undefined"
          /></label>
        </div>
        <span v-if="said('doses')" class="refusal" role="alert">{{ said('doses') }}</span>
        <fieldset>
          <legend class="mb-1 font-semibold">Good enough is</legend>
          <TargetFields v-model="targets" :said="said" />
        </fieldset>
      </div>
      <section class="min-w-0" aria-labelledby="paper">
        <h2 id="paper" class="text-lg">What to weigh</h2>
        <template v-if="design">
          <p class="mb-2">
            Mother paste:
            <span class="figure text-3xl font-semibold">{{ digits(design.mother_paste_g, 1) }}</span> g, of
            <span class="figure">{{ digits(design.mother_pigment_g, 1) }}</span> g powder and
            <span class="figure">{{ digits(design.mother_oil_g, 1) }}</span> g oil<span class="quiet"
              >, at {{ digits(design.mother_oil_g_per_100g, 1) }} g per 100 g<template
                v-if="design.oil_g_per_100g - design.mother_oil_g_per_100g > 0.05"
                >: short of oil by what the gel brings</template
              >; 10 % spare (assumed)</span
            >.
          </p>
          <table class="w-full">
            <thead>
              <tr class="small quiet text-right">
                <th class="text-left font-normal" scope="col">dose</th>
                <th class="font-normal" scope="col">dose, %</th>
                <th class="font-normal" scope="col">1. paste, g</th>
                <th
                  v-for="(w, n) in design.rungs[0]!.additives"
                  :key="w.name"
                  class="font-normal"
                  scope="col"
                >
                  {{ n + 2 }}. {{ w.name.toLowerCase() }}, g
                </th>
                <th class="font-normal" scope="col">
                  {{ design.rungs[0]!.additives.length + 2 }}. plain oil, g
                </th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="rung in design.rungs" :key="rung.label" class="hairline text-right">
                <th class="py-2 text-left font-semibold" scope="row">{{ rung.label }}</th>
                <td class="figure text-xl font-semibold">
                  {{ rung.additives.map((w) => digits(w.dose_pct, 2)).join(' + ') }}
                </td>
                <td class="figure">{{ digits(rung.paste_g, 1) }}</td>
                <td
                  v-for="w in rung.additives"
                  :key="w.name"
                  class="figure"
                  :class="w.too_little ? 'text-stop' : ''"
                >
                  {{ digits(w.weigh_g, 3)
                  }}<span v-if="w.too_little" class="small block font-sans">too little to weigh well</span>
                </td>
                <td class="figure">{{ digits(rung.oil_g, 3) }}</td>
              </tr>
            </tbody>
          </table>
          <p class="small quiet mt-2">
            Every dose ends with the same oil, so that only the additive differs. Weigh in this order.
          </p>
        </template>
        <p v-else class="quiet">Choose an additive and its top dose.</p>
      </section>
    </div>
  </form>
</template>
