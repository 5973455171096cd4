<script setup lang="ts">
/** The powder tried: a pinch in oil with its likely causes, strength in white, spots, and the light test. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import LightTest from './LightTest.vue'
import { TAKES, type Run, type RunSaid } from './room'
import SuspectMark from '@/rooms/materials/SuspectMark.vue'

type Panel = 'strength' | 'spot' | 'in_medium' | 'density'
const props = defineProps<{ view: Run; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [said: RunSaid]; colour: [] }>()
const trials = computed(() => props.view.trials)
const panel = ref<Panel>()
const said = (field: string) => props.refusal?.at(field)
const text = ref('')
const white = ref<number | null>(null)
const reference = ref<number | null>(10)
const referenceLot = ref('')
const spotWith = ref<Schemas['SpotWith']>('acid')
const SEEN: [Schemas['SpotSeen'], string][] = [
  ['unchanged', 'no change'],
  ['turned', 'changed colour'],
  ['fizzed', 'fizzed'],
  ['dissolved', 'dissolved'],
]
const powder = ref<number | null>(null)
const full = ref<number | null>(null)
const both = ref<number | null>(null)
const oil = ref<number | null>(0.93)
const { data: pigments } = useQuery({
  queryKey: ['lots', 'pigment', 'references'],
  queryFn: () => answered(api.GET('/api/materials/lots', { params: { query: { kind: 'pigment' } } })),
  enabled: computed(() => panel.value === 'strength'),
})
/** The lots a failure may come from: what this run was weighed from. */
const lots = computed(() => props.view.weigh.filter((one) => one.lot_id != null))
function show(which: Panel): void {
  panel.value = panel.value === which ? undefined : which
  text.value = ''
}
function record(what: RunSaid): void {
  emit('record', what)
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-labelledby="trials">
    <h2 id="trials" class="text-xl">Trials of the powder</h2>
    <div class="mt-2 grid gap-x-8 gap-y-4 xl:grid-cols-2">
      <div>
        <h3 class="font-semibold">A pinch in oil on glass</h3>
        <div class="mt-1 flex flex-wrap" role="group" aria-label="How it takes oil">
          <button
            v-for="(name, key) in TAKES"
            :key="key"
            type="button"
            class="btn btn-slab -ml-[1.5px] flex-1 rounded-none px-3 first:ml-0"
            :class="trials.takes === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="trials.takes === key"
            :disabled="busy"
            @click="record({ kind: 'tried', takes: key, text: '' })"
          >
            {{ name }}
          </button>
        </div>
        <template v-if="trials.causes.length">
          <p class="mt-2 font-semibold">Likely, the likeliest first:</p>
          <ol class="ml-5 list-decimal">
            <li v-for="cause in trials.causes" :key="cause">{{ cause }}</li>
          </ol>
          <SuspectMark
            v-for="one in lots"
            :key="one.lot_id!"
            :lot-id="one.lot_id!"
            :name="`${one.name}, lot ${one.lot_code}`"
            :suspect="one.suspect"
          />
        </template>
      </div>
      <div>
        <h3 class="font-semibold">More trials</h3>
        <ul>
          <li v-if="trials.strength_percent != null" class="hairline py-1">
            In white <strong class="figure">{{ digits(trials.strength_percent, 0) }} %</strong> as
            strong<template v-if="trials.strength_of"> as {{ trials.strength_of }}</template>
          </li>
          <li v-for="spot in trials.spots" :key="spot" class="hairline py-1">Spot with {{ spot }}</li>
          <li v-if="trials.spots.length" class="small quiet">{{ trials.not_of_light }}</li>
          <li v-for="words in trials.in_medium" :key="words" class="hairline py-1">
            Dye in a medium: {{ words }}
          </li>
          <li v-if="trials.density_g_per_ml != null" class="hairline py-1">
            Density <strong class="figure">{{ digits(trials.density_g_per_ml, 2) }}</strong> g/ml, give or
            take <span class="figure">{{ digits(trials.density_half ?? 0, 2) }}</span>, by displacement
          </li>
        </ul>
        <div class="mt-1 flex flex-wrap gap-2">
          <button type="button" class="btn" :aria-expanded="panel === 'strength'" @click="show('strength')">
            Strength in white
          </button>
          <button type="button" class="btn" :aria-expanded="panel === 'spot'" @click="show('spot')">
            Acid or alkali
          </button>
          <button type="button" class="btn" :aria-expanded="panel === 'density'" @click="show('density')">
            Density
          </button>
          <button type="button" class="btn" :aria-expanded="panel === 'in_medium'" @click="show('in_medium')">
            Dye in a medium
          </button>
          <button type="button" class="btn" @click="emit('colour')">Looks</button>
        </div>
        <div v-if="panel === 'strength'" class="mt-3 flex flex-wrap items-end gap-3">
          <p class="basis-full">
            One part of it in white, more white till it is as pale as one part of the reference in its white.
          </p>
          <NumberField
            v-model="white"
            class="w-36"
            label="It took"
            unit="parts of white"
            :refusal="said('white_parts')"
          />
          <NumberField
            v-model="reference"
            class="w-36"
            label="The reference"
            unit="parts"
            :refusal="said('reference_white_parts')"
          />
          <label class="w-52"
            ><span class="label">Reference</span
            ><select v-model="referenceLot" class="field">
              <option value="">not in stock</option>
              <option v-for="lot in pigments" :key="lot.id" :value="String(lot.id)">
                {{ lot.name }}, {{ lot.code }}
              </option>
            </select></label
          >
          <button
            type="button"
            class="btn btn-main"
            :disabled="busy"
            @click="
              record({
                kind: 'strength',
                white_parts: white as number,
                reference_white_parts: reference as number,
                reference_lot_id: referenceLot ? Number(referenceLot) : null,
                text: '',
              })
            "
          >
            Keep it
          </button>
        </div>
        <div v-else-if="panel === 'spot'" class="mt-3 space-y-2">
          <p class="border-l-4 border-stop pl-3">
            A drop of vinegar or soda on a pinch. Nothing that holds cyanide or ferrocyanide near acid.
          </p>
          <div class="flex" role="group" aria-label="Spot with">
            <button
              v-for="key in ['acid', 'alkali'] as const"
              :key="key"
              type="button"
              class="btn -ml-[1.5px] rounded-none first:ml-0"
              :class="spotWith === key ? 'bg-ink! text-white' : ''"
              :aria-pressed="spotWith === key"
              @click="spotWith = key"
            >
              {{ key }}
            </button>
          </div>
          <div class="flex flex-wrap gap-2">
            <button
              v-for="[key, name] in SEEN"
              :key="key"
              type="button"
              class="btn"
              :disabled="busy"
              @click="record({ kind: 'spot', tried_with: spotWith, seen: key, text: '' })"
            >
              {{ name }}
            </button>
          </div>
        </div>
        <div v-else-if="panel === 'density'" class="mt-3 flex flex-wrap items-end gap-3">
          <p class="basis-full">
            Fill a small flask with oil to a mark and weigh it. Then the powder in, oil up to the same mark,
            no air left in it, and weigh again.
          </p>
          <NumberField v-model="powder" class="w-28" label="Powder" unit="g" :refusal="said('powder_g')" />
          <NumberField
            v-model="full"
            class="w-36"
            label="Flask full of oil"
            unit="g"
            :refusal="said('full_g')"
          />
          <NumberField
            v-model="both"
            class="w-40"
            label="With powder and oil"
            unit="g"
            :refusal="said('with_powder_g')"
          />
          <NumberField
            v-model="oil"
            class="w-36"
            label="Density of the oil"
            unit="g/ml"
            :refusal="said('oil_g_per_ml')"
          />
          <button
            type="button"
            class="btn btn-main"
            :disabled="busy"
            @click="
              record({
                kind: 'density',
                powder_g: powder as number,
                full_g: full as number,
                with_powder_g: both as number,
                oil_g_per_ml: oil as number,
              })
            "
          >
            Keep it
          </button>
        </div>
        <div v-else-if="panel === 'in_medium'" class="mt-3 flex flex-wrap items-end gap-3">
          <label class="min-w-52 flex-1"
            ><span class="label">In which medium, and how it did</span
            ><input v-model="text" class="field" maxlength="300" /><span
              v-if="said('text')"
              class="refusal"
              role="alert"
              >{{ said('text') }}</span
            ></label
          >
          <button
            type="button"
            class="btn btn-main"
            :disabled="busy"
            @click="record({ kind: 'in_medium', text })"
          >
            Keep it
          </button>
        </div>
      </div>
    </div>
    <LightTest
      class="mt-4"
      :light="trials.light"
      :now="view.now"
      :refusal="refusal"
      :busy="busy"
      @record="record"
    />
  </section>
</template>
