<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import BasisMark from '@/kit/BasisMark.vue'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import Swatch from '@/kit/Swatch.vue'
import DemandScale from './DemandScale.vue'
import PigmentTraits from './PigmentTraits.vue'

const props = defineProps<{ pigment: string }>()
const queries = useQueryClient()
const path = { params: { path: { pigment_key: props.pigment } } }
const { data: page, error } = useQuery({
  queryKey: ['pigment', props.pigment],
  queryFn: () => answered(api.GET('/api/rubout/pigments/{pigment_key}', path)),
})

const { refusal, trouble, tried } = useTried('nothing was changed')
const setting = ref<number>()
const reason = ref('')
const entering = ref(false)
const low = ref<number | null>(null)
const high = ref<number | null>(null)
const source = ref('')

const send = (asked: Promise<Schemas['PigmentPage']>) =>
  tried(async () => {
    queries.setQueryData(['pigment', props.pigment], await asked)
    void queries.invalidateQueries({ queryKey: ['lots'] })
  })
const record = (id: number) => ({ params: { path: { record_id: id } } })
async function setAside(id: number): Promise<void> {
  if (
    await send(
      answered(
        api.POST('/api/rubout/records/{record_id}/set-aside', {
          ...record(id),
          body: { reason: reason.value },
        }),
      ),
    )
  )
    setting.value = undefined
}
const countAgain = (id: number) =>
  send(answered(api.POST('/api/rubout/records/{record_id}/count-again', record(id))))
const confirm = (id: number) =>
  send(answered(api.POST('/api/rubout/records/{record_id}/confirm', record(id))))
const estimateOf = (lot: number) =>
  page.value!.lots.find((known) => known.lot_id === lot)?.estimate.median ?? 0
async function enter(): Promise<void> {
  if (
    await send(
      answered(
        api.PUT('/api/rubout/pigments/{pigment_key}/prior', {
          ...path,
          body: { low: low.value as number, high: high.value as number, source: source.value },
        }),
      ),
    )
  )
    entering.value = false
}
const forget = () => send(answered(api.DELETE('/api/rubout/pigments/{pigment_key}/prior', path)))
function open(): void {
  low.value = page.value?.prior_low ?? null
  high.value = page.value?.prior_high ?? null
  refusal.value = undefined
  entering.value = true
}
useKeys(() => [{ key: 'r', does: 'enter a range from a data sheet', act: open }])
const refOf = (r: Schemas['RecordKept']) => (r.kind === 'rubout' ? `/rub-out/${r.ref}` : `/batches/${r.ref}`)
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no pigment of that name.</h1>
    <RouterLink class="underline" to="/stock">The shelf</RouterLink>
  </section>
  <div v-else-if="page" class="pt-4">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <Swatch
        :masstone="page.pigment.masstone_srgb"
        :undertone="page.undertone_srgb"
        :name="page.pigment.name"
        :width="190"
        :height="72"
      />
      <h1 class="min-w-[55%] flex-1 sm:min-w-0">
        {{ page.pigment.name }}
        <span class="quiet block text-base font-normal">{{
          [page.pigment.ci_name, ...(page.pigment.synonyms ?? [])].filter(Boolean).join(', ')
        }}</span>
      </h1>
      <RouterLink
        class="btn btn-main"
        :to="{
          path: '/plan',
          query: page.lots.length ? { lot: page.lots.at(-1)!.lot_id } : { pigment: page.pigment.key },
        }"
        >Plan a batch</RouterLink
      >
      <RouterLink
        class="btn"
        :to="{ path: '/rub-out', query: page.lots.length ? { lot: page.lots.at(-1)!.lot_id } : {} }"
        >Rub-out</RouterLink
      >
    </div>
    <form
      v-if="entering"
      class="mt-3 flex flex-wrap items-end gap-3 border-2 border-ink bg-sheet p-4"
      @submit.prevent="enter"
      @keydown.esc="entering = false"
    >
      <NumberField v-model="low" class="w-44" label="From" unit="g per 100 g" :refusal="refusal?.at('low')" />
      <NumberField v-model="high" class="w-44" label="To" unit="g per 100 g" :refusal="refusal?.at('high')" />
      <label class="min-w-56 flex-1"
        ><span class="label">Where it is from</span
        ><input v-model="source" class="field" maxlength="200" placeholder="data sheet of the tin"
      /></label>
      <button class="btn btn-main">Begin from this</button>
      <button type="button" class="btn" @click="entering = false">Cancel</button>
    </form>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>

    <PigmentTraits class="mt-5" :traits="page.traits" :oils="page.oils" :hazards="page.pigment.hazards" />
    <section class="mt-6" aria-labelledby="painted">
      <h2 id="painted" class="text-lg">Batches of it</h2>
      <p v-if="!page.batches.length" class="quiet">None yet.</p>
      <ul v-else class="mt-1 flex flex-wrap gap-3">
        <li v-for="batch in page.batches" :key="batch.number">
          <RouterLink class="block w-36 hover:underline" :to="`/batches/${batch.number}`">
            <ColourChip class="block h-12" :colour="batch.masstone_srgb" />
            <span class="small block leading-tight"
              ><strong>{{ batch.number }}</strong
              >, {{ day(batch.started_at)
              }}<span class="quiet block">{{
                batch.verdict ?? (batch.status === 'open' ? 'still open' : batch.status)
              }}</span></span
            >
          </RouterLink>
        </li>
      </ul>
    </section>

    <div class="mt-6 flex flex-wrap items-baseline gap-x-4">
      <h2 class="flex-1 text-lg">
        What oil it takes
        <span class="quiet text-base font-normal">begins from {{ page.prior_says }}</span>
      </h2>
      <button type="button" class="btn btn-quiet" @click="open">Enter a range</button>
      <button v-if="page.prior_basis === 'entered'" type="button" class="btn btn-quiet" @click="forget">
        Back to the library's
      </button>
    </div>
    <div class="mt-2"><DemandScale :page="page" /></div>

    <div class="mt-6 grid gap-x-12 gap-y-6 lg:grid-cols-[1fr_1.5fr]">
      <section aria-labelledby="lots">
        <h2 id="lots" class="text-lg">Lots</h2>
        <ul>
          <li
            v-for="lot in [...page.lots, page.unseen]"
            :key="lot.lot_id ?? 0"
            class="hairline flex min-h-14 flex-wrap items-center gap-x-3 py-1"
          >
            <span class="min-w-24 flex-1"
              ><RouterLink
                v-if="lot.lot_id"
                class="font-semibold underline decoration-1 underline-offset-4"
                :to="`/stock/${lot.lot_id}`"
                >lot {{ lot.lot_code }}</RouterLink
              ><span v-else class="font-semibold">a lot not seen yet</span
              ><span class="small quiet block"
                ><BasisMark :basis="lot.estimate.basis" /> {{ lot.says }}</span
              ></span
            >
            <span class="text-right"
              ><span class="figure text-xl font-semibold">{{ digits(lot.estimate.median, 1) }}</span
              >{{ ' ' }}<span class="quiet">g per 100 g</span
              ><span class="figure small quiet block"
                >{{ digits(lot.estimate.low, 1) }} to {{ digits(lot.estimate.high, 1) }}</span
              ></span
            >
            <span v-if="lot.repeats" class="small w-full pb-1">{{ lot.repeats.says }}</span>
          </li>
        </ul>
      </section>
      <section aria-labelledby="records">
        <h2 id="records" class="text-lg">Records</h2>
        <p v-if="!page.records.length" class="quiet">
          None yet: all rests on {{ page.prior_says }}. A rub-out, or a verdict on a batch, is the first.
        </p>
        <ul>
          <li v-for="r in page.records" :key="r.id" class="hairline py-1.5" :data-record="r.id">
            <div class="flex min-h-10 flex-wrap items-center gap-x-4">
              <span class="min-w-48 flex-1" :class="r.set_aside ? 'quiet line-through' : ''"
                ><RouterLink class="underline decoration-1 underline-offset-4" :to="refOf(r)">{{
                  r.says
                }}</RouterLink
                ><span class="small quiet">, lot {{ r.lot_code }}, {{ day(r.at) }}</span></span
              >
              <span class="figure font-semibold" :class="r.set_aside ? 'quiet line-through' : ''">{{
                digits(r.oil_absorption_g_per_100g, 1)
              }}</span>
              <span class="small quiet w-40">{{
                r.share == null
                  ? 'counts for nothing'
                  : `counts for ${Math.round(r.share * 100)} % of its lot`
              }}</span>
              <button v-if="r.set_aside" type="button" class="btn btn-quiet small" @click="countAgain(r.id)">
                count again
              </button>
              <button
                v-else
                type="button"
                class="btn btn-quiet small"
                @click="((setting = r.id), (reason = ''), (refusal = undefined))"
              >
                set aside
              </button>
            </div>
            <p v-if="r.set_aside" class="small">Set aside: {{ r.set_aside }}</p>
            <p v-if="r.question" class="border-l-4 border-stop pl-3">
              <strong>Far off the others: held back.</strong> {{ r.question }}
              {{ digits(r.oil_absorption_g_per_100g, 1) }} against the
              {{ digits(estimateOf(r.lot_id), 1) }} of its lot without it.
              <button type="button" class="btn btn-quiet" @click="confirm(r.id)">
                It is right: let it count
              </button>
            </p>
            <form
              v-if="setting === r.id"
              class="mt-1 flex flex-wrap items-end gap-3"
              @submit.prevent="setAside(r.id)"
              @keydown.esc="setting = undefined"
            >
              <label class="min-w-56 flex-1"
                ><span class="label">Why it should not count</span
                ><input v-model="reason" class="field" maxlength="500" autofocus /><span
                  v-if="refusal"
                  class="refusal"
                  role="alert"
                  >{{ refusal.at('reason') ?? refusal.message }}</span
                ></label
              >
              <button class="btn btn-main">Set aside</button
              ><button type="button" class="btn" @click="setting = undefined">Cancel</button>
            </form>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>
