<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useHome, useLibrary, useLots, useWorkshop } from '@/api/queries'
import BasisMark from '@/kit/BasisMark.vue'
import { day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import MaterialPicker from './MaterialPicker.vue'

const queries = useQueryClient()
const { data: lots } = useLots()
const { data: library } = useLibrary()
const { data: home } = useHome()
const { data: workshop } = useWorkshop()
const words = ref('')
const shelf = (kind: string) =>
  (lots.value ?? []).filter(
    (l) => l.kind === kind && words.value.toLowerCase().split(/\s+/).every((w) => `${l.name} ${l.code} ${l.ci_name} ${l.family} ${l.note}`.toLowerCase().includes(w)),
  )
const shelves = computed(() => [
  { kind: 'pigment', name: 'Pigments', lots: shelf('pigment') },
  { kind: 'oil', name: 'Oils', lots: shelf('oil') },
])

const receiving = ref(false)
const fresh = () => ({ kind: 'pigment' as 'pigment' | 'oil', source: '', code: '', received_on: '', received_g: null as number | null, price: null as number | null, note: '', density: null as number | null, loose: null as number | null, drop: null as number | null })
const form = ref(fresh())
const refusal = ref<Refused>()
const trouble = ref('')
const said = (field: string) => refusal.value?.at(field)
function begin(): void {
  form.value = { ...fresh(), received_on: (home.value?.now ?? new Date().toISOString()).slice(0, 10) }
  refusal.value = undefined
  receiving.value = true
}
async function receive(): Promise<void> {
  trouble.value = ''
  refusal.value = undefined
  const it = form.value
  const key = it.source.startsWith('lot-') ? lots.value?.find((l) => `lot-${l.id}` === it.source)?.material_key : it.source.replace('library-', '')
  try {
    await answered(
      api.POST('/api/materials/lots', {
        body: {
          kind: it.kind, material_key: key ?? '', code: it.code, received_on: it.received_on, received_g: it.received_g as number,
          price_per_kg: it.price, note: it.note, density_g_per_ml: it.density,
          loose_density_g_per_ml: it.kind === 'pigment' ? it.loose : null, drop_g: it.kind === 'oil' ? it.drop : null,
        },
      }),
    )
    receiving.value = false
    for (const queryKey of [['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
  } catch (error) {
    if (error instanceof Refused) refusal.value = error
    else trouble.value = 'The server does not answer; what you typed is kept. Try again.'
  }
}
const find = () => document.getElementById('stock-words')?.focus()
useKeys(() => [
  { key: '/', does: 'search the shelf', act: find },
  { key: 'r', does: 'receive a tin or bottle', act: begin },
])
const share = (lot: Schemas['LotKept']) => Math.max(0, Math.min(1, lot.received_g ? lot.on_hand_g / lot.received_g : 0))
</script>

<template>
  <div class="pt-5">
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <h1 class="flex-1">Stock</h1>
      <label class="w-72"><span class="label">Search the shelf</span><input id="stock-words" v-model="words" class="field" type="search" placeholder="name, lot, colour" /></label>
      <button type="button" class="btn btn-main" @click="begin">Receive a tin or bottle</button>
    </div>

    <form v-if="receiving" class="mb-5 border-2 border-ink bg-sheet p-4" @submit.prevent="receive" @keydown.esc="receiving = false">
      <h2 class="mb-2 text-xl">What came in?</h2>
      <div class="grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
        <div class="flex items-end gap-0" role="group" aria-label="Kind">
          <button v-for="kind in ['pigment', 'oil'] as const" :key="kind" type="button" class="btn -ml-[1.5px] flex-1 rounded-none" :class="form.kind === kind ? 'bg-ink! text-white' : ''" :aria-pressed="form.kind === kind" @click="((form.kind = kind), (form.source = ''))">{{ kind }}</button>
        </div>
        <MaterialPicker v-model="form.source" class="lg:col-span-2" :kind="form.kind" :label="form.kind === 'pigment' ? 'Pigment' : 'Oil'" :refusal="said('material_key')" />
        <label><span class="label">Your code for it</span><input v-model="form.code" class="field" maxlength="40" :aria-invalid="said('code') ? 'true' : undefined" /><span v-if="said('code')" class="refusal" role="alert">{{ said('code') }}</span></label>
        <NumberField v-model="form.received_g" label="Net weight" unit="g" :refusal="said('received_g')" accepted="grams above 0 and up to 20 000" />
        <label><span class="label">Came in on</span><input v-model="form.received_on" type="date" class="field" :aria-invalid="said('received_on') ? 'true' : undefined" /><span v-if="said('received_on')" class="refusal" role="alert">{{ said('received_on') }}</span></label>
        <NumberField v-model="form.price" label="Price, if you like" :unit="`${workshop?.settings.currency ?? ''} per kg`" :refusal="said('price_per_kg')" />
        <NumberField v-model="form.density" label="Density, if known" unit="g/ml" :refusal="said('density_g_per_ml')" />
        <NumberField v-if="form.kind === 'pigment'" v-model="form.loose" label="Loose density, if weighed" unit="g/ml" :refusal="said('loose_density_g_per_ml')" />
        <NumberField v-else v-model="form.drop" label="One drop, if weighed" unit="g" :refusal="said('drop_g')" />
        <label class="lg:col-span-3"><span class="label">Note</span><input v-model="form.note" class="field" maxlength="500" /></label>
      </div>
      <p class="small quiet mt-2">{{ library?.note }} What you leave out is taken from the library.</p>
      <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
      <span v-if="refusal && !['material_key', 'code', 'received_g', 'received_on', 'price_per_kg', 'density_g_per_ml', 'loose_density_g_per_ml', 'drop_g'].some(said)" class="refusal" role="alert">{{ refusal.message }}</span>
      <div class="mt-3 flex gap-3"><button class="btn btn-main">Put it on the shelf</button><button type="button" class="btn" @click="receiving = false">Cancel</button></div>
    </form>

    <template v-if="lots">
      <p v-if="!lots.length" class="py-6 text-lg">The shelf is empty. Receive a tin or bottle; or plan with the library as it is.</p>
      <section v-for="one in shelves" :key="one.kind" class="mb-7" :aria-label="one.name">
        <h2 class="mb-1 text-lg">{{ one.name }}</h2>
        <p v-if="lots.length && !one.lots.length" class="quiet">Nothing here by that name.</p>
        <ul class="grid gap-x-8 md:grid-cols-2">
          <li v-for="lot in one.lots" :key="lot.id" class="hairline">
            <RouterLink class="flex min-h-[68px] items-center gap-3 py-1.5 hover:bg-sheet" :to="`/stock/${lot.id}`">
              <svg viewBox="0 0 44 52" class="h-13 w-11 shrink-0" aria-hidden="true">
                <path v-if="lot.kind === 'pigment'" d="M4 8h36v42H4zM2 3h40v6H2z" fill="#fff" stroke="#171717" stroke-width="1.5" />
                <path v-else d="M16 2h12v10q10 4 10 12v26H6V24q0-8 10-12z" fill="#fff" stroke="#171717" stroke-width="1.5" />
                <rect :x="lot.kind === 'pigment' ? 5 : 7" :y="49 - share(lot) * (lot.kind === 'pigment' ? 38 : 28)" :width="lot.kind === 'pigment' ? 34 : 30" :height="share(lot) * (lot.kind === 'pigment' ? 38 : 28)" :fill="lot.masstone_srgb ?? '#c9c3a8'" />
              </svg>
              <span class="min-w-0 flex-1 leading-tight">
                <strong class="font-semibold">{{ lot.name }}</strong> <span class="quiet small">{{ lot.ci_name }}</span>
                <span class="small quiet block">lot {{ lot.code }}, in {{ day(lot.received_on) }}<template v-if="lot.oil_absorption">; takes {{ digits(lot.oil_absorption.low ?? 0, 0) }} to {{ digits(lot.oil_absorption.high ?? 0, 0) }} g oil <BasisMark :basis="lot.oil_absorption.basis" /></template></span>
              </span>
              <span class="text-right"><span class="figure text-xl font-semibold">{{ grams(lot.on_hand_g) }}</span> <span class="quiet">{{ massUnit() }}</span><strong v-if="lot.low" class="small block text-stop">{{ lot.on_hand_g <= 0 ? 'none left by the book' : 'running low' }}</strong></span>
            </RouterLink>
          </li>
        </ul>
      </section>
      <p class="small quiet"><BasisMark basis="library" words />: {{ library?.note }}</p>
    </template>
  </div>
</template>
