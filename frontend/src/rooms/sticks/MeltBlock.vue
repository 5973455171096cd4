<script setup lang="ts">
/** A base melted once and cast into a block: what to weigh for so much, what was weighed, what came out. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'

const props = defineProps<{ base: Schemas['BaseShown'] }>()
const emit = defineEmits<{ done: [] }>()
const queries = useQueryClient()
const { data: lots } = useQuery({
  queryKey: ['lots', 'wax'],
  queryFn: () => answered(api.GET('/api/materials/lots', { params: { query: { kind: 'wax', limit: 200 } } })),
})
const total = ref<number | null>(300)
const grams = ref<(number | null)[]>([])
const from = ref<(number | null)[]>([])
watch(
  [total, () => props.base],
  () =>
    (grams.value = props.base.parts.map((p) =>
      total.value == null ? null : Number(((total.value * p.share_pct) / 100).toFixed(1)),
    )),
  { immediate: true },
)
const lotsOf = (key: string) => (lots.value ?? []).filter((l) => l.material_key === key)
watch(
  lots,
  () => (from.value = props.base.parts.map((p, n) => from.value[n] ?? lotsOf(p.wax_key)[0]?.id ?? null)),
  { immediate: true },
)
const weighed = computed(() => grams.value.reduce<number>((sum, g) => sum + (g ?? 0), 0))
const out = ref<number | null>(null)
const code = ref('')
const { trouble, busy, said, tried, once } = useTried()
async function keep(): Promise<void> {
  const asked = {
    waxes: props.base.parts.map((p, n) => ({
      wax_key: p.wax_key,
      grams: grams.value[n]!,
      lot_id: from.value[n] ?? null,
    })),
    yield_g: out.value!,
    code: code.value,
    note: '',
  }
  const done = await tried(() =>
    answered(
      api.POST('/api/sticks/bases/{base_id}/blocks', {
        params: { path: { base_id: props.base.base_id }, query: { version: props.base.version } },
        body: { request_id: once(asked).id, ...asked },
      }),
    ),
  )
  if (!done) return
  for (const key of ['base', 'lots', 'sticks']) void queries.invalidateQueries({ queryKey: [key] })
  emit('done')
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-labelledby="block">
    <h2 id="block" class="mb-2 text-xl">Cast a block of {{ base.name }}, version {{ base.version }}</h2>
    <p class="mb-3 border-l-4 border-ink pl-3">
      <strong>Hot wax burns.</strong>
      {{ base.water_bath ? 'In a water bath' : 'Dry heat, thermometer in the pot' }}, to
      {{ digits(base.melt_c, 0) }} °C and no hotter; lid at hand, no water into it, never left alone.
    </p>
    <div class="grid gap-4 lg:grid-cols-[12rem_1fr_14rem]">
      <NumberField v-model="total" label="How much in all" unit="g" accepted="grams" />
      <ul class="space-y-2">
        <li v-for="(part, n) in base.parts" :key="part.wax_key" class="flex items-end gap-3">
          <NumberField
            v-model="grams[n]!"
            class="w-56"
            :label="part.name"
            unit="g"
            :refusal="said(`waxes.${n}.grams`)"
          />
          <label class="min-w-0 flex-1"
            ><span class="label">of lot</span
            ><select v-model="from[n]" class="field">
              <option :value="null">no lot kept</option>
              <option v-for="lot in lotsOf(part.wax_key)" :key="lot.id" :value="lot.id">
                {{ lot.code }}, {{ digits(lot.on_hand, 0) }} g
              </option>
            </select></label
          >
        </li>
      </ul>
      <div class="space-y-2">
        <NumberField
          v-model="out"
          :label="`What came out, of ${digits(weighed, 0)} g`"
          unit="g"
          :refusal="said('yield_g')"
          @enter="keep"
        />
        <label class="block"
          ><span class="label">Its code</span
          ><input
            v-model="code"
            class="field"
            maxlength="40"
            :aria-invalid="said('code') ? 'true' : undefined"
          /><span v-if="said('code')" class="refusal" role="alert">{{ said('code') }}</span></label
        >
      </div>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="mt-3 flex gap-3">
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">
        Into stock
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('done')">Close</button>
    </div>
  </section>
</template>
