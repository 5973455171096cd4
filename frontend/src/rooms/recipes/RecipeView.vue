<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useLibrary } from '@/api/queries'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { useRouter } from 'vue-router'
import { pct } from '@/rooms/additives/choices'
import { KINDS, promise, result, unitName } from '@/rooms/checks/kinds'
import ReleaseMark from '@/rooms/checks/ReleaseMark.vue'
import RecipeColour from '@/rooms/mixing/RecipeColour.vue'
import HandOver from '@/rooms/swap/HandOver.vue'

const props = defineProps<{ number: number }>()
const router = useRouter()
const wide = useMediaQuery('(min-width: 640px)')
const { data: recipe, error } = useQuery({
  queryKey: ['recipe', () => props.number],
  queryFn: () =>
    answered(api.GET('/api/recipes/{recipe_id}', { params: { path: { recipe_id: props.number } } })),
})
const { data: library } = useLibrary()
const names = computed(() =>
  Object.fromEntries([
    ...(library.value?.pigments ?? []).map((m) => [m.key, m.name]),
    ...(library.value?.oils ?? []).map((o) => [o.key, `${o.name}, ${o.process}`]),
    ...(library.value?.additives ?? []).map((a) => [a.key, a.name]),
  ]),
)
const shown = ref<number>()
const version = computed(
  () => recipe.value?.versions.find((v) => v.version === shown.value) ?? recipe.value?.versions[0],
)
const against = computed(() =>
  recipe.value?.versions.find((v) => v.version === (version.value?.version ?? 0) - 1),
)
const said = (asked: Schemas['RecipeAsked']): Record<string, string> => ({
  pigments: asked.pigments
    .map(
      (p) =>
        `${names.value[p.pigment_key] ?? p.pigment_key}${asked.pigments.length > 1 ? ` ${p.parts}` : ''}`,
    )
    .join(', '),
  oil:
    asked.oil_parts && asked.oil_keys.length > 1
      ? asked.oil_keys.map((k, n) => `${asked.oil_parts![n]} ${names.value[k] ?? k}`).join(' + ')
      : asked.oil_keys.map((k) => names.value[k] ?? k).join('; or '),
  'target, reduced PVC': digits(asked.reduced_pvc, 3),
  additives:
    asked.stance === 'pigment_and_oil'
      ? 'pigment and oil only'
      : (asked.additives ?? [])
          .map(
            (a) =>
              `${pct(a.dose_pct)} ${names.value[a.additive_key]?.toLowerCase() ?? a.additive_key}` +
              (a.ladder_id ? `, by ladder ${a.ladder_id}` : ''),
          )
          .join('; ') || 'may be used',
  mulling: asked.minutes_per_load ? `${asked.minutes_per_load} min a load` : 'not said',
  fineness: asked.fineness_um ? `${asked.fineness_um} µm` : 'not said',
  'standard batch': asked.standard_batch ? `batch ${asked.standard_batch}` : 'none yet',
  ...Object.fromEntries(
    (asked.checks ?? []).map((c) => [
      KINDS[c.kind].name.toLowerCase(),
      promise(c as Schemas['Wanted'])
        ? `${promise(c as Schemas['Wanted'])} ${unitName(recipe.value?.units[c.kind] ?? '')}`
        : 'to be taken',
    ]),
  ),
})
const rows = computed(() => {
  if (!version.value) return []
  const now = said(version.value.asked)
  const before = against.value ? said(against.value.asked) : now
  return [...new Set([...Object.keys(now), ...Object.keys(before)])].map((key) => ({
    key,
    now: now[key] ?? 'no longer',
    before: before[key] ?? 'not yet',
  }))
})
const kinds = computed(() => (recipe.value?.versions[0]?.asked.checks ?? []).map((c) => c.kind))
useKeys(() => [
  { key: 'a', does: 'make the same again', act: () => void router.push(`/recipes/${props.number}/again`) },
  {
    key: 'c',
    does: 'look at consistency',
    act: () => void router.push(`/recipes/${props.number}/consistency`),
  },
])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no recipe {{ number }}.</h1>
    <RouterLink class="underline" to="/recipes">All recipes</RouterLink>
  </section>
  <div v-else-if="recipe && version" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ recipe.name }}
        <span class="quiet text-base font-normal"
          >version {{ version.version }}, {{ day(version.made_at) }}: {{ version.why }}</span
        >
      </h1>
      <RouterLink class="btn btn-main" :to="`/recipes/${number}/again`">Same again</RouterLink>
      <RouterLink class="btn" :to="`/recipes/${number}/consistency`">How alike</RouterLink>
      <RouterLink class="btn" :to="{ path: '/additives/ladders/new', query: { recipe: number } }"
        >Ladder</RouterLink
      >
      <RouterLink
        v-if="recipe.batches[0]"
        class="btn btn-quiet"
        :to="{ path: '/cost', query: { recipe: number } }"
        >Cost</RouterLink
      >
      <HandOver :id="number" kind="recipe" />
      <RouterLink class="btn btn-quiet" :to="`/recipes/${number}/change`">New version</RouterLink>
    </div>
    <p v-if="recipe.bleeds_since" class="mb-3 border-l-4 border-stop pl-3">
      <strong>Prone to bleed</strong>, seen on the shelf {{ day(recipe.bleeds_since) }}. A
      <RouterLink class="underline" :to="{ path: '/additives/ladders/new', query: { recipe: number } }"
        >ladder</RouterLink
      >
      finds the least stabiliser that holds it.
    </p>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1fr_1.2fr]">
      <section aria-labelledby="promise">
        <h2 id="promise" class="text-lg">The promise</h2>
        <div
          v-if="recipe.versions.length > 1"
          class="my-2 flex flex-wrap gap-1.5"
          role="group"
          aria-label="Which version"
        >
          <button
            v-for="v in recipe.versions"
            :key="v.version"
            type="button"
            class="btn px-4"
            :class="v.version === version.version ? 'bg-ink! text-white' : ''"
            :aria-pressed="v.version === version.version"
            @click="shown = v.version"
          >
            {{ v.version }}</button><span v-if="against" class="small quiet self-center"
            >what differs from version {{ against.version }} is marked</span
          >
        </div>
        <table class="w-full">
          <tbody>
            <tr v-for="row in rows" :key="row.key" class="hairline align-baseline">
              <th scope="row" class="quiet py-1.5 pr-3 text-left font-normal">{{ row.key }}</th>
              <td class="py-1.5" :class="row.now !== row.before ? 'border-l-4 border-ink pl-3' : ''">
                {{ row.now
                }}<span v-if="row.now !== row.before" class="small quiet block">was {{ row.before }}</span>
              </td>
            </tr>
          </tbody>
        </table>
        <p
          v-for="a in (version.asked.additives ?? []).filter((additive) => additive.ladder_id)"
          :key="a.additive_key"
          class="small mt-2 border-l-4 border-act pl-2"
        >
          Evidence for {{ names[a.additive_key]?.toLowerCase() }}:
          <RouterLink class="underline" :to="`/additives/ladders/${a.ladder_id}`"
            >ladder {{ a.ladder_id }}</RouterLink
          >.
        </p>
      </section>
      <section class="min-w-0" aria-labelledby="batches">
        <h2 id="batches" class="text-lg">
          Its batches <span class="quiet small font-normal">{{ recipe.batch_count }}</span>
        </h2>
        <p v-if="!recipe.batches.length" class="quiet">None yet. "Same again" makes the first.</p>
        <ul v-else-if="!wide">
          <li v-for="b in recipe.batches" :key="b.number" class="hairline py-2">
            <div class="flex items-center justify-between gap-3">
              <RouterLink class="min-h-10 content-center" :to="`/checks/${b.number}`"
                ><span class="underline decoration-1 underline-offset-4">Batch {{ b.number }}</span
                >, <span class="small quiet">{{ day(b.started_at) }}</span></RouterLink
              ><ReleaseMark v-if="b.release" :release="b.release as 'release'" /><span
                v-else
                class="small quiet"
                >not yet</span
              >
            </div>
            <p class="small flex flex-wrap gap-x-4">
              <span v-if="b.oil_g_per_100g != null"
                >ratio <span class="figure">{{ digits(b.oil_g_per_100g, 1) }}</span> g per 100 g</span
              ><template v-for="k in kinds" :key="k"
                ><span v-if="b.results[k] != null"
                  >{{ KINDS[k].name.toLowerCase() }}
                  <span class="figure">{{
                    typeof b.results[k] === 'number'
                      ? digits(b.results[k] as number, 1)
                      : result(b.results[k], '')
                  }}</span>
                  {{ unitName(recipe.units[k] ?? '') }}</span
                ></template
              >
            </p>
          </li>
        </ul>
        <div v-else class="overflow-x-auto" tabindex="0" role="group" aria-label="Batches of this recipe">
          <table class="w-full">
            <thead>
              <tr class="small quiet text-left">
                <th class="font-normal" scope="col">batch</th>
                <th class="pl-3 text-right font-normal" scope="col">ratio<br />g per 100 g</th>
                <th v-for="k in kinds" :key="k" class="pl-3 text-right font-normal" scope="col">
                  {{ KINDS[k].name.toLowerCase() }}<br />{{ unitName(recipe.units[k] ?? '') || '\u00a0' }}
                </th>
                <th class="pl-4 font-normal" scope="col">decided</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="b in recipe.batches" :key="b.number" class="hairline">
                <th scope="row" class="py-1 text-left font-normal whitespace-nowrap">
                  <RouterLink
                    class="flex min-h-10 items-center underline decoration-1 underline-offset-4"
                    :to="`/checks/${b.number}`"
                    >{{ b.number }}</RouterLink><span class="sr-only">, {{ day(b.started_at) }}</span>
                </th>
                <td class="figure pl-3 text-right">
                  {{ b.oil_g_per_100g != null ? digits(b.oil_g_per_100g, 1) : '' }}
                </td>
                <td v-for="k in kinds" :key="k" class="figure pl-3 text-right">
                  {{
                    typeof b.results[k] === 'number'
                      ? digits(b.results[k] as number, 1)
                      : result(b.results[k], '')
                  }}
                </td>
                <td class="small pl-4">
                  <ReleaseMark v-if="b.release" :release="b.release as 'release'" /><span v-else class="quiet"
                    >not yet</span
                  >
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </section>
      <RecipeColour :recipe="number" :names="names" />
    </div>
  </div>
</template>
