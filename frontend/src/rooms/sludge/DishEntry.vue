<script setup lang="ts">
/** One act on a dish: a weighing, more sludge, squeezed, strained, into stock with its question, or thrown. */
import { computed, onMounted, ref } from 'vue'
import type { Refused } from '@/api/client'
import { digits } from '@/kit/format'
import type { Reading } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import type { Dish, DishSaid } from './room'

export type DishPanel = 'weigh' | 'added' | 'squeezed' | 'strained' | 'to_stock' | 'note' | 'throw'
const props = defineProps<{
  panel: DishPanel
  view: Dish
  weight?: Reading
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: DishSaid]; close: [] }>()
const TITLES: Record<DishPanel, string> = {
  weigh: 'The dish on the balance',
  added: 'More sludge went in',
  squeezed: 'Squeezed in paper',
  strained: 'Strained, and the hairs out',
  to_stock: 'Into stock as a pigment',
  note: 'A note',
  throw: 'Not paint: kept for licensed disposal',
}
const byBalance = computed(() => ['weigh', 'added', 'squeezed'].includes(props.panel))
const wet = ref(!props.view.dry_enough && !props.view.constant)
const amount = ref<number | null>(
  props.panel === 'to_stock' && props.view.now_g != null ? Number(props.view.now_g.toFixed(1)) : null,
)
const mesh = ref<number | null>(null)
const hairs = ref(true)
const code = ref(`Cake ${props.view.now.slice(0, 10)}`)
const text = ref('')
const missing = ref('')
const said = (field: string) => props.refusal?.at(field)
const FIELDS = ['g', 'mesh_um', 'code', 'text', 'anyway', 'wet']
const other = computed(() =>
  props.refusal && !FIELDS.some((f) => said(f)) ? props.refusal.words : undefined,
)
const heavier = computed(() => props.panel === 'weigh' && said('g')?.includes('added'))
const live = computed(() => (props.weight?.state === 'steady' ? props.weight.weight_g : null))
const first = ref<{ focus?: () => void } | null>(null)
onMounted(() => first.value?.focus?.())
function keep(anyway = false): void {
  missing.value = ''
  const g = amount.value ?? (byBalance.value ? (live.value ?? null) : null)
  const need = (what: string) => (missing.value = `Missing. Accepted: ${what}.`)
  switch (props.panel) {
    case 'weigh':
      if (g == null) return void need('what the dish weighs with the sludge in it, in g')
      return emit('record', { kind: 'weigh', g, anyway })
    case 'added':
      if (g == null) return void need('what the dish weighs now, in g')
      return emit('record', { kind: 'added', g })
    case 'squeezed':
      return emit('record', { kind: 'squeezed', ...(g != null ? { g } : {}) })
    case 'strained':
      return emit('record', {
        kind: 'strained',
        hairs: hairs.value,
        ...(mesh.value != null ? { mesh_um: mesh.value } : {}),
      })
    case 'to_stock':
      if (g == null) return void need('what goes into stock, in g')
      return emit('record', { kind: 'to_stock', g, code: code.value, wet: wet.value, anyway })
    case 'note':
      if (!text.value.trim()) return void need('a few words')
      return emit('record', { kind: 'note', text: text.value })
    case 'throw':
      return emit('record', { kind: 'throw', text: text.value })
  }
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-3 sm:p-4" :aria-label="TITLES[panel]">
    <h2 class="mb-2 text-xl">{{ TITLES[panel] }}</h2>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-3">
      <template v-if="byBalance">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-60"
          large
          :label="`Dish and sludge (the dish weighs ${digits(view.tare_g, 1)} g)`"
          unit="g"
          :refusal="said('g') ?? (missing || undefined)"
          @enter="keep()"
        />
        <p v-if="weight?.weight_g != null" class="text-lg" role="status">
          the balance shows <span class="figure font-semibold">{{ digits(weight.weight_g, 2) }}</span> g<span
            class="quiet small block"
            >{{ live == null ? 'settling' : 'left empty, this is kept' }}</span
          >
        </p>
        <p v-if="panel === 'squeezed'" class="max-w-72 border-l-4 border-stop pl-3">
          The wet paper can catch fire by itself: into the water-filled metal can with a lid, now.
        </p>
      </template>
      <template v-else-if="panel === 'strained'">
        <div class="flex flex-wrap gap-2" role="group" aria-label="Mesh">
          <button
            v-for="[um, name] in [
              [null, 'by hand only'],
              [250, 'kitchen sieve, 250 µm'],
              [150, 'fine sieve, 150 µm'],
              [60, 'stocking, 60 µm'],
            ] as const"
            :key="name"
            type="button"
            class="btn btn-slab px-3"
            :class="mesh === um ? 'border-4 border-act bg-act-wash' : ''"
            :aria-pressed="mesh === um"
            @click="mesh = um"
          >
            {{ name }}
          </button>
        </div>
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="hairs" type="checkbox" class="h-7 w-7 accent-act" />Hairs picked out</label
        >
        <span v-if="said('mesh_um')" class="refusal" role="alert">{{ said('mesh_um') }}</span>
      </template>
      <template v-else-if="panel === 'to_stock'">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-44"
          large
          label="How much, as it is"
          unit="g"
          :refusal="said('g') ?? (missing || undefined)"
          @enter="keep()"
        />
        <label class="min-w-52"
          ><span class="label">Code on its jar</span
          ><input
            v-model="code"
            class="field h-[72px] text-xl"
            maxlength="40"
            :aria-invalid="said('code') ? 'true' : undefined"
          /><span v-if="said('code')" class="refusal" role="alert">{{ said('code') }}</span></label
        >
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="wet" type="checkbox" class="h-7 w-7 accent-act" /><span
            >It is still wet: the liquid in it is reckoned at the slab<span class="quiet small block"
              >paint made of it stands open till that has left, before it is tubed</span
            ></span
          ></label
        >
        <span v-if="said('wet')" class="refusal basis-full" role="alert">{{ said('wet') }}</span>
      </template>
      <label v-else class="min-w-60 flex-1"
        ><span class="label">{{ panel === 'throw' ? 'Where it is kept, or why' : 'Words' }}</span
        ><input v-model="text" class="field" maxlength="2000" @keydown.enter.prevent="keep()" /><span
          v-if="said('text') ?? missing"
          class="refusal"
          role="alert"
          >{{ said('text') ?? missing }}</span
        ></label
      >
      <button
        type="button"
        class="btn btn-main px-8"
        :class="panel === 'note' || panel === 'throw' ? '' : 'btn-slab'"
        :disabled="busy"
        @click="keep()"
      >
        {{ panel === 'to_stock' ? 'Into stock' : panel === 'throw' ? 'Keep it for disposal' : 'Keep it' }}
      </button>
    </div>
    <p v-if="panel === 'to_stock'" class="mt-3 border-l-4 border-stop pl-3">
      Dry cake is dust with all its hazards: mask on, damp wiping, tools of its own.
    </p>
    <p v-if="panel === 'throw'" class="mt-3 border-l-4 border-stop pl-3">
      A closed, named tin, away from heat, to licensed disposal. Never the bin, never the drain.
    </p>
    <div v-if="heavier" class="mt-3 flex flex-wrap gap-3">
      <button
        type="button"
        class="btn"
        :disabled="busy"
        @click="emit('record', { kind: 'added', g: amount ?? live! })"
      >
        Yes, more went in
      </button>
      <button type="button" class="btn" :disabled="busy" @click="keep(true)">
        No, that is what it weighs
      </button>
    </div>
    <div v-if="said('anyway')" class="mt-3 border-2 border-stop bg-white p-3" role="alert">
      <p class="text-lg font-semibold text-stop">Should this become paint at all?</p>
      <p class="mt-1">{{ said('anyway') }}</p>
      <div class="mt-2 flex flex-wrap gap-3">
        <button type="button" class="btn" :disabled="busy" @click="keep(true)">
          Yes, for my own use, with its hazards on the label
        </button>
        <button
          type="button"
          class="btn"
          :disabled="busy"
          @click="emit('record', { kind: 'throw', text: '' })"
        >
          No: keep it for licensed disposal
        </button>
      </div>
    </div>
    <span v-if="other" class="refusal" role="alert">{{ other }}</span>
    <button type="button" class="btn btn-quiet mt-2 -ml-2" @click="emit('close')">Close</button>
  </section>
</template>
