<script setup lang="ts">
/** Body by intent: what the paint should be like in drawn choices; three schools' ways there, side by side. */
import { keyOf, librarySource, lotOf } from '@/kit/source'
import { useQuery, keepPreviousData } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import { usePlanDraft } from '@/rooms/plan/draft'
import { BASIS_OF, pct } from './choices'

type Wanted = {
  stand: Schemas['Stand']
  brush: Schemas['Brush']
  thread: Schemas['Thread']
  keep: Schemas['Keep']
  pigment: string
  oil: string
}
const router = useRouter()
const draft = usePlanDraft()
const wanted = useLocalStorage<Wanted>(
  'niddy-intent',
  {
    stand: 'butter',
    brush: 'keeps',
    thread: 'short',
    keep: 'years',
    pigment: 'library-burnt-sienna',
    oil: 'library-linseed-refined',
  },
  { mergeDefaults: true },
)

const ROWS = [
  {
    key: 'stand',
    name: 'On the knife it',
    of: [
      ['peak', 'stands in peaks', 'M8 40l10-30 8 18 8-26 8 24 10-20 8 34z'],
      ['butter', 'stands like butter', 'M8 40q4-26 26-28t26 28z'],
      ['soft', 'sits softly', 'M6 40q8-14 28-14t28 14z'],
      ['flows', 'flows', 'M4 40q14-6 30-6t34 6z'],
    ],
  },
  {
    key: 'brush',
    name: 'The brush mark',
    of: [
      ['keeps', 'stays', 'M8 14h52M8 21h52M8 28h52M8 35h52'],
      ['softens', 'softens', 'M8 18q26 4 52 0M8 30q26 4 52 0'],
      ['levels', 'levels out', 'M8 26h52'],
    ],
  },
  {
    key: 'thread',
    name: 'Pulled up, it',
    of: [
      ['short', 'breaks short', 'M10 10h48M34 10v8M34 32v8M10 40h48'],
      ['some', 'pulls a little', 'M10 10h48M34 10q-3 6 0 14M34 30v10M10 40h48'],
      ['honey', 'strings like honey', 'M10 10h48M34 10q-8 8-2 16t2 14M10 40h48'],
    ],
  },
  {
    key: 'keep',
    name: 'In the tube it keeps',
    of: [
      ['weeks', 'some weeks', 'M26 8h16v8l6 24H20l6-24z'],
      ['year', 'a year', 'M26 8h16v8l6 24H20l6-24zM24 24h20'],
      ['years', 'for years', 'M26 8h16v8l6 24H20l6-24zM24 24h20M22 30h24M21 36h26'],
    ],
  },
] as const

const from = (source: string, kind: 'pigment' | 'oil') =>
  lotOf(source) != null ? { [`${kind}_lot_id`]: lotOf(source) } : { [`${kind}_key`]: keyOf(source) }
const body = computed(() => ({
  stand: wanted.value.stand,
  brush: wanted.value.brush,
  thread: wanted.value.thread,
  keep: wanted.value.keep,
  ...from(wanted.value.pigment, 'pigment'),
  ...from(wanted.value.oil, 'oil'),
}))
const { data: routes, error } = useQuery({
  queryKey: ['intent', body],
  queryFn: () => answered(api.POST('/api/additives/intent', { body: body.value })),
  placeholderData: keepPreviousData,
  enabled: () => !!wanted.value.pigment && !!wanted.value.oil,
})
const trouble = computed(() =>
  error.value instanceof Refused
    ? error.value.words
    : error.value
      ? 'The server does not answer; try again.'
      : '',
)

function plan(route: Schemas['Route']): void {
  const parts = route.oil_parts
  draft.value = {
    ...draft.value,
    lines: [{ source: wanted.value.pigment, parts: 1, spoons: 2, spoon: 'teaspoon' }],
    oil: parts[0] ? librarySource(parts[0].key) : wanted.value.oil,
    oil_parts: parts[0] ? Math.round(100 * parts[0].share) : 1,
    more_oils: parts
      .slice(1)
      .map((additive) => ({ source: librarySource(additive.key), parts: Math.round(100 * additive.share) })),
    reduced: Number(route.reduced_pvc.toFixed(2)),
    additives: route.additives.map((additive) => ({
      source: librarySource(additive.key),
      dose: Number(additive.dose_pct.toPrecision(3)),
    })),
    trial: false,
    recipe: null,
  }
  void router.push('/plan')
}
</script>

<template>
  <div class="pt-4">
    <div class="mb-3 flex flex-wrap items-end gap-x-6 gap-y-2">
      <h1 class="min-w-72 flex-1">
        Body by intent<span class="quiet block text-base font-normal"
          >say what the paint should be like; three schools' ways there stand side by side</span
        >
      </h1>
      <MaterialPicker v-model="wanted.pigment" class="w-64" kind="pigment" label="Pigment" />
      <MaterialPicker v-model="wanted.oil" class="w-64" kind="oil" label="Oil" />
    </div>
    <div class="mb-4 grid gap-x-6 gap-y-2 border-y-2 border-ink py-3 lg:grid-cols-[1.3fr_1fr_1fr_1fr]">
      <fieldset v-for="row in ROWS" :key="row.key">
        <legend class="label">{{ row.name }}</legend>
        <div class="flex">
          <button
            v-for="[value, words, path] in row.of"
            :key="value"
            type="button"
            class="btn btn-drawn"
            :class="wanted[row.key] === value ? 'bg-ink! font-semibold! text-white' : ''"
            :aria-pressed="wanted[row.key] === value"
            @click="(wanted as Record<string, string>)[row.key] = value"
          >
            <svg viewBox="0 0 68 46" class="h-9 w-14 shrink-0" aria-hidden="true">
              <path
                :d="path"
                :fill="row.key === 'stand' ? 'currentColor' : 'none'"
                stroke="currentColor"
                stroke-width="2"
              /></svg
            >{{ words }}
          </button>
        </div>
      </fieldset>
    </div>
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
    <div v-if="routes" class="grid gap-x-8 gap-y-6 lg:grid-cols-3">
      <section
        v-for="route in routes"
        :key="route.school"
        class="flex flex-col"
        :aria-labelledby="`r-${route.school}`"
      >
        <div class="flex items-start gap-3">
          <h2 :id="`r-${route.school}`" class="flex-1 text-lg leading-tight">
            {{ route.title
            }}<span class="quiet small block font-normal">{{
              route.school === 'none' ? 'no school of additives' : `the ${route.school} school`
            }}</span>
          </h2>
          <button
            type="button"
            class="btn px-3"
            :class="route.wishes.every((w) => w.met) ? 'btn-main' : ''"
            :aria-label="`Plan it this way: ${route.title}`"
            @click="plan(route)"
          >
            Plan it so
          </button>
        </div>
        <ul class="mt-1 min-h-[7rem]">
          <li v-for="additive in route.additives" :key="additive.key" class="leading-snug">
            <span class="figure text-xl font-semibold">{{ pct(additive.dose_pct) }}</span>{{ ' '
            }}<span class="small quiet">{{ BASIS_OF[additive.basis_word] }}</span>
            {{ additive.name.toLowerCase() }}
            <span class="small quiet">{{ additive.why }}</span>
          </li>
          <li v-for="part in route.oil_parts.slice(1)" :key="part.key" class="leading-snug">
            <span class="figure text-xl font-semibold">{{ digits(100 * part.share, 0) }} %</span>{{ ' '
            }}<span class="small quiet">of the oil</span> {{ part.name.toLowerCase() }}
            <span class="small quiet">levels and strings</span>
          </li>
          <li v-if="!route.additives.length && !route.oil_parts.length" class="text-xl font-semibold">
            nothing
          </li>
        </ul>
        <dl class="mt-2 grid grid-cols-[6.5rem_1fr]">
          <dt class="hairline quiet py-1">aim at</dt>
          <dd class="hairline py-1">
            <span class="figure font-semibold">{{ digits(route.reduced_pvc, 2) }}</span> {{ route.body }}
            <span class="small quiet">reduced PVC</span>
          </dd>
          <dt class="hairline quiet py-1">colour</dt>
          <dd class="hairline py-1">
            <span class="figure font-semibold">{{ digits(route.colour_strength_pct, 0) }} %</span>{{ ' '
            }}<span class="small quiet"
              >of the strength without; {{ digits(route.pigment_volume_pct, 0) }} % of the paint is
              pigment</span
            >
          </dd>
          <dt class="hairline quiet py-1">touch-dry</dt>
          <dd class="hairline py-1">
            <template v-if="route.touch_dry_days_low != null"
              ><span class="figure font-semibold"
                >{{ digits(route.touch_dry_days_low, 0) }} to
                {{ digits(route.touch_dry_days_high!, 0) }}</span
              >
              days <span class="small quiet">normal film, assumed</span></template
            ><template v-else>not known</template>
          </dd>
          <dt class="hairline quiet py-1">film</dt>
          <dd class="hairline py-1">{{ route.film }}</dd>
          <dt class="hairline quiet py-1">keeps</dt>
          <dd class="hairline py-1" :class="route.keeps_days ? 'font-semibold text-stop' : ''">
            {{ route.keeps }}
          </dd>
        </dl>
        <ul class="hairline py-1.5" aria-label="What it gives of what you want">
          <li v-for="wish in route.wishes" :key="wish.what" class="flex gap-2 leading-snug">
            <svg viewBox="0 0 16 16" class="mt-1 h-4 w-4 shrink-0" aria-hidden="true">
              <path
                :d="wish.met ? 'M2 8l4 5 8-11' : 'M2 8h12'"
                fill="none"
                stroke="currentColor"
                stroke-width="2.500"
              />
            </svg>
            <span
              ><strong class="font-semibold">{{ wish.met ? '' : 'may not: ' }}{{ wish.what }}</strong
              >{{ ' ' }}<span class="small quiet">{{ wish.says }}</span></span
            >
          </li>
        </ul>
        <p v-if="route.cautions.length" class="hairline py-1.5">
          <strong class="text-stop">Take care:</strong>
          {{ route.cautions.map((c) => c.title.toLowerCase()).join(', ') }}.
          <span class="small">The safety data sheet, local codes and licensed disposal come first.</span>
        </p>
        <div class="hairline flex-1 py-1.5 text-[0.92rem]">
          <p v-for="finding in route.known" :key="finding" class="border-l-4 border-act pl-2">
            <strong class="font-semibold">Known here.</strong> {{ finding }}
          </p>
          <p class="quiet"><strong class="font-semibold">Assumed:</strong> {{ route.assumed.join('; ') }}.</p>
        </div>
      </section>
    </div>
  </div>
</template>
