<script setup lang="ts">
/** The same paint again: choose amount and lots; what changes, and why; then to the plan. */
import { lotOf, lotSource } from '@/kit/source'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useLibrary, useLots, useWorkshop } from '@/api/queries'
import { digits, grams, massUnit } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { draftOf, usePlanDraft } from '@/rooms/plan/draft'

const props = defineProps<{ number: number }>()
const router = useRouter()
const draft = usePlanDraft()
const { data: recipe } = useQuery({
  queryKey: ['recipe', () => props.number],
  queryFn: () =>
    answered(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: props.number } } })),
})
const { data: lots } = useLots()
const { data: library } = useLibrary()
const { data: workshop } = useWorkshop()
const version = computed(() => recipe.value?.versions[0])

const chosen = ref<(number | null)[]>([])
const oil = ref('')
const pigmentG = ref<number | null>(100)
const lotsOf = (key: string, kind: 'pigment' | 'oil') =>
  (lots.value ?? []).filter((l) => l.kind === kind && l.material_key === key)
watch(
  [version, lots],
  () => {
    if (!version.value || !lots.value || chosen.value.length) return
    chosen.value = version.value.asked.pigments.map(
      (p) => lotsOf(p.pigment_key, 'pigment').at(-1)?.id ?? null,
    )
    const key = version.value.asked.oil_keys[0]!
    const bottle = lotsOf(key, 'oil').at(-1)
    oil.value = bottle ? lotSource(bottle.id) : key
  },
  { immediate: true },
)
const wish = computed<Schemas['AgainAsked'] | undefined>(() => {
  if (!version.value || !chosen.value.length || pigmentG.value == null) return undefined
  return {
    pigment_lots: chosen.value,
    pigment_g: pigmentG.value,
    ...(lotOf(oil.value) != null ? { oil_lot_id: lotOf(oil.value) } : { oil_key: oil.value }),
    slab_id: workshop.value?.settings.default_slab_id ?? null,
    muller_id: workshop.value?.settings.default_muller_id ?? null,
  }
})
const { data: again, error } = useQuery({
  queryKey: ['again', () => props.number, wish],
  enabled: () => !!wish.value,
  retry: false,
  queryFn: () =>
    answered(
      api.POST('/api/recipes/{recipe_id}/again', {
        params: { path: { recipe_id: props.number } },
        body: wish.value!,
      }),
    ),
})
const refusal = computed(() => (error.value instanceof Refused ? error.value : undefined))
const name = (key: string) => {
  const oil = library.value?.oils.find((o) => o.key === key)
  return oil
    ? `${oil.name}, ${oil.process}`
    : (library.value?.pigments.find((p) => p.key === key)?.name ?? key)
}
async function toPlan(): Promise<void> {
  draft.value = draftOf(again.value!.plan)
  await router.push('/plan')
}
</script>

<template>
  <div v-if="recipe && version" class="pt-5">
    <h1 class="mb-4">
      The same again
      <RouterLink class="text-base font-normal underline" :to="`/recipes/${number}`"
        >{{ recipe.name }}, version {{ version.version }}</RouterLink
      >
    </h1>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[22rem_1fr]">
      <div class="space-y-4">
        <label v-for="(p, n) in version.asked.pigments" :key="p.pigment_key" class="block"
          ><span class="label">{{ name(p.pigment_key) }}</span>
          <select v-model="chosen[n]" class="field">
            <option v-for="l in lotsOf(p.pigment_key, 'pigment')" :key="l.id" :value="l.id">
              lot {{ l.code }}, {{ grams(l.on_hand) }} {{ massUnit() }} left
            </option>
            <option :value="null">no lot: the library's figures</option>
          </select>
          <span v-if="refusal?.at(`pigment_lots.${n}`)" class="refusal" role="alert">{{
            refusal.at(`pigment_lots.${n}`)
          }}</span></label
        >
        <label class="block"
          ><span class="label">Oil</span>
          <select v-model="oil" class="field">
            <template v-for="key in version.asked.oil_keys" :key="key"
              ><option v-for="l in lotsOf(key, 'oil')" :key="l.id" :value="lotSource(l.id)">
                {{ name(key) }}, bottle {{ l.code }}
              </option>
              <option :value="key">{{ name(key) }}, by the library</option></template
            >
          </select></label
        >
        <NumberField
          v-model="pigmentG"
          large
          label="Pigment in all"
          unit="g"
          :refusal="refusal?.at('pigment_g')"
          accepted="grams above 0 and up to 20 000"
        />
      </div>
      <section v-if="again" aria-labelledby="pours">
        <h2 id="pours" class="sr-only">What is poured</h2>
        <div class="flex flex-wrap gap-x-10 gap-y-3">
          <p>
            <span class="small quiet block">Ratio this time</span
            ><span class="figure text-5xl font-semibold">{{ digits(again.oil_g_per_100g, 1) }}</span> g oil
            per 100 g<span class="small quiet block"
              >nine times in ten between
              <span class="figure">{{ digits(again.low, 1) }} and {{ digits(again.high, 1) }}</span></span
            >
          </p>
          <p v-if="again.like">
            <span class="small quiet block"
              >Like batch
              <RouterLink class="underline" :to="`/batches/${again.like}`">{{ again.like }}</RouterLink>,
              which had</span
            ><span class="figure text-3xl font-semibold">{{ digits(again.like_oil_g_per_100g!, 1) }}</span> g
            per 100 g<span class="small quiet block"
              >carried over at its own body it would be
              <span class="figure">{{ digits(again.rebuilt_oil_g_per_100g!, 1) }}</span></span
            >
          </p>
          <p>
            <span class="small quiet block">Kept</span
            ><span class="figure text-3xl font-semibold">{{ digits(again.reduced_pvc, 3) }}</span> reduced
            PVC<span class="small quiet block">the body, not the ratio</span>
          </p>
        </div>
        <h2 class="mt-5 text-lg">What is different, and why</h2>
        <p v-if="!again.changes.length" class="quiet">
          {{
            again.like
              ? `Nothing that bears on the ratio: the same as batch ${again.like}.`
              : 'There is no released batch to be like yet.'
          }}
        </p>
        <ul>
          <li v-for="c in again.changes" :key="c.what" class="hairline py-2">
            <strong class="font-semibold">{{ c.what }}</strong>: <span class="figure">{{ c.before }}</span> to
            <span class="figure">{{ c.after }}</span>.
            {{ c.why }}
          </li>
        </ul>
        <button type="button" class="btn btn-main btn-slab mt-5 px-8 text-xl" @click="toPlan">
          Take it to the plan
        </button>
      </section>
      <p v-else-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
    </div>
  </div>
</template>
