<script setup lang="ts">
/** Sludge goes from the can into a dish: how it loses its liquid, how much of it, and the dish on the balance. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useOnce } from '@/kit/ids'
import NumberField from '@/kit/NumberField.vue'
import type { Can } from './room'

const props = defineProps<{ view: Can }>()
const emit = defineEmits<{ close: [] }>()
const router = useRouter()
const queries = useQueryClient()
const dries = computed(() => props.view.solvent.evaporation !== 'none')
type Method = Schemas['Method']
const METHODS = computed<[Method, string, string][]>(() =>
  dries.value
    ? [
        ['evaporate', 'Leave it to dry', 'on glass or in a dish, weighed now and then: dry in days'],
        [
          'squeeze',
          'Squeeze in paper',
          'quick; a quarter to two fifths stay liquid, and the wet paper is a fire risk',
        ],
      ]
    : [
        ['drain', 'Let it drain', 'oil never evaporates: it drains, and old oil stays in the cake'],
        ['squeeze', 'Squeeze in paper', 'quick; the oily paper can catch fire by itself'],
      ],
)
const method = ref<Method>(dries.value ? 'evaporate' : 'drain')
const share = ref(1)
const wiped = ref(false)
const tare = ref<number | null>(null)
const gross = ref<number | null>(null)
const place = ref('')
const busy = ref(false)
const refusal = ref<Refused>()
const away = ref(false)
const { once, settled } = useOnce()
const FIELDS = ['method', 'tare_g', 'gross_g', 'place']
const said = (field: string) => refusal.value?.at(field)
async function begin(): Promise<void> {
  const body = {
    can_number: props.view.number,
    method: method.value,
    share: share.value,
    wiped: wiped.value && share.value === 1,
    tare_g: tare.value,
    gross_g: gross.value,
    place: place.value,
  }
  busy.value = true
  refusal.value = undefined
  away.value = false
  try {
    const begun = await answered(
      api.POST('/api/sludge/dishes', { body: { ...body, request_id: once(body).id } }),
    )
    settled()
    for (const queryKey of [['sludge'], ['home'], ['sludge/cans', props.view.number]])
      void queries.invalidateQueries({ queryKey })
    await router.push(`/sludge/dishes/${begun.number}`)
  } catch (problem) {
    if (problem instanceof Refused) refusal.value = problem
    else away.value = true
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-3 sm:p-4" aria-labelledby="to-dish">
    <h2 id="to-dish" class="mb-2 text-xl">Sludge into a dish</h2>
    <div class="mb-3 grid gap-2 sm:grid-cols-2" role="group" aria-label="How it loses its liquid">
      <button
        v-for="[key, name, says] in METHODS"
        :key="key"
        type="button"
        class="btn btn-slab flex-col items-start gap-0 py-2 text-left"
        :class="method === key ? 'border-4 border-act bg-act-wash' : ''"
        :aria-pressed="method === key"
        @click="method = key"
      >
        {{ name }}<span class="quiet small font-normal">{{ says }}</span>
      </button>
    </div>
    <span v-if="said('method')" class="refusal" role="alert">{{ said('method') }}</span>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-3">
      <div class="flex gap-2" role="group" aria-label="How much of it">
        <button
          v-for="[of, name] in [
            [0.25, 'a quarter'],
            [0.5, 'half'],
            [1, 'all of it'],
          ] as const"
          :key="of"
          type="button"
          class="btn px-4"
          :class="share === of ? 'border-4 border-act bg-act-wash' : ''"
          :aria-pressed="share === of"
          @click="share = of"
        >
          {{ name }}
        </button>
      </div>
      <NumberField v-model="tare" class="w-40" label="Empty dish" unit="g" :refusal="said('tare_g')" />
      <NumberField
        v-model="gross"
        class="w-44"
        label="Dish with the sludge"
        unit="g"
        :refusal="said('gross_g')"
      />
      <label class="min-w-40 flex-1"
        ><span class="label">Where it stands</span><input v-model="place" class="field" maxlength="80"
      /></label>
    </div>
    <label v-if="share === 1" class="mt-2 flex min-h-12 items-center gap-3"
      ><input v-model="wiped" type="checkbox" class="h-7 w-7 accent-act" />The can was wiped clean
      after</label
    >
    <p class="my-2 border-l-4 border-stop pl-3">
      Open air, no flame. Wet and oily paper goes into the water-filled metal can with a lid.
    </p>
    <span v-if="refusal && !FIELDS.some((f) => said(f))" class="refusal" role="alert">{{
      refusal.words
    }}</span>
    <span v-if="away" class="refusal" role="alert">The server does not answer; what you typed is kept.</span>
    <div class="mt-2 flex gap-3">
      <button type="button" class="btn btn-main px-8" :disabled="busy" @click="begin">Into the dish</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
  </section>
</template>
