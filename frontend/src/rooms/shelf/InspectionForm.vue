<script setup lang="ts">
/** An inspection on the drawing: oil on top, skin, body, smell; what it would come to is said before it is recorded. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import LayerGauge from './LayerGauge.vue'

type Look = Omit<Schemas['InspectAsked'], 'id' | 'made_on'>
const props = defineProps<{ page: Schemas['ItemPage']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [look: Look]; close: [] }>()
const said = (field: string) => props.refusal?.at(field)
const record = () => emit('record', look.value)

const layer = ref<number | null>(0)
const height = ref<number | null>(80)
const skin = ref<Schemas['Skin']>('none')
const body = ref<Schemas['KeptBody']>('as_filled')
const smell = ref<Schemas['Smell']>('oil')
const readable = ref(true)
const note = ref('')
const measured = computed(() => ({
  layer_mm: layer.value ?? 0,
  fill_height_mm: height.value ?? 0,
  skin: skin.value,
  body: body.value,
  smell: smell.value,
  label_readable: readable.value,
}))
const look = computed<Look>(() => ({ ...measured.value, note: note.value }))
/** What it would come to, said before it is recorded. */
const { data: seen, error: odd } = useQuery({
  queryKey: ['inspection', measured],
  enabled: () => layer.value != null && height.value != null,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/calc/inspection', { body: measured.value })),
})
const oddAt = (field: string) =>
  unmeasured(field) ?? said(field) ?? (odd.value instanceof Refused ? odd.value.at(field) : undefined)
/** An emptied field is not zero: what was not measured is not kept as nothing on top. */
const unmeasured = (field: string) =>
  (field === 'layer_mm' ? layer : height).value == null
    ? 'Needed: how many mm, 0 for none on top.'
    : undefined

const SKINS = [
  ['none', 'no skin', ''],
  ['skin', 'a skin', 'M6 14q30-8 60 0'],
  ['through', 'hard through', 'M6 14q30-8 60 0M12 24h48M12 34h48M12 44h48'],
] as const
const BODIES = [
  ['as_filled', 'as filled'],
  ['stiffer', 'stiffer'],
  ['grainy', 'grainy'],
] as const
const SMELLS = [
  ['oil', 'of oil'],
  ['rancid', 'rancid'],
  ['spoiled', 'spoiled'],
] as const
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" aria-label="Inspection" @submit.prevent="record">
    <p v-if="page.beware.length" class="mb-3 border-l-4 border-stop pl-3">
      <strong class="text-stop">{{ page.beware.join('; ') }}.</strong> Gloves on, wipe wet, no food about; the
      safety data sheet comes first.
    </p>
    <div class="flex flex-wrap gap-6">
      <LayerGauge
        v-model="layer"
        :height="height ?? 80"
        :kind="page.line.kind === 'jar' ? 'jar' : 'tube'"
        :colour="page.line.masstone_srgb"
        :skin="skin !== 'none'"
        ><p v-if="seen && layer != null && height != null">
          <span class="figure text-2xl font-semibold">{{ digits(100 * seen.layer_fraction, 0) }}</span>
          % of it
        </p></LayerGauge
      >
      <div class="min-w-64 flex-1 space-y-3">
        <div class="flex flex-wrap items-end gap-3">
          <NumberField
            v-model="layer"
            class="w-36"
            large
            label="Oil on top"
            unit="mm"
            :refusal="oddAt('layer_mm')"
          />
          <NumberField
            v-model="height"
            class="w-36"
            large
            label="Filling, high"
            unit="mm"
            :refusal="oddAt('fill_height_mm')"
          />
        </div>
        <div role="group" aria-label="Skin" class="flex flex-wrap gap-2">
          <button
            v-for="[key, text, line] in SKINS"
            :key="key"
            type="button"
            class="btn min-h-16 flex-col gap-0 px-3"
            :class="skin === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="skin === key"
            @click="skin = key"
          >
            <svg viewBox="0 0 72 50" class="h-7 w-10" aria-hidden="true">
              <path d="M6 14v32h60V14" fill="none" stroke="currentColor" stroke-width="2" />
              <path :d="line" fill="none" stroke="currentColor" stroke-width="3" /></svg
            >{{ text }}
          </button>
        </div>
        <div role="group" aria-label="Body" class="flex flex-wrap gap-2">
          <span class="quiet w-16 self-center">body</span
          ><button
            v-for="[key, text] in BODIES"
            :key="key"
            type="button"
            class="btn"
            :class="body === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="body === key"
            @click="body = key"
          >
            {{ text }}
          </button>
        </div>
        <div role="group" aria-label="Smell" class="flex flex-wrap gap-2">
          <span class="quiet w-16 self-center">smells</span
          ><button
            v-for="[key, text] in SMELLS"
            :key="key"
            type="button"
            class="btn"
            :class="smell === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="smell === key"
            @click="smell = key"
          >
            {{ text }}
          </button>
        </div>
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="readable" type="checkbox" class="h-6 w-6 accent-act" />Its label can be read</label
        >
        <label class="block"
          ><span class="label">A note</span><input v-model="note" class="field" maxlength="500"
        /></label>
      </div>
    </div>
    <span v-if="refusal && !said('layer_mm') && !said('fill_height_mm')" class="refusal" role="alert">{{
      refusal.words
    }}</span>
    <p
      v-if="seen && !odd && layer != null && height != null"
      class="mt-3 border-l-4 border-ink pl-3 text-lg"
      role="status"
    >
      <strong>{{ seen.title }}.</strong> {{ seen.why }}
    </p>
    <div class="mt-3 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy || layer == null || height == null">
        Record</button
      ><button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
