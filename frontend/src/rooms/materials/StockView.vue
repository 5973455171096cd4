<script setup lang="ts">
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, type Schemas } from '@/api/client'
import { useHome, useLibrary } from '@/api/queries'
import BasisMark from '@/kit/BasisMark.vue'
import { ago, day, digits, grams, massUnit } from '@/kit/format'
import { pretty } from '@/kit/formula'
import { useKeys } from '@/kit/keys'
import { walkKeys } from '@/kit/walk'
import ReceiveForm from './ReceiveForm.vue'
import StockImport from './StockImport.vue'

type Kind = 'pigment' | 'oil' | 'additive' | 'gel' | 'wax' | 'base' | 'raw' | 'tube' | 'jar'
const route = useRoute()
const router = useRouter()
const { data: library } = useLibrary()
const { data: home } = useHome()

const KINDS: { key: Kind; name: string }[] = [
  { key: 'pigment', name: 'Pigments' },
  { key: 'oil', name: 'Oils' },
  { key: 'additive', name: 'Additives' },
  { key: 'gel', name: 'Gels' },
  { key: 'wax', name: 'Waxes' },
  { key: 'base', name: 'Bases' },
  { key: 'raw', name: 'Raw' },
  { key: 'tube', name: 'Tubes' },
  { key: 'jar', name: 'Jars' },
]
const SORTS = [
  { key: 'name', name: 'by name' },
  { key: 'code', name: 'by code' },
  { key: 'received', name: 'newest first' },
  { key: 'on_hand', name: 'least left first' },
  { key: 'age', name: 'longest open first' },
] as const
const setting = (key: string) =>
  computed({
    get: () => String(route.query[key] ?? ''),
    set: (value: string) => void router.replace({ query: { ...route.query, [key]: value || undefined } }),
  })
const kind = setting('kind')
const sort = setting('sort')
const low = setting('low')
const gone = setting('gone')
const words = ref(String(route.query.words ?? ''))
const asked = refDebounced(words, 150)
const LIMIT = 200
const query = computed(() => ({
  kind: (kind.value || undefined) as 'pigment' | undefined,
  words: asked.value || undefined,
  sort: (sort.value || 'name') as 'name',
  only_low: low.value === '1' || undefined,
  with_used_up: gone.value === '1' || undefined,
  limit: LIMIT,
}))
const { data: lots } = useQuery({
  queryKey: ['lots', query],
  queryFn: () => answered(api.GET('/api/materials/lots', { params: { query: query.value } })),
  placeholderData: keepPreviousData,
})
const shelves = computed(() => {
  if (sort.value && sort.value !== 'name') return [{ name: '', lots: lots.value ?? [] }]
  return KINDS.map((k) => ({
    name: k.name,
    lots: (lots.value ?? []).filter((l) => l.kind === k.key),
  })).filter((s) => s.lots.length)
})
const filtered = computed(() => !!(kind.value || asked.value || low.value))
const panel = ref<'receive' | 'import'>()
const list = ref<HTMLElement | null>(null)
useKeys(() => [
  { key: '/', does: 'search the stock', act: () => document.getElementById('stock-words')?.focus() },
  { key: 'r', does: 'receive a tin, bottle or box', act: () => (panel.value = 'receive') },
  { key: 'i', does: 'bring in a CSV file', act: () => (panel.value = 'import') },
  { key: 'l', does: 'only what runs low, or all', act: () => (low.value = low.value ? '' : '1') },
  ...walkKeys(list, 'in stock'),
])
const share = (lot: Schemas['LotKept']) =>
  Math.max(0, Math.min(1, lot.received ? lot.on_hand / lot.received : 0))
const left = (lot: Schemas['LotKept']) => (lot.unit === 'g' ? grams(lot.on_hand) : digits(lot.on_hand, 0))
const BOX = {
  pigment: [5, 38, 34, 49],
  oil: [7, 28, 30, 49],
  raw: [9, 28, 26, 49],
  additive: [9, 28, 26, 49],
  gel: [9, 28, 26, 49],
  wax: [5, 27, 26, 49],
  base: [5, 27, 26, 49],
  tube: [5, 30, 34, 49],
  jar: [5, 30, 34, 49],
} as Record<string, number[]>
</script>

<template>
  <div class="pt-5">
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <h1 class="flex-1">Stock</h1>
      <a class="btn btn-quiet" href="/api/materials/export.csv" download>CSV out</a>
      <a class="btn btn-quiet" href="/api/materials/export.json" download="niddy-stock.json">JSON out</a>
      <button type="button" class="btn btn-quiet" @click="panel = 'import'">CSV in</button>
      <button type="button" class="btn btn-main" @click="panel = 'receive'">Receive</button>
    </div>
    <div class="mb-4 flex flex-wrap items-end gap-3">
      <label class="min-w-56 flex-1"
        ><span class="label">Search the stock</span
        ><input
          id="stock-words"
          v-model="words"
          class="field"
          type="search"
          maxlength="100"
          placeholder="name, code, colour, note"
      /></label>
      <label
        ><span class="label">Show</span
        ><select v-model="kind" class="field">
          <option value="">everything</option>
          <option v-for="k in KINDS" :key="k.key" :value="k.key">{{ k.name.toLowerCase() }}</option>
        </select></label
      >
      <label
        ><span class="label">Sorted</span
        ><select
          :value="sort || 'name'"
          class="field"
          @change="sort = ($event.target as HTMLSelectElement).value"
        >
          <option v-for="s in SORTS" :key="s.key" :value="s.key">{{ s.name }}</option>
        </select></label
      >
      <button
        type="button"
        class="btn"
        :class="low ? 'bg-ink! text-white' : ''"
        :aria-pressed="!!low"
        @click="low = low ? '' : '1'"
      >
        Running low
      </button>
      <button
        type="button"
        class="btn"
        :class="gone ? 'bg-ink! text-white' : ''"
        :aria-pressed="!!gone"
        @click="gone = gone ? '' : '1'"
      >
        Used up too
      </button>
    </div>
    <ReceiveForm
      v-if="panel === 'receive' && home"
      class="mb-5"
      :today="home.now.slice(0, 10)"
      @close="panel = undefined"
    />
    <StockImport v-if="panel === 'import'" class="mb-5" @close="panel = undefined" />

    <div v-if="lots" ref="list">
      <p v-if="!lots.length" class="py-6 text-lg">
        {{
          filtered
            ? 'Nothing in stock matches that.'
            : 'Nothing is in stock yet. Receive a tin or bottle; or plan with the library as it is.'
        }}
      </p>
      <section v-for="shelf in shelves" :key="shelf.name" class="mb-7" :aria-label="shelf.name || 'Shelf'">
        <h2 v-if="shelf.name" class="mb-1 text-lg">{{ shelf.name }}</h2>
        <ul class="grid gap-x-8 md:grid-cols-2">
          <li v-for="lot in shelf.lots" :key="lot.id" class="hairline">
            <RouterLink
              class="flex min-h-[68px] items-center gap-3 py-1.5 hover:bg-sheet"
              :to="`/stock/${lot.id}`"
            >
              <svg viewBox="0 0 44 52" class="h-13 w-11 shrink-0" aria-hidden="true">
                <path
                  v-if="lot.kind === 'pigment'"
                  d="M4 8h36v42H4zM2 3h40v6H2z"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width="1.5"
                />
                <path
                  v-else-if="lot.kind === 'oil'"
                  d="M16 2h12v10q10 4 10 12v26H6V24q0-8 10-12z"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width="1.5"
                />
                <path
                  v-else-if="lot.kind === 'additive' || lot.kind === 'gel' || lot.kind === 'raw'"
                  d="M8 14h28v36H8zM14 4h16v10H14z"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width="1.5"
                />
                <path
                  v-else-if="lot.kind === 'wax' || lot.kind === 'base'"
                  d="M4 22l8-10h28v28l-8 10H4zM4 22h28v28M32 22l8-10"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width="1.5"
                />
                <path
                  v-else
                  d="M4 16h36v34H4zM4 16l6-10h24l6 10"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width="1.5"
                />
                <rect
                  :x="BOX[lot.kind]![0]"
                  :y="BOX[lot.kind]![3]! - share(lot) * BOX[lot.kind]![1]!"
                  :width="BOX[lot.kind]![2]"
                  :height="share(lot) * BOX[lot.kind]![1]!"
                  :fill="lot.masstone_srgb ?? (lot.kind === 'oil' ? '#c9c3a8' : '#b5b5b5')"
                />
              </svg>
              <span class="min-w-0 flex-1 leading-tight">
                <strong class="font-semibold">{{ lot.name }}</strong>{{ ' '
                }}<span class="quiet small">{{ lot.ci_name || (lot.formula && pretty(lot.formula)) }}</span>
                <span class="small quiet block"
                  >lot {{ lot.code }}, in {{ day(lot.received_on)
                  }}<template v-if="lot.opened_on && home"
                    >, opened {{ ago(lot.opened_on, home.now) }}</template
                  ></span
                >
                <span v-if="lot.oil_absorption" class="small quiet block"
                  >takes
                  <span class="figure"
                    >{{ digits(lot.oil_absorption.low ?? 0, 0) }} to
                    {{ digits(lot.oil_absorption.high ?? 0, 0) }}</span
                  >
                  g oil per 100 g, <BasisMark words :basis="lot.oil_absorption.basis"
                /></span>
              </span>
              <span class="text-right"
                ><span class="figure text-xl font-semibold">{{ left(lot) }}</span
                >{{ ' ' }}<span class="quiet">{{ lot.unit === 'g' ? massUnit() : lot.unit }}</span
                ><strong v-if="lot.suspect" class="small block text-stop">under suspicion</strong
                ><strong v-if="lot.used_up" class="small quiet block">used up</strong
                ><strong v-else-if="lot.low" class="small block text-stop">{{
                  lot.on_hand <= 0 ? 'none left by the book' : 'running low'
                }}</strong></span
              >
            </RouterLink>
          </li>
        </ul>
      </section>
      <p v-if="lots.length === LIMIT" class="small">
        The first {{ LIMIT }} are shown: search for the others.
      </p>
      <p class="small quiet"><BasisMark basis="library" words />: {{ library?.note }}</p>
    </div>
  </div>
</template>
