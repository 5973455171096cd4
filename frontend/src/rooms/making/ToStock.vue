<script setup lang="ts">
/** Powder of a run into stock: what it is taken for, hazards to confirm, what a gram of it cost; then its rub-out. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { amount, type Run, type RunSaid } from './room'

const props = defineProps<{ view: Run; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [said: RunSaid] }>()
const { data: workshop } = useWorkshop()
const { data: kinds } = useQuery({
  queryKey: ['kinds'],
  queryFn: () => answered(api.GET('/api/materials/kinds')),
  staleTime: Infinity,
})
const left = computed(() => Math.max(0, props.view.left_g ?? 0))
const opened = ref(false)
const looks = props.view.timeline.filter((line) => line.srgb && !line.struck)
const g = ref<number | null>(Number(left.value.toFixed(1)))
const jars = props.view.lots_out.length
const code = ref(`Run ${props.view.number}${jars ? `-${jars + 1}` : ''}`)
const takenFor = ref<Schemas['PigmentKind']>(props.view.powder.taken_for)
const colour = ref(looks[0]?.srgb ?? '#5f8f7a')
const hazards = ref<string[]>([...props.view.powder.hazards])
const confirmed = ref(false)
const hours = ref<number | null>(Number((props.view.worked_min / 60).toFixed(1)))
const wage = ref<number | null>(null)
const water = ref<number | null>(null)
const priced = refDebounced(
  computed(() => ({
    hours: hours.value ?? 0,
    ...(wage.value != null ? { wage_per_hour: wage.value } : {}),
    ...(water.value != null ? { water_per_l: water.value } : {}),
  })),
  200,
)
const { data: cost } = useQuery({
  queryKey: ['run-cost', () => props.view.number, () => props.view.timeline.length, priced],
  queryFn: () =>
    answered(
      api.GET('/api/making/runs/{number}/cost', {
        params: { path: { number: props.view.number }, query: priced.value },
      }),
    ),
  placeholderData: keepPreviousData,
})
const shown = computed(() => cost.value ?? props.view.cost)
const said = (field: string) => props.refusal?.at(field)
const TITLES = computed(() => {
  const found: Record<string, string> = { 'nuisance-dust': 'Dust' }
  for (const one of props.view.cautions) found[one.key] = one.title
  return found
})
const keep = () =>
  emit('record', {
    kind: 'to_stock',
    g: g.value as number,
    code: code.value,
    taken_for: takenFor.value,
    masstone_srgb: colour.value,
    hazards: hazards.value,
    hazards_confirmed: confirmed.value,
    hours: hours.value ?? 0,
    wage_per_hour: wage.value,
    water_per_l: water.value,
  })
</script>

<template>
  <section class="border-2 border-ink p-4" aria-labelledby="to-stock">
    <h2 id="to-stock" class="text-xl">Into stock</h2>
    <ul v-if="view.lots_out.length" class="mb-2">
      <li
        v-for="out in view.lots_out"
        :key="out.lot_id"
        class="hairline flex flex-wrap items-center gap-3 py-1"
      >
        <span class="min-w-40 flex-1"
          ><RouterLink class="font-semibold underline" :to="`/stock/${out.lot_id}`"
            >Lot {{ out.code }}</RouterLink
          >, <span class="figure">{{ amount(out.g) }}</span> g<template v-if="out.per_g"
            >, {{ Number(out.per_g).toFixed(3) }} {{ workshop?.settings.currency }} a gram</template
          ></span
        >
        <a class="btn" :href="`/api/materials/lots/${out.lot_id}/label.pdf`" target="_blank" rel="noopener"
          >Label for its jar</a
        >
        <RouterLink class="btn btn-main" :to="{ path: '/rub-out', query: { lot: out.lot_id } }"
          >First rub-out</RouterLink
        >
        <RouterLink class="btn" :to="{ path: '/plan', query: { lot: out.lot_id } }">Plan a batch</RouterLink>
      </li>
    </ul>
    <div class="grid gap-x-8 gap-y-3 xl:grid-cols-2">
      <div>
        <h3 class="font-semibold">What it cost</h3>
        <ul>
          <li v-for="line in shown.lines" :key="line.what" class="hairline flex gap-3 py-1">
            <span class="flex-1"
              >{{ line.what }} <span class="quiet small">{{ line.says }}</span></span
            ><span class="figure">{{ line.money ?? 'no price' }}</span>
          </li>
        </ul>
        <p v-if="shown.per_g" class="mt-1 text-lg">
          <strong class="figure">{{ Number(shown.per_g).toFixed(3) }}</strong> {{ shown.currency }} a
          gram<span v-if="shown.missing.length" class="quiet small block"
            >without {{ shown.missing.join(', ').toLowerCase() }}: no price is kept for it</span
          ><span v-if="shown.lost_says" class="quiet small block">{{ shown.lost_says }}</span>
        </p>
        <div v-if="opened" class="mt-2 flex flex-wrap gap-3">
          <NumberField v-model="hours" class="w-32" label="Work" unit="h" :refusal="said('hours')" />
          <NumberField
            v-model="wage"
            class="w-40"
            label="An hour is worth"
            :unit="shown.currency"
            :refusal="said('wage_per_hour')"
          />
          <NumberField
            v-model="water"
            class="w-40"
            label="A litre of water"
            :unit="shown.currency"
            :refusal="said('water_per_l')"
          />
        </div>
      </div>
      <div>
        <h3 class="font-semibold">Figures used until you read your own</h3>
        <p>
          Density <span class="figure">{{ digits(view.powder.density_g_per_ml, 2) }}</span> g/ml
          <span class="quiet small">{{
            view.powder.density_measured ? 'measured' : 'assumed of its kind'
          }}</span>; {{ view.powder.particle }} grain,
          <span class="quiet small">{{ view.powder.particle_says }}</span>
        </p>
        <button
          v-if="!opened && left > 0.05"
          type="button"
          class="btn btn-main btn-slab mt-2 px-8"
          @click="opened = true"
        >
          Into stock
        </button>
        <p v-else-if="left <= 0.05" class="quiet">All of it is in stock.</p>
      </div>
    </div>
    <div v-if="opened && left > 0.05" class="mt-3 space-y-3">
      <div class="flex flex-wrap items-start gap-3">
        <NumberField v-model="g" class="w-36" large label="How much" unit="g" :refusal="said('g')" />
        <label class="w-44"
          ><span class="label">Code on its jar</span
          ><input
            v-model="code"
            class="field h-[72px] text-xl"
            maxlength="40"
            :aria-invalid="said('code') ? 'true' : undefined"
          /><span v-if="said('code')" class="refusal" role="alert">{{ said('code') }}</span></label
        >
        <label class="w-24"
          ><span class="label">Colour, thick</span
          ><input v-model="colour" type="color" class="h-[72px] w-full border border-rule bg-white p-1"
        /></label>
        <label class="w-56"
          ><span class="label">Oil taken as a kind of</span
          ><select v-model="takenFor" class="field h-[72px]">
            <option v-for="choice in kinds" :key="choice.values.kind" :value="choice.values.kind">
              {{ choice.values.name.replace(/^an? /, '') }}, {{ choice.values.oil_absorption_low }} to
              {{ choice.values.oil_absorption_high }}
            </option>
          </select></label
        >
      </div>
      <fieldset>
        <legend class="label">
          What it may hold, by what went in: untick only what a data sheet rules out
        </legend>
        <label v-for="key in view.powder.hazards" :key="key" class="flex min-h-10 items-center gap-3"
          ><input v-model="hazards" type="checkbox" class="h-6 w-6 accent-act" :value="key" />{{
            TITLES[key] ?? key
          }}</label
        >
        <label class="flex min-h-12 items-center gap-3 font-semibold"
          ><input v-model="confirmed" type="checkbox" class="h-7 w-7 accent-act" />I have read this
          list</label
        >
        <span v-if="said('hazards_confirmed')" class="refusal" role="alert">{{
          said('hazards_confirmed')
        }}</span>
      </fieldset>
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">
        Put it in stock
      </button>
    </div>
  </section>
</template>
