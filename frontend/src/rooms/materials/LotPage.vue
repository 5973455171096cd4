<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import BasisMark from '@/kit/BasisMark.vue'
import { clock, day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { data: workshop } = useWorkshop()
const { data, error } = useQuery({
  queryKey: ['lot', props.number],
  queryFn: () => answered(api.GET('/api/materials/lots/{lot_id}', { params: { path: { lot_id: props.number } } })),
})
const lot = computed(() => data.value?.lot)
const values = computed(() => {
  const it = lot.value
  if (!it) return []
  const found: { name: string; value: Schemas['Value']; digits: number }[] = [{ name: 'Density', value: it.density, digits: 3 }]
  if (it.loose_density) found.push({ name: 'Loose density, for spoons', value: it.loose_density, digits: 2 })
  if (it.oil_absorption) found.push({ name: 'Oil absorption', value: it.oil_absorption, digits: 1 })
  if (it.drop) found.push({ name: 'One drop', value: it.drop, digits: 4 })
  return found
})
const REASONS: Record<string, string> = { received: 'came in', used: 'used', struck_out: 'given back, an act was struck out', weighed_in: 'weighed in again' }

const field = ref<InstanceType<typeof NumberField> | null>(null)
const reading = ref<number | null>(null)
const note = ref('')
const refusal = ref('')
async function weighIn(): Promise<void> {
  refusal.value = ''
  if (reading.value == null) {
    refusal.value = 'Accepted: the net weight in g, 0 if it is used up.'
    return
  }
  try {
    const answer = await answered(api.POST('/api/materials/lots/{lot_id}/weigh-in', { params: { path: { lot_id: props.number } }, body: { reading_g: reading.value, note: note.value } }))
    queries.setQueryData(['lot', props.number], answer)
    for (const queryKey of [['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
    reading.value = null
    note.value = ''
  } catch (problem) {
    refusal.value = problem instanceof Refused ? (problem.at('reading_g') ?? problem.message) : 'The server does not answer; what you typed is kept.'
  }
}
useKeys(() => [{ key: 'w', does: 'weigh it in again', act: () => field.value?.focus() }])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12"><h1>There is no lot {{ number }}.</h1><RouterLink class="underline" to="/stock">The shelf</RouterLink></section>
  <div v-else-if="lot && data" class="pt-5">
    <div class="flex flex-wrap items-center gap-4">
      <span v-if="lot.masstone_srgb" class="h-14 w-24 border-4 border-[#bdbdbd]" :style="{ background: lot.masstone_srgb }" aria-hidden="true" />
      <h1 class="flex-1">{{ lot.name }} <span class="quiet block text-base font-normal">lot {{ lot.code }}<template v-if="lot.ci_name">, {{ lot.ci_name }}</template>; came in {{ day(lot.received_on) }}<template v-if="lot.price_per_kg">; {{ lot.price_per_kg }} {{ workshop?.settings.currency }} per kg</template></span></h1>
      <p class="text-right"><span class="figure text-5xl font-semibold">{{ grams(lot.on_hand_g) }}</span> <span class="quiet">{{ massUnit() }} of {{ grams(lot.received_g) }} {{ massUnit() }} left</span></p>
      <RouterLink v-if="lot.kind === 'pigment'" class="btn" :to="{ path: '/rub-out', query: { lot: lot.id } }">Rub-out</RouterLink>
      <RouterLink v-if="lot.kind === 'pigment'" class="btn" :to="`/pigments/${lot.material_key}`">What oil it takes</RouterLink>
      <RouterLink class="btn" :to="{ path: '/batches', query: { lot: lot.id } }">Batches of this lot</RouterLink>
    </div>
    <p v-if="lot.note" class="mt-2">{{ lot.note }}</p>
    <div class="mt-6 grid gap-10 lg:grid-cols-2">
      <div class="space-y-6">
        <section aria-labelledby="values">
          <h2 id="values" class="mb-1 text-lg">What is known of it</h2>
          <dl>
            <div v-for="one in values" :key="one.name" class="hairline flex min-h-12 flex-wrap items-center gap-x-4">
              <dt class="flex-1">{{ one.name }}</dt>
              <dd><span class="figure text-lg font-semibold">{{ digits(one.value.value, one.digits) }}</span> <span class="quiet">{{ one.value.unit }}</span><span v-if="one.value.low != null && one.value.high != null" class="figure small quiet ml-2">{{ digits(one.value.low, one.digits) }} to {{ digits(one.value.high, one.digits) }}</span></dd>
              <dd class="w-44 text-right"><BasisMark :basis="one.value.basis" words /></dd>
            </div>
          </dl>
        </section>
        <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="weighIn">
          <h2 class="mb-2 text-lg">Weigh it in again</h2>
          <div class="flex flex-wrap items-end gap-3">
            <NumberField ref="field" v-model="reading" class="w-44" label="Net weight now" unit="g" :refusal="refusal" accepted="grams from 0 to 20 000" />
            <label class="min-w-40 flex-1"><span class="label">Note</span><input v-model="note" class="field" maxlength="500" /></label>
            <button class="btn btn-main">Record</button>
          </div>
        </form>
      </div>
      <section aria-labelledby="movements">
        <h2 id="movements" class="mb-1 text-lg">Came and went</h2>
        <ol>
          <li v-for="(move, n) in data.movements" :key="n" class="hairline flex min-h-12 items-center gap-3">
            <span class="quiet small w-32">{{ day(move.at) }}, {{ clock(move.at) }}</span>
            <span class="flex-1">{{ REASONS[move.reason] ?? move.reason }}<template v-if="move.batch_number">, <RouterLink class="underline" :to="`/batches/${move.batch_number}`">batch {{ move.batch_number }}</RouterLink></template><template v-if="move.reading_g != null && move.reason === 'weighed_in'">: {{ grams(move.reading_g) }} {{ massUnit() }}</template><span v-if="move.note" class="small quiet block">{{ move.note }}</span></span>
            <span class="figure font-semibold">{{ move.change_g > 0 ? '+' : '' }}{{ grams(move.change_g) }}</span> {{ massUnit() }}
          </li>
        </ol>
      </section>
    </div>
  </div>
</template>
