<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useHome, useWorkshop } from '@/api/queries'
import ColourChip from '@/kit/ColourChip.vue'
import { ago, day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import { useUnits, type Unit } from '@/kit/units'
import LotOrigin from './LotOrigin.vue'
import LotMovements from './LotMovements.vue'
import LotValues from './LotValues.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { data: workshop } = useWorkshop()
const { data: home } = useHome()
const path = { params: { path: { lot_id: props.number } } }
const { data, error } = useQuery({
  queryKey: ['lot', props.number],
  queryFn: () => answered(api.GET('/api/materials/lots/{lot_id}', path)),
})
const lot = computed(() => data.value?.lot)
const inGrams = computed(() => lot.value?.unit === 'g')
const amount = (value: number) => (inGrams.value ? grams(value) : digits(value, 0))
const unit = computed(() => (inGrams.value ? massUnit() : 'pieces'))

const refusal = ref<{ where: string; problem?: Refused; words: string }>()
const said = (where: string, field: string) =>
  refusal.value?.where === where
    ? (refusal.value.problem?.at(field) ?? (refusal.value.problem ? undefined : refusal.value.words))
    : undefined
async function send(where: string, asked: () => Promise<unknown>): Promise<boolean> {
  refusal.value = undefined
  try {
    await asked()
    for (const queryKey of [['lot'], ['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
    return true
  } catch (problem) {
    const known = problem instanceof Refused ? problem : undefined
    refusal.value = {
      where,
      problem: known,
      words: known ? known.message : 'The server does not answer; what you typed is kept.',
    }
    return false
  }
}

const field = ref<InstanceType<typeof NumberField> | null>(null)
const reading = ref<number | null>(null)
const note = ref('')
async function weighIn(): Promise<void> {
  if (reading.value == null) {
    refusal.value = { where: 'reading', words: `Needed: what is left, net; 0 if it is used up.` }
    return
  }
  const body = { reading: reading.value, note: note.value }
  if (
    await send('reading', () =>
      answered(api.POST('/api/materials/lots/{lot_id}/weigh-in', { ...path, body })),
    )
  ) {
    reading.value = null
    note.value = ''
  }
}
const { spoons: spoonsHere, teaspoon } = useUnits()
const picked = ref<Unit>()
const spoon = computed({
  get: () => picked.value ?? teaspoon.value,
  set: (unit: Unit) => (picked.value = unit),
})
const spoons = ref<number | null>(1)
const spoonG = ref<number | null>(null)
async function weighSpoon(): Promise<void> {
  const body = { unit: spoon.value, spoons: spoons.value as number, grams: spoonG.value as number }
  if (
    await send('spoon', () =>
      answered(api.POST('/api/materials/lots/{lot_id}/weigh-spoon', { ...path, body })),
    )
  )
    spoonG.value = null
}
const drops = ref<number | null>(20)
const dropsG = ref<number | null>(null)
async function weighDrops(): Promise<void> {
  const body = { drops: drops.value as number, grams: dropsG.value as number }
  if (
    await send('drops', () =>
      answered(api.POST('/api/materials/lots/{lot_id}/weigh-drops', { ...path, body })),
    )
  )
    dropsG.value = null
}

const changing = ref<{
  code: string
  price: number | null
  note: string
  density: number | null
  loose: number | null
  drop: number | null
  supplier: string
  opened: string
  safety: string
  hazards: string
  purity: number | null
}>()
const own = (value: Schemas['Value'] | null | undefined) =>
  value && (value.basis === 'entered' || value.basis === 'measured') ? value.value : null
function edit(): void {
  const it = lot.value!
  refusal.value = undefined
  changing.value = {
    code: it.code,
    price: it.price_per_unit == null ? null : Number(it.price_per_unit),
    note: it.note,
    density: own(it.density),
    loose: own(it.loose_density),
    drop: own(it.drop),
    supplier: it.supplier_code,
    opened: it.opened_on ?? '',
    safety: it.safety_note,
    hazards: it.hazards_own ? it.hazards.join(', ') : '',
    purity: it.purity?.value ?? null,
  }
}
async function keep(): Promise<void> {
  const it = changing.value!
  const hazards = it.hazards
    .split(/[,;]/)
    .map((h) => h.trim())
    .filter(Boolean)
  const body = {
    code: it.code,
    price_per_unit: it.price,
    note: it.note,
    density_g_per_ml: it.density,
    loose_density_g_per_ml: it.loose,
    drop_g: it.drop,
    supplier_code: it.supplier,
    opened_on: it.opened || null,
    safety_note: it.safety,
    hazards: hazards.length ? hazards : null,
    purity: it.purity != null ? it.purity / 100 : null,
  }
  if (await send('change', () => answered(api.PUT('/api/materials/lots/{lot_id}', { ...path, body }))))
    changing.value = undefined
}
useKeys(() => [
  { key: 'w', does: 'weigh it in again', act: () => field.value?.focus() },
  { key: 'c', does: 'change what is said of it', act: edit, when: () => !!lot.value },
])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no lot {{ number }}.</h1>
    <RouterLink class="underline" to="/stock">The stock</RouterLink>
  </section>
  <div v-else-if="lot && data" class="pt-5">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <ColourChip v-if="lot.masstone_srgb" class="h-14 w-24" :colour="lot.masstone_srgb" />
      <h1 class="flex-1">
        {{ lot.name }}
        <span class="quiet block text-base font-normal"
          >lot {{ lot.code }}<template v-if="lot.ci_name">, {{ lot.ci_name }}</template
          >; came in {{ day(lot.received_on)
          }}<template v-if="lot.opened_on && home">; opened {{ ago(lot.opened_on, home.now) }}</template
          ><template v-if="lot.price_per_unit"
            >; {{ Number(lot.price_per_unit).toFixed(2) }} {{ workshop?.settings.currency }}
            {{ inGrams ? 'per kg' : 'each' }}</template
          ></span
        >
      </h1>
      <p class="text-right">
        <span class="figure text-5xl font-semibold">{{ amount(lot.on_hand) }}</span>{{ ' '
        }}<span class="quiet">{{ unit }} of {{ amount(lot.received) }} left</span>
      </p>
    </div>
    <div class="mt-2 flex flex-wrap gap-3">
      <RouterLink v-if="lot.kind === 'pigment'" class="btn" :to="{ path: '/rub-out', query: { lot: lot.id } }"
        >Rub-out</RouterLink
      >
      <RouterLink v-if="lot.kind === 'pigment'" class="btn" :to="`/pigments/${lot.material_key}`"
        >What oil it takes</RouterLink
      >
      <RouterLink
        v-if="inGrams && lot.kind !== 'wax' && lot.kind !== 'base' && lot.kind !== 'raw'"
        class="btn"
        :to="{ path: '/batches', query: { lot: lot.id } }"
        >Batches of this lot</RouterLink
      >
      <RouterLink v-if="inGrams" class="btn" :to="`/lineage/lots/${lot.id}`">Where it went</RouterLink>
      <a
        v-if="inGrams"
        class="btn"
        :href="`/api/materials/lots/${lot.id}/label.pdf`"
        target="_blank"
        rel="noopener"
        >Label for its jar</a
      >
      <button type="button" class="btn" @click="edit">Change</button>
    </div>
    <form
      v-if="changing"
      class="mt-4 border-2 border-ink bg-sheet p-4"
      @submit.prevent="keep"
      @keydown.esc="changing = undefined"
    >
      <h2 class="mb-2 text-lg">Change what is said of it</h2>
      <div class="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
        <label
          ><span class="label">Your code</span
          ><input v-model="changing.code" class="field" maxlength="40" /><span
            v-if="said('change', 'code')"
            class="refusal"
            role="alert"
            >{{ said('change', 'code') }}</span
          ></label
        >
        <NumberField
          v-model="changing.price"
          label="Price"
          :unit="`${workshop?.settings.currency ?? ''} ${inGrams ? 'per kg' : 'each'}`"
          :refusal="refusal?.problem?.at('price_per_unit')"
        />
        <NumberField
          v-if="lot.density"
          v-model="changing.density"
          label="Density; empty for the library's"
          unit="g/ml"
          :refusal="refusal?.problem?.at('density_g_per_ml')"
        />
        <NumberField
          v-if="lot.loose_density"
          v-model="changing.loose"
          label="Loose density"
          unit="g/ml"
          :refusal="refusal?.problem?.at('loose_density_g_per_ml')"
        />
        <NumberField
          v-if="lot.drop"
          v-model="changing.drop"
          label="One drop"
          unit="g"
          :refusal="refusal?.problem?.at('drop_g')"
        />
        <NumberField
          v-if="lot.kind === 'raw'"
          v-model="changing.purity"
          label="Pure to"
          unit="%"
          :refusal="refusal?.problem?.at('purity') && 'Try a number up to 100 %.'"
        />
        <label v-if="inGrams"
          ><span class="label">Opened on</span
          ><input v-model="changing.opened" type="date" class="field" /><span
            v-if="refusal?.problem?.at('opened_on')"
            class="refusal"
            role="alert"
            >{{ refusal.problem.at('opened_on') }}</span
          ></label
        >
        <label
          ><span class="label">Supplier (your own short name)</span
          ><input v-model="changing.supplier" class="field" maxlength="80"
        /></label>
        <label v-if="inGrams"
          ><span class="label">Hazards of this lot; empty for the library's</span
          ><input v-model="changing.hazards" class="field" maxlength="300" placeholder="lead, silica" /><span
            v-if="refusal?.problem?.at('hazards')"
            class="refusal"
            role="alert"
            >{{ refusal.problem.at('hazards') }}</span
          ></label
        >
        <label v-if="inGrams" class="lg:col-span-2"
          ><span class="label">From its safety data sheet</span
          ><input v-model="changing.safety" class="field" maxlength="500"
        /></label>
        <label class="lg:col-span-2"
          ><span class="label">Note</span><input v-model="changing.note" class="field" maxlength="500"
        /></label>
      </div>
      <span v-if="refusal?.where === 'change' && !refusal.problem" class="refusal" role="alert">{{
        refusal.words
      }}</span>
      <div class="mt-3 flex gap-3">
        <button class="btn btn-main">Keep</button
        ><button type="button" class="btn" @click="changing = undefined">Cancel</button>
      </div>
    </form>
    <div class="mt-6 grid gap-x-12 gap-y-6 lg:grid-cols-2">
      <div class="space-y-6">
        <LotValues :lot="lot" :gives="data?.gives" />
        <LotOrigin :lot="lot" />
        <section v-if="inGrams" aria-labelledby="safety">
          <h2 id="safety" class="text-lg">Safety</h2>
          <p>
            Hazards noted: {{ lot.hazards.join(', ').replaceAll('-', ' ') || 'none' }}
            <span class="quiet small"
              >({{ lot.hazards_own ? 'as you entered' : 'library, approximate' }})</span
            >
          </p>
          <p v-if="lot.safety_note">{{ lot.safety_note }}</p>
          <p class="small">Follow the safety data sheet, local codes and licensed disposal.</p>
        </section>
        <p v-if="lot.supplier_code || lot.note">
          <template v-if="lot.supplier_code">Supplier {{ lot.supplier_code }}. </template>{{ lot.note }}
        </p>
        <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="weighIn">
          <h2 class="mb-2 text-lg">{{ inGrams ? 'What is left, weighed' : 'What is left, counted' }}</h2>
          <div class="flex flex-wrap items-end gap-3">
            <NumberField
              ref="field"
              v-model="reading"
              class="w-44"
              :label="inGrams ? 'Net weight now' : 'Pieces now'"
              :unit="inGrams ? 'g' : ''"
              :refusal="said('reading', 'reading')"
              accepted="a number from 0"
            />
            <label class="min-w-40 flex-1"
              ><span class="label">Note</span><input v-model="note" class="field" maxlength="500"
            /></label>
            <button class="btn btn-main">Record</button>
          </div>
        </form>
        <form v-if="lot.kind === 'pigment'" class="border-2 border-line p-4" @submit.prevent="weighSpoon">
          <h2 class="text-lg">Weigh a level spoon once</h2>
          <p class="small mb-2">Every later spoon of this powder is then known to 8 % instead of 35 %.</p>
          <div class="flex flex-wrap items-end gap-3">
            <NumberField v-model="spoons" class="w-24" label="How many" :refusal="said('spoon', 'spoons')" />
            <label class="w-44"
              ><span class="label">Spoon</span
              ><select v-model="spoon" class="field">
                <option v-for="one in spoonsHere" :key="one.unit" :value="one.unit">
                  {{ one.one }}, {{ digits(one.ml!, 2) }} ml
                </option>
              </select></label
            >
            <NumberField
              v-model="spoonG"
              class="w-36"
              label="They weigh"
              unit="g"
              :refusal="said('spoon', 'grams')"
            />
            <button class="btn">Learn it</button>
          </div>
        </form>
        <form
          v-if="lot.kind === 'oil' || (lot.kind === 'additive' && lot.drop)"
          class="border-2 border-line p-4"
          @submit.prevent="weighDrops"
        >
          <h2 class="text-lg">Count and weigh drops once</h2>
          <p class="small mb-2">
            At least 20 drops of this bottle: every later drop is then known to 8 % instead of 30 %.
          </p>
          <div class="flex flex-wrap items-end gap-3">
            <NumberField v-model="drops" class="w-28" label="Drops" :refusal="said('drops', 'drops')" />
            <NumberField
              v-model="dropsG"
              class="w-36"
              label="They weigh"
              unit="g"
              :refusal="said('drops', 'grams')"
            />
            <button class="btn">Learn it</button>
          </div>
        </form>
      </div>
      <LotMovements :movements="data.movements" :amount="amount" :unit="unit" />
    </div>
  </div>
</template>
