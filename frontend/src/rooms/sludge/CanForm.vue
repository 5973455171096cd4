<script setup lang="ts">
/** A new can, or what may be set right of one: name, place, empty weight, size, what its solvent costs. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { answered, api, Refused } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { useOnce } from '@/kit/ids'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { CANS, useSolvents, type Can } from './room'

const props = defineProps<{ view?: Can }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const queries = useQueryClient()
const { data: solvents } = useSolvents()
const { data: workshop } = useWorkshop()
const name = ref(props.view?.name ?? '')
const place = ref(props.view?.place ?? '')
const solvent = ref('white-spirit')
const filled = ref<number | null>(null)
const tare = ref<number | null>(props.view?.tare_g ?? null)
const holds = ref<number | null>(props.view?.holds_ml ?? null)
const price = ref<number | null>(props.view?.price_per_l == null ? null : Number(props.view.price_per_l))
/** An old can or jar: how full it is, and how much of that is sludge. */
const old = ref<'clean' | 'old'>('clean')
const full = ref<number>()
const sludge = ref<number>()
const SIZES = [
  [250, 'small jar, 250 ml'],
  [370, 'jam jar, 370 ml'],
  [720, 'big jar, 720 ml'],
  [1000, 'tin, 1 litre'],
  [5000, 'bucket, 5 litres'],
] as const
const FULL = [
  [0.25, 'a quarter'],
  [0.5, 'half'],
  [0.75, 'three quarters'],
  [1, 'full'],
] as const
const SLUDGE = [
  [0.1, 'a tenth'],
  [0.25, 'a quarter'],
  [0.5, 'half'],
  [1, 'all of it'],
] as const
const size = computed({ get: () => holds.value ?? undefined, set: (ml) => (holds.value = ml ?? null) })
const busy = ref(false)
const refusal = ref<Refused>()
const away = ref(false)
const { once, settled } = useOnce()
const FIELDS = [
  'name',
  'place',
  'solvent_key',
  'solvent_ml',
  'tare_g',
  'holds_ml',
  'price_per_l',
  'ml',
  'full',
  'sludge',
]
const said = (field: string) => refusal.value?.at(field)
async function keep(): Promise<void> {
  const set = {
    name: name.value,
    place: place.value,
    tare_g: tare.value,
    holds_ml: holds.value,
    price_per_l: price.value,
  }
  busy.value = true
  refusal.value = undefined
  away.value = false
  try {
    if (props.view) {
      const path = { number: props.view.number }
      const seen = await answered(api.PUT('/api/sludge/cans/{number}', { params: { path }, body: set }))
      queries.setQueryData([CANS, props.view.number], seen)
      emit('close')
    } else {
      const body = {
        ...set,
        solvent_key: solvent.value,
        solvent_ml: old.value === 'old' ? null : filled.value,
        old: old.value === 'old',
        full: old.value === 'old' ? (full.value ?? null) : null,
        sludge: old.value === 'old' ? (sludge.value ?? null) : null,
      }
      const begun = await answered(
        api.POST('/api/sludge/cans', { body: { ...body, request_id: once(body).id } }),
      )
      settled()
      await router.push(`/sludge/cans/${begun.number}`)
    }
    void queries.invalidateQueries({ queryKey: ['sludge'] })
    void queries.invalidateQueries({ queryKey: ['home'] })
  } catch (problem) {
    if (problem instanceof Refused) refusal.value = problem
    else away.value = true
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form
    class="border-2 border-ink bg-sheet p-4"
    :aria-label="view ? 'The can itself' : 'New can'"
    @submit.prevent="keep"
  >
    <h2 class="mb-2 text-xl">{{ view ? 'The can itself' : 'New can' }}</h2>
    <div v-if="!view" class="mb-3 space-y-3">
      <OneOf
        v-model="old"
        :of="[
          ['clean', 'A clean can'],
          ['old', 'An old one, sludge in it'],
        ]"
        label="Which can"
      />
      <template v-if="old === 'old'">
        <div>
          <span class="label">What it holds, in all</span>
          <OneOf v-model="size" :of="SIZES" label="What it holds" />
        </div>
        <div>
          <span class="label">How full it is</span><OneOf v-model="full" :of="FULL" label="How full it is" />
          <span v-if="said('full')" class="refusal" role="alert">{{ said('full') }}</span>
        </div>
        <div>
          <span class="label">Of that, sludge at the bottom</span>
          <OneOf v-model="sludge" :of="SLUDGE" label="Sludge at the bottom" />
          <span v-if="said('sludge')" class="refusal" role="alert">{{ said('sludge') }}</span>
        </div>
      </template>
    </div>
    <div class="grid gap-x-4 gap-y-3 sm:grid-cols-2 lg:grid-cols-4">
      <label class="sm:col-span-2"
        ><span class="label">Name</span
        ><input
          v-model="name"
          class="field"
          maxlength="80"
          placeholder="Brown can by the window"
          :aria-invalid="said('name') ? 'true' : undefined"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <label class="sm:col-span-2"
        ><span class="label">Where it stands</span><input v-model="place" class="field" maxlength="80"
      /></label>
      <template v-if="!view">
        <label
          ><span class="label">Solvent</span
          ><select v-model="solvent" class="field">
            <option v-for="one in solvents" :key="one.key" :value="one.key">{{ one.name }}</option></select
          ><span v-if="said('solvent_key')" class="refusal" role="alert">{{
            said('solvent_key')
          }}</span></label
        >
        <NumberField
          v-if="old === 'clean'"
          v-model="filled"
          label="Poured in now"
          unit="ml"
          :refusal="said('solvent_ml') ?? said('ml')"
        />
      </template>
      <NumberField v-model="holds" label="Holds, if known" unit="ml" :refusal="said('holds_ml')" />
      <NumberField v-model="tare" label="Empty can, if known" unit="g" :refusal="said('tare_g')" />
      <NumberField
        v-model="price"
        :label="`A litre costs, ${workshop?.settings.currency ?? ''}`"
        :refusal="said('price_per_l')"
      />
    </div>
    <span v-if="refusal && !FIELDS.some((f) => said(f))" class="refusal" role="alert">{{
      refusal.words
    }}</span>
    <span v-if="away" class="refusal" role="alert">The server does not answer; what you typed is kept.</span>
    <div class="mt-3 flex gap-3">
      <button class="btn btn-main px-6" :disabled="busy">{{ view ? 'Keep' : 'Begin the can' }}</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
