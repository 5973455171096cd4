<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useMediaQuery } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useLibrary, useLots } from '@/api/queries'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import VerdictMark from './VerdictMark.vue'

const route = useRoute()
const router = useRouter()
const { data: library } = useLibrary()
const { data: lots } = useLots()
const LIMIT = 50

const filter = (key: string) =>
  computed({
    get: () => String(route.query[key] ?? ''),
    set: (value: string) =>
      void router.replace({
        query: {
          ...route.query,
          [key]: value || undefined,
          from: key === 'from' ? value || undefined : undefined,
        },
      }),
  })
const words = filter('words')
const pigment = filter('pigment')
const lot = filter('lot')
const state = filter('state')
const since = filter('since')
const until = filter('until')
const from = filter('from')
const VERDICTS = ['stiff', 'right', 'soft']

const query = computed(() => ({
  words: words.value || undefined,
  pigment: pigment.value || undefined,
  lot: lot.value ? Number(lot.value) : undefined,
  status: VERDICTS.includes(state.value) || !state.value ? undefined : (state.value as Schemas['Status']),
  verdict: VERDICTS.includes(state.value) ? (state.value as Schemas['Verdict']) : undefined,
  since: since.value || undefined,
  until: until.value || undefined,
  offset: from.value ? Number(from.value) : undefined,
  limit: LIMIT,
}))
const { data: found, error } = useQuery({
  queryKey: ['batches', query],
  queryFn: () => answered(api.GET('/api/batches', { params: { query: query.value } })),
  placeholderData: keepPreviousData,
})
const refusal = computed(() => (error.value instanceof Refused ? error.value : undefined))
const filtered = computed(
  () => !!(words.value || pigment.value || lot.value || state.value || since.value || until.value),
)
const offset = computed(() => Number(from.value || 0))
const wide = useMediaQuery('(min-width: 768px)')
/** On a phone the batches come first; what narrows them is a touch away. */
const narrowing = ref(false)
const clear = () => void router.replace({ query: {} })
const move = (by: number) => (from.value = String(Math.max(0, offset.value + by) || ''))
const search = () => document.getElementById('words')?.focus()
useKeys(() => [
  { key: '/', does: 'search', act: search },
  { key: 'c', does: 'clear every filter', act: clear, when: () => filtered.value },
  { key: 'ArrowRight', does: 'older batches', act: () => move(LIMIT), when: () => !!found.value?.more },
  { key: 'ArrowLeft', does: 'newer batches', act: () => move(-LIMIT), when: () => offset.value > 0 },
])
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-3">Batches</h1>
    <form
      class="mb-4 grid grid-cols-2 items-end gap-3 md:grid-cols-3 xl:grid-cols-[1.3fr_1.2fr_1.2fr_1fr_auto_auto_auto]"
      role="search"
      @submit.prevent
    >
      <label
        ><span class="label">Name or number</span
        ><input
          id="words"
          v-model.lazy="words"
          class="field"
          type="search"
          maxlength="100"
          @keyup="words = ($event.target as HTMLInputElement).value"
      /></label>
      <button
        v-if="!wide"
        type="button"
        class="btn"
        :aria-expanded="narrowing || filtered"
        @click="narrowing = !narrowing"
      >
        Narrow it down
      </button>
      <template v-if="wide || narrowing || filtered">
        <label
          ><span class="label">Pigment</span
          ><select v-model="pigment" class="field">
            <option value="">any</option>
            <option v-for="p in library?.pigments ?? []" :key="p.key" :value="p.key">{{ p.name }}</option>
          </select></label
        >
        <label
          ><span class="label">Lot</span
          ><select v-model="lot" class="field">
            <option value="">any</option>
            <option v-for="l in lots ?? []" :key="l.id" :value="String(l.id)">
              {{ l.code }}, {{ l.name }}
            </option>
          </select></label
        >
        <label
          ><span class="label">Came out</span
          ><select v-model="state" class="field">
            <option value="">any way</option>
            <option value="open">still open</option>
            <option value="right">right</option>
            <option value="stiff">stiff</option>
            <option value="soft">soft</option>
            <option value="abandoned">given up</option>
          </select></label
        >
        <label
          ><span class="label">From</span
          ><input
            v-model="since"
            class="field"
            type="date"
            :aria-invalid="refusal?.at('since') ? 'true' : undefined"
        /></label>
        <label
          ><span class="label">To</span
          ><input
            v-model="until"
            class="field"
            type="date"
            :aria-invalid="refusal?.at('until') ? 'true' : undefined"
        /></label>
        <button type="button" class="btn" :disabled="!filtered" @click="clear">Clear</button>
      </template>
      <RouterLink class="btn btn-quiet" to="/compare">Compare two</RouterLink>
    </form>
    <p v-if="refusal" class="refusal" role="alert">{{ refusal.message }}</p>
    <template v-if="found">
      <p v-if="!found.batches.length" class="py-6 text-lg">
        <template v-if="filtered"
          >No batch matches all of that.
          <button type="button" class="underline" @click="clear">Clear the filters</button></template
        >
        <template v-else
          >No batch was ever ground here.
          <RouterLink class="underline" to="/plan">Plan the first</RouterLink>.</template
        >
      </p>
      <ul v-else-if="!wide">
        <li v-for="batch in found.batches" :key="batch.number" class="hairline">
          <RouterLink
            class="flex min-h-16 items-center gap-3 py-2 leading-tight"
            :to="batch.status === 'open' ? `/slab/${batch.number}` : `/batches/${batch.number}`"
          >
            <ColourChip class="h-11 w-12 shrink-0" :colour="batch.masstone_srgb" />
            <span class="min-w-0 flex-1"
              ><span class="figure quiet">{{ batch.number }}</span
              >{{ ' ' }}<strong class="font-semibold">{{ batch.name }}</strong
              ><span class="small quiet block">{{ day(batch.started_at) }}; {{ batch.oil_name }}</span
              ><span v-if="batch.oil_g_per_100g != null" class="small block"
                ><span class="figure">{{ digits(batch.oil_g_per_100g, 1) }}</span> g per 100 g;
                <span class="figure">{{ digits(batch.made_ml, 0) }}</span> ml<template
                  v-if="batch.tubes_filled"
                  >, <span class="figure">{{ batch.tubes_filled }}</span>
                  {{ batch.tubes_filled === 1 ? 'tube' : 'tubes' }}</template
                ></span
              ></span
            >
            <VerdictMark v-if="batch.verdict" :verdict="batch.verdict" /><span v-else class="small">{{
              batch.status === 'open' ? 'still open' : 'given up'
            }}</span>
          </RouterLink>
        </li>
      </ul>
      <div v-else>
        <table class="w-full">
          <thead>
            <tr class="small quiet text-left">
              <th class="font-normal" scope="col">batch</th>
              <th class="font-normal" scope="col">begun</th>
              <th class="text-right font-normal" scope="col">pigment, {{ massUnit() }}</th>
              <th class="text-right font-normal" scope="col">oil, {{ massUnit() }}</th>
              <th class="text-right font-normal" scope="col">g per 100 g</th>
              <th class="text-right font-normal" scope="col">paint, ml</th>
              <th class="text-right font-normal" scope="col">tubes</th>
              <th class="pl-6 font-normal" scope="col">came out</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="batch in found.batches" :key="batch.number" class="hairline relative hover:bg-sheet">
              <th scope="row" class="py-1 text-left font-normal">
                <RouterLink
                  class="flex min-h-12 items-center gap-3 after:absolute after:inset-0"
                  :to="batch.status === 'open' ? `/slab/${batch.number}` : `/batches/${batch.number}`"
                >
                  <ColourChip class="h-9 w-14" :colour="batch.masstone_srgb" />
                  <span class="leading-tight"
                    ><span class="figure quiet">{{ batch.number }}</span
                    >{{ ' ' }}<strong class="font-semibold">{{ batch.name }}</strong
                    ><span class="small quiet block">{{ batch.oil_name }}</span></span
                  >
                </RouterLink>
              </th>
              <td class="whitespace-nowrap">{{ day(batch.started_at) }}</td>
              <td class="figure text-right">{{ grams(batch.pigment_g) }}</td>
              <td class="figure text-right">{{ grams(batch.oil_g) }}</td>
              <td class="figure text-right">
                {{ batch.oil_g_per_100g == null ? '' : digits(batch.oil_g_per_100g, 1) }}
              </td>
              <td class="figure text-right">{{ digits(batch.made_ml, 1) }}</td>
              <td class="figure text-right">{{ batch.tubes_filled || '' }}</td>
              <td class="pl-6">
                <VerdictMark v-if="batch.verdict" :verdict="batch.verdict" /><template v-else>{{
                  batch.status === 'open' ? 'still open' : 'given up'
                }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div v-if="offset || found.more" class="mt-3 flex gap-3">
        <button type="button" class="btn" :disabled="!offset" @click="move(-LIMIT)">Newer</button>
        <button type="button" class="btn" :disabled="!found.more" @click="move(LIMIT)">Older</button>
      </div>
    </template>
  </div>
</template>
