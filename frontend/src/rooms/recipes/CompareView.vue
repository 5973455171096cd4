<script setup lang="ts">
/** Two batches side by side, and where the change in spread comes from. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits } from '@/kit/format'
import BatchPicker from '@/rooms/batches/BatchPicker.vue'
import { KINDS, RELEASES, result, type Kind } from '@/rooms/checks/kinds'

const route = useRoute()
const router = useRouter()
const asNumber = (value: unknown) => (Number(value) > 0 ? Number(value) : null)
const one = ref<number | null>(asNumber(route.query.one))
const other = ref<number | null>(asNumber(route.query.other))
watch(
  [one, other],
  () =>
    void router.replace({
      query: { ...(one.value && { one: one.value }), ...(other.value && { other: other.value }) },
    }),
)
const { data: compared, error } = useQuery({
  queryKey: ['compare', one, other],
  enabled: () => !!one.value && !!other.value,
  retry: false,
  queryFn: () =>
    answered(api.GET('/api/checks/compare', { params: { query: { one: one.value!, other: other.value! } } })),
})
const refusal = computed(() =>
  error.value instanceof Refused
    ? error.value.words
    : error.value
      ? 'The server does not answer; try again.'
      : '',
)
type Row = { name: string; a: string; b: string; differs: boolean }
const rows = computed<Row[]>(() => {
  if (!compared.value) return []
  const { one: a, other: b } = compared.value
  const row = (name: string, of: (s: Schemas['Side']) => string): Row => ({
    name,
    a: of(a),
    b: of(b),
    differs: of(a) !== of(b),
  })
  const figure = (value: number | null | undefined, count: number, unit: string) =>
    value == null ? 'not known' : `${digits(value, count)} ${unit}`
  const kinds = (Object.keys(KINDS) as Kind[]).filter((k) => a.results[k] != null || b.results[k] != null)
  return [
    row('begun', (s) => day(s.started_at)),
    row('lots', (s) => s.lots),
    row('oil', (s) => s.oil),
    row('ratio', (s) => figure(s.oil_g_per_100g, 1, 'g per 100 g')),
    row('oil absorption', (s) => figure(s.oil_absorption_g_per_100g, 1, 'g per 100 g')),
    row('reduced PVC', (s) => figure(s.reduced_pvc, 3, '')),
    row('mulled a load', (s) => figure(s.minutes_per_load, 1, 'min')),
    row('additives', (s) => s.additives),
    ...kinds.map((k) =>
      row(
        KINDS[k].name.toLowerCase(),
        (s) => result(s.results[k], compared.value!.units[k] ?? '') || 'not checked',
      ),
    ),
    row('decided', (s) => (s.release ? RELEASES[s.release as 'release'].name : 'not yet')),
  ]
})
function sayShare(s: Schemas['Share']): string {
  if (s.before == null || s.after == null) return 'not known of both'
  if (s.what === 'additive')
    return s.before || s.after
      ? `stiffening, ln stress: ${digits(s.before, 2)} to ${digits(s.after, 2)}`
      : 'none in either'
  const count = s.unit === 'g/ml' ? 3 : 1
  return `${digits(s.before, count)} to ${digits(s.after, count)} ${s.unit}`
}
const widest = computed(() =>
  Math.max(
    0.1,
    ...(compared.value?.explained?.shares ?? []).map((s) => Math.abs(s.mm)),
    Math.abs(compared.value?.explained?.unexplained_mm ?? 0),
  ),
)
const bars = computed(() => [
  ...(compared.value?.explained?.shares ?? []).map((s) => ({ name: s.what, mm: s.mm, says: sayShare(s) })),
  {
    name: 'unexplained',
    mm: compared.value?.explained?.unexplained_mm ?? 0,
    says: 'noise of the checks, or something nobody wrote down',
  },
])
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-3">Compare two batches</h1>
    <div class="mb-4 flex flex-wrap items-end gap-4">
      <BatchPicker v-model="one" class="w-80 max-w-full" label="One batch" /><BatchPicker
        v-model="other"
        class="w-80 max-w-full"
        label="with another"
      />
    </div>
    <p v-if="refusal" class="refusal" role="alert">{{ refusal }}</p>
    <p v-else-if="!compared" class="quiet">
      Choose two batches: what went in, what came out, and what the difference comes from stand side by side.
    </p>
    <div v-else class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.1fr_1fr]">
      <section aria-labelledby="sides">
        <h2 id="sides" class="sr-only">Inputs and results</h2>
        <table class="w-full">
          <thead>
            <tr class="text-left">
              <th scope="col"><span class="sr-only">what</span></th>
              <th v-for="s in [compared.one, compared.other]" :key="s.number" scope="col" class="pb-2 pl-3">
                <ColourChip class="block h-10 w-24" :colour="s.masstone_srgb" /><RouterLink
                  class="underline"
                  :to="`/batches/${s.number}`"
                  >batch {{ s.number }}</RouterLink
                ><span class="quiet block font-normal">{{ s.name }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.name" class="hairline align-baseline">
              <th scope="row" class="quiet py-1.5 pr-2 text-left font-normal">{{ row.name }}</th>
              <td class="figure py-1.5 pl-3">{{ row.a }}</td>
              <td
                class="figure py-1.5 pl-3"
                :class="row.differs ? 'border-l-4 border-ink font-semibold' : 'border-l-4 border-transparent'"
              >
                {{ row.b }}
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section aria-labelledby="why">
        <h2 id="why" class="text-lg">Why the spread differs</h2>
        <p v-if="!compared.explained" class="quiet">{{ compared.why_not }}</p>
        <template v-else>
          <p class="mb-3">
            <span class="figure text-4xl font-semibold"
              >{{ compared.explained.change_mm >= 0 ? '+' : ''
              }}{{ digits(compared.explained.change_mm, 1) }}</span
            >
            mm across, shared out:
          </p>
          <ul>
            <li
              v-for="bar in bars"
              :key="bar.name"
              class="hairline grid grid-cols-[8.5rem_1fr_4.5rem] items-center gap-3 py-1.5"
            >
              <span class="leading-tight" :class="bar.name === 'unexplained' ? 'font-semibold' : ''">{{
                bar.name
              }}</span>
              <svg viewBox="0 0 200 20" preserveAspectRatio="none" class="h-5 w-full" aria-hidden="true">
                <path d="M100 0v20" stroke="#8a8a8a" />
                <rect
                  :x="bar.mm < 0 ? 100 - (Math.abs(bar.mm) / widest) * 98 : 100"
                  y="3"
                  :width="(Math.abs(bar.mm) / widest) * 98"
                  height="14"
                  :fill="bar.name === 'unexplained' ? '#bdbdbd' : '#171717'"
                />
              </svg>
              <span class="figure text-right">{{ bar.mm >= 0 ? '+' : '' }}{{ digits(bar.mm, 1) }} mm</span>
              <span class="small quiet col-span-3">{{ bar.says }}</span>
            </li>
          </ul>
          <p class="small quiet mt-2">
            By a slope of ln D on reduced PVC of
            <span class="figure"
              >{{ digits(compared.explained.slope.per_reduced, 2) }} ±{{
                digits(compared.explained.slope.half_width, 2)
              }}</span
            >, {{ compared.explained.slope.basis === 'learned' ? "the recipe's own" : 'assumed' }}; one input
            changed after the other.
          </p>
        </template>
      </section>
    </div>
  </div>
</template>
