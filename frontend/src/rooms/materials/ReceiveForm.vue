<script setup lang="ts">
/** What came in: a tin, a bottle, a box; a material of the library, or one of the maker's own. */
import { keyOf, librarySource, lotOf } from '@/kit/source'
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useLibrary, useLots, useWorkshop } from '@/api/queries'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import MaterialPicker from './MaterialPicker.vue'

const props = defineProps<{ today: string }>()
const emit = defineEmits<{ close: [] }>()
const queries = useQueryClient()
const { data: library } = useLibrary()
const { data: lots } = useLots()
const { data: workshop } = useWorkshop()

type Kind = Schemas['LotReceived']['kind']
const KINDS: Kind[] = ['pigment', 'oil', 'additive', 'wax', 'raw', 'tube', 'jar']
const kind = ref<Kind>('pigment')
const source = ref('')
const code = ref('')
const receivedOn = ref(props.today)
const received = ref<number | null>(null)
const price = ref<number | null>(null)
const density = ref<number | null>(null)
const loose = ref<number | null>(null)
const drop = ref<number | null>(null)
const supplier = ref('')
const opened = ref('')
const safety = ref('')
const note = ref('')
const pieces = computed(() => kind.value === 'tube' || kind.value === 'jar')
const own = ref(false)
const ownName = ref('')
const low = ref<number | null>(null)
const high = ref<number | null>(null)
const colour = ref('#808080')
const particle = ref<Schemas['Particle']>('medium')
const hazard = ref('nuisance-dust')
const rawName = ref('')
const formula = ref('')
const purity = ref<number | null>(null)

const { refusal, trouble, busy, said, tried } = useTried()
const FIELDS = [
  'name',
  'material_key',
  'code',
  'received',
  'received_on',
  'price',
  'density_g_per_ml',
  'loose_density_g_per_ml',
  'drop_g',
  'opened_on',
  'oil_absorption_low',
  'oil_absorption_high',
  'formula',
  'purity',
]

async function key(): Promise<string> {
  if (own.value && kind.value === 'pigment') {
    const made = await answered(
      api.POST('/api/materials/own/pigments', {
        body: {
          name: ownName.value,
          ci_name: '',
          tinting: 'medium',
          density_g_per_ml: density.value as number,
          oil_absorption_low: low.value as number,
          oil_absorption_high: high.value as number,
          loose_density_g_per_ml: loose.value as number,
          particle: particle.value,
          dispersing: 'medium',
          synonyms: [],
          masstone_srgb: colour.value,
          hazards: [hazard.value],
        },
      }),
    )
    void queries.invalidateQueries({ queryKey: ['library'] })
    own.value = false
    source.value = librarySource(made.key)
    return made.key
  }
  if (kind.value === 'raw' && !source.value) {
    const made = await answered(
      api.POST('/api/materials/own/raw', {
        body: { name: rawName.value, formula: formula.value, hazards: [] },
      }),
    )
    void queries.invalidateQueries({ queryKey: ['library'] })
    source.value = librarySource(made.key)
    return made.key
  }
  const lot = lotOf(source.value)
  if (lot != null) return lots.value?.find((l) => l.id === lot)?.material_key ?? ''
  return keyOf(source.value)
}
const receive = () =>
  tried(async () => {
    const ownMade = own.value
    const material_key = await key()
    await answered(
      api.POST('/api/materials/lots', {
        body: {
          kind: kind.value,
          material_key,
          code: code.value,
          received_on: receivedOn.value,
          received: received.value as number,
          price: price.value,
          note: note.value,
          supplier_code: supplier.value,
          safety_note: safety.value,
          opened_on: opened.value || null,
          density_g_per_ml: ownMade || pieces.value || kind.value === 'raw' ? null : density.value,
          loose_density_g_per_ml: kind.value === 'pigment' && !ownMade ? loose.value : null,
          drop_g: kind.value === 'oil' ? drop.value : null,
          purity: kind.value === 'raw' && purity.value != null ? purity.value / 100 : null,
        },
      }),
    )
    for (const queryKey of [['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
    emit('close')
  })
function choose(next: Kind): void {
  kind.value = next
  source.value = ''
  own.value = false
}
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="receive" @keydown.esc="emit('close')">
    <h2 class="mb-2 text-xl">What came in?</h2>
    <div class="mb-3 flex flex-wrap" role="group" aria-label="Kind">
      <button
        v-for="sort in KINDS"
        :key="sort"
        type="button"
        class="btn -ml-[1.5px] min-w-24 rounded-none first:ml-0"
        :class="kind === sort ? 'bg-ink! text-white' : ''"
        :aria-pressed="kind === sort"
        @click="choose(sort)"
      >
        {{ sort }}
      </button>
    </div>
    <div class="grid items-start gap-3 sm:grid-cols-2 lg:grid-cols-4">
      <label v-if="own" class="lg:col-span-2"
        ><span class="label">Name of your own pigment</span
        ><input
          v-model="ownName"
          class="field"
          maxlength="80"
          :aria-invalid="said('name') ? 'true' : undefined"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <MaterialPicker
        v-else-if="kind === 'pigment' || kind === 'oil'"
        v-model="source"
        class="lg:col-span-2"
        :kind="kind"
        :label="kind === 'pigment' ? 'Pigment' : 'Oil'"
        :refusal="said('material_key')"
      />
      <label v-else-if="kind === 'additive'" class="lg:col-span-2"
        ><span class="label">Additive</span
        ><select v-model="source" class="field">
          <option value="">choose</option>
          <option v-for="a in library?.additives ?? []" :key="a.key" :value="librarySource(a.key)">
            {{ a.name }}
          </option></select
        ><span v-if="said('material_key')" class="refusal" role="alert">{{
          said('material_key')
        }}</span></label
      >
      <label v-else-if="kind === 'wax'" class="lg:col-span-2"
        ><span class="label">Wax or resin</span
        ><select v-model="source" class="field">
          <option value="">choose</option>
          <option v-for="w in library?.waxes ?? []" :key="w.key" :value="librarySource(w.key)">
            {{ w.name }}
          </option></select
        ><span v-if="said('material_key')" class="refusal" role="alert">{{
          said('material_key')
        }}</span></label
      >
      <template v-else-if="kind === 'raw'">
        <label class="lg:col-span-2"
          ><span class="label">Raw material</span
          ><select v-model="source" class="field">
            <option value="">a new one</option>
            <option v-for="r in library?.raw ?? []" :key="r.key" :value="librarySource(r.key)">
              {{ r.name }}{{ r.formula ? `, ${r.formula}` : '' }}
            </option></select
          ><span v-if="said('material_key')" class="refusal" role="alert">{{
            said('material_key')
          }}</span></label
        >
        <label v-if="!source" class="lg:col-span-2"
          ><span class="label">Its name</span
          ><input
            v-model="rawName"
            class="field"
            maxlength="80"
            placeholder="Washing soda"
            :aria-invalid="said('name') ? 'true' : undefined"
          /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
        >
        <label v-if="!source"
          ><span class="label">Formula with its water, if it has one</span
          ><input
            v-model="formula"
            class="field"
            maxlength="80"
            placeholder="Na2CO3.10H2O"
            autocapitalize="off"
            spellcheck="false"
            :aria-invalid="said('formula') ? 'true' : undefined"
          /><span v-if="said('formula')" class="refusal" role="alert">{{ said('formula') }}</span></label
        >
        <NumberField
          v-model="purity"
          label="Pure to, if the label says"
          unit="%"
          :refusal="said('purity') && 'Try a number up to 100 %.'"
        />
      </template>
      <label v-else class="lg:col-span-2"
        ><span class="label">What kind of {{ kind }}</span
        ><input
          v-model="source"
          class="field"
          maxlength="80"
          :placeholder="kind === 'tube' ? '40 ml tube' : '100 ml jar'"
        /><span v-if="said('material_key')" class="refusal" role="alert">{{
          said('material_key')
        }}</span></label
      >
      <label
        ><span class="label">Your code for it, or leave it empty</span
        ><input
          v-model="code"
          class="field"
          maxlength="40"
          :aria-invalid="said('code') ? 'true' : undefined"
        /><span v-if="said('code')" class="refusal" role="alert">{{ said('code') }}</span></label
      >
      <NumberField
        v-model="received"
        :label="pieces ? 'How many' : 'Net weight'"
        :unit="pieces ? '' : 'g'"
        :refusal="said('received')"
        :accepted="pieces ? 'a whole number' : 'grams above 0 and up to 20 000'"
      />
      <template v-if="own">
        <NumberField
          v-model="low"
          label="Oil absorption from"
          unit="g/100 g"
          :refusal="said('oil_absorption_low')"
        />
        <NumberField v-model="high" label="to" unit="g/100 g" :refusal="said('oil_absorption_high')" />
        <label
          ><span class="label">Grain</span
          ><select v-model="particle" class="field">
            <option value="fine">fine</option>
            <option value="medium">medium</option>
            <option value="coarse">coarse</option>
          </select></label
        >
        <label
          ><span class="label">Colour, thick</span><input v-model="colour" type="color" class="field p-1"
        /></label>
        <label
          ><span class="label">Hazard</span
          ><select v-model="hazard" class="field">
            <option value="nuisance-dust">dust</option>
            <option value="silica">silica</option>
            <option
              v-for="h in [
                'lead',
                'cadmium',
                'cobalt',
                'chromium-3',
                'nickel',
                'manganese',
                'antimony',
                'arsenic',
                'mercury',
                'copper',
                'zinc',
                'carbon-dust',
              ]"
              :key="h"
              :value="h"
            >
              {{ h }}
            </option>
          </select></label
        >
      </template>
      <label
        ><span class="label">Came in on</span
        ><input
          v-model="receivedOn"
          type="date"
          class="field"
          :aria-invalid="said('received_on') ? 'true' : undefined"
        /><span v-if="said('received_on')" class="refusal" role="alert">{{
          said('received_on')
        }}</span></label
      >
      <NumberField
        v-model="price"
        label="What all of it cost, if you like"
        :unit="workshop?.settings.currency ?? ''"
        :refusal="said('price')"
      />
      <NumberField
        v-if="!pieces && kind !== 'raw'"
        v-model="density"
        :label="own ? 'Density' : 'Density, if known'"
        unit="g/ml"
        :refusal="said('density_g_per_ml')"
      />
      <NumberField
        v-if="kind === 'pigment'"
        v-model="loose"
        :label="own ? 'Loose density' : 'Loose density, if weighed'"
        unit="g/ml"
        :refusal="said('loose_density_g_per_ml')"
      />
      <NumberField
        v-if="kind === 'oil'"
        v-model="drop"
        label="One drop, if weighed"
        unit="g"
        :refusal="said('drop_g')"
      />
      <label v-if="!pieces"
        ><span class="label">Opened on</span><input v-model="opened" type="date" class="field" /><span
          v-if="said('opened_on')"
          class="refusal"
          role="alert"
          >{{ said('opened_on') }}</span
        ></label
      >
      <label
        ><span class="label">Supplier (your own short name)</span
        ><input v-model="supplier" class="field" maxlength="80"
      /></label>
      <label v-if="!pieces" class="lg:col-span-2"
        ><span class="label">From its safety data sheet</span
        ><input v-model="safety" class="field" maxlength="500"
      /></label>
      <label class="lg:col-span-2"
        ><span class="label">Note</span><input v-model="note" class="field" maxlength="500"
      /></label>
    </div>
    <p class="small quiet mt-2">
      <template v-if="!own">{{ library?.note }} What you leave out is taken from the library. </template>
      <button v-if="kind === 'pigment'" type="button" class="underline" @click="own = !own">
        {{ own ? 'It is in the library after all' : 'Not in the library? Add a pigment of your own' }}
      </button>
    </p>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <span v-if="refusal && !FIELDS.some(said)" class="refusal" role="alert">{{ refusal.message }}</span>
    <div class="mt-3 flex gap-3">
      <button class="btn btn-main" :disabled="busy">Put it in stock</button
      ><button type="button" class="btn" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
