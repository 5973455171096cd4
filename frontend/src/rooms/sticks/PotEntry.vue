<script setup lang="ts">
/** One entry at the pot: an amount, the thermometer, the pour, what came out, a flaw, paste, a note, the end. */
import { useQuery } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, ref } from 'vue'
import { answered, api, type Refused } from '@/api/client'
import BalanceWeigh from '@/kit/BalanceWeigh.vue'
import { digits } from '@/kit/format'
import type { Reading } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import type { Panel, Said, View } from './pot'

const props = defineProps<{
  panel: Panel
  view: View
  kind: 'base' | 'oil' | 'pigment'
  source: string
  suggested: number | null
  weight?: Reading
  temperature?: number | null
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{
  record: [said: Said]
  close: []
  source: [kind: 'base' | 'oil' | 'pigment', source: string]
}>()
const KIND = { wax: 'base', oil: 'oil', pigment: 'pigment' } as Record<string, 'base' | 'oil' | 'pigment'>
const material = computed(() => props.view.materials.find((m) => m.source === props.source))
const grams = ref<number | null>(props.suggested != null ? Number(props.suggested.toFixed(1)) : null)
const degrees = ref<number | null>(props.temperature != null ? Math.round(props.temperature) : null)
const count = ref<number | null>(props.view.sticks_planned)
const together = ref<number | null>(null)
const text = ref('')
const item = ref(0)
const ml = ref<number | null>(null)
const { data: shelf } = useQuery({
  queryKey: ['shelf', 'paste'],
  enabled: () => props.panel === 'paste',
  queryFn: () => answered(api.GET('/api/shelf', { params: { query: { limit: 200 } } })),
})
const tubes = computed(() => (shelf.value?.items ?? []).filter((i) => !i.unknown_hazard))
const first = ref<InstanceType<typeof NumberField> | null>(null)
onMounted(() => void nextTick(() => first.value?.focus()))
const TITLES: Record<Panel, string> = {
  amount: 'Into the pot',
  temperature: 'What does the thermometer say?',
  drop: '',
  dent: '',
  pour: 'Poured',
  out: 'Out of the moulds',
  flaw: 'What is wrong with them?',
  paste: 'Paste of an earlier batch, or an old stick, into the pot',
  note: 'A note',
  finish: 'Where do they go?',
  abandon: 'Give this pot up?',
}
function keep(): void {
  switch (props.panel) {
    case 'amount':
      return emit('record', {
        kind: props.kind,
        source: props.source,
        measure: { unit: 'g', amount: grams.value },
      })
    case 'temperature':
      return emit('record', { kind: 'temperature', temperature_c: degrees.value! })
    case 'pour':
      return emit('record', { kind: 'pour', temperature_c: degrees.value })
    case 'out':
      return emit('record', { kind: 'out', count: Math.round(count.value ?? 0), grams: together.value })
    case 'paste':
      return emit('record', { kind: 'paste', item_id: item.value, volume_ml: ml.value! })
    case 'note':
      return emit('record', { kind: 'note', text: text.value })
    case 'finish':
      return emit('record', { kind: 'finish', place: text.value })
    case 'abandon':
      return emit('record', { kind: 'abandon', text: text.value })
    default:
  }
}
const said = (field: string) => props.refusal?.at(field)
const named = ['measure.amount', 'temperature_c', 'count', 'grams', 'item_id', 'volume_ml', 'text', 'place']
const other = computed(() => (props.refusal && !named.some((f) => said(f)) ? props.refusal.words : ''))
function choose(source: string): void {
  const found = props.view.materials.find((m) => m.source === source)
  if (found) emit('source', KIND[found.role]!, source)
}
</script>

<template>
  <section
    class="border-2 border-ink bg-sheet p-4"
    :aria-label="TITLES[panel]"
    @keydown.esc.prevent="emit('close')"
  >
    <h2 class="mb-2 text-xl">{{ TITLES[panel] }}</h2>
    <template v-if="panel === 'amount'">
      <BalanceWeigh
        v-if="weight?.weight_g != null"
        :weight="weight"
        :wanted="suggested"
        :busy="busy"
        @take="(measure) => emit('record', { kind, source, measure })"
      />
      <div class="flex flex-wrap items-end gap-4">
        <label class="min-w-60 flex-1"
          ><span class="label">What</span
          ><select class="field" :value="source" @change="choose(($event.target as HTMLSelectElement).value)">
            <option v-for="m in view.materials" :key="m.source" :value="m.source">
              {{ m.name
              }}<template v-if="m.planned_g"
                >, {{ digits(m.in_g, 1) }} of {{ digits(m.planned_g, 1) }} g in</template
              >
            </option>
          </select></label
        >
        <NumberField
          ref="first"
          v-model="grams"
          class="w-52"
          large
          label="How much"
          unit="g"
          :refusal="said('measure.amount') ?? said('source')"
          @enter="keep"
        />
        <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">
          It is in
        </button>
      </div>
      <p v-if="material?.role === 'pigment'" class="mt-2 border-l-4 border-ink pl-3">
        Mask on. Powder low into the pot, never tipped over the heat.
      </p>
    </template>
    <div v-else-if="panel === 'temperature' || panel === 'pour'" class="flex flex-wrap items-end gap-4">
      <NumberField
        ref="first"
        v-model="degrees"
        class="w-52"
        large
        :label="panel === 'pour' ? 'At what temperature, if it was read' : 'Temperature'"
        unit="°C"
        :refusal="said('temperature_c')"
        accepted="-20 to 400 °C"
        @enter="keep"
      />
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">
        {{ panel === 'pour' ? 'Poured' : 'Keep it' }}
      </button>
      <button
        v-if="panel === 'temperature' && view.strip.poured_c != null"
        type="button"
        class="btn btn-slab px-6"
        :disabled="busy || degrees == null"
        @click="emit('record', { kind: 'skin', temperature_c: degrees! })"
      >
        A skin is on it now
      </button>
    </div>
    <div v-else-if="panel === 'out'" class="flex flex-wrap items-end gap-4">
      <NumberField
        ref="first"
        v-model="count"
        class="w-40"
        large
        label="How many"
        :refusal="said('count')"
        accepted="a whole number"
        @enter="keep"
      />
      <NumberField
        v-model="together"
        class="w-52"
        large
        label="Together, if weighed"
        unit="g"
        :refusal="said('grams')"
        @enter="keep"
      />
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">Keep it</button>
    </div>
    <div v-else-if="panel === 'flaw'" class="grid gap-2 sm:grid-cols-2">
      <button
        v-for="f in view.flaws"
        :key="f.flaw"
        type="button"
        class="btn btn-slab flex-col items-start gap-0 py-2 text-left"
        :disabled="busy || f.seen"
        @click="emit('record', { kind: 'flaw', flaw: f.flaw })"
      >
        {{ f.says }}<span class="small quiet font-normal">{{ f.cause }}</span>
      </button>
    </div>
    <div v-else-if="panel === 'paste'" class="flex flex-wrap items-end gap-4">
      <label class="min-w-60 flex-1"
        ><span class="label">Tube, jar or old stick</span
        ><select v-model="item" class="field" :aria-invalid="said('item_id') ? 'true' : undefined">
          <option :value="0">choose one</option>
          <option v-for="i in tubes" :key="i.id" :value="i.id">
            {{ i.code }} {{ i.name }}, {{ digits(i.volume_ml, 1) }} ml
          </option></select
        ><span v-if="said('item_id')" class="refusal" role="alert">{{ said('item_id') }}</span></label
      >
      <NumberField
        v-model="ml"
        class="w-44"
        label="How much of it"
        unit="ml"
        :refusal="said('volume_ml')"
        @enter="keep"
      />
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy || !item" @click="keep">
        It is in
      </button>
    </div>
    <div v-else class="flex flex-wrap items-end gap-4">
      <label class="min-w-60 flex-1"
        ><span class="label">{{
          panel === 'finish' ? 'Box or shelf' : panel === 'abandon' ? 'Why, in a few words' : 'Words'
        }}</span
        ><input
          v-model="text"
          class="field"
          :maxlength="panel === 'finish' ? 80 : 2000"
          @keydown.enter.prevent="keep"
        />
        <span v-if="said('text') ?? said('place')" class="refusal" role="alert">{{
          said('text') ?? said('place')
        }}</span></label
      >
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">
        {{ panel === 'finish' ? 'Onto the shelf' : panel === 'abandon' ? 'Give it up' : 'Keep it' }}
      </button>
    </div>
    <span v-if="other" class="refusal" role="alert">{{ other }}</span>
    <button type="button" class="btn btn-quiet mt-3" @click="emit('close')">Close</button>
  </section>
</template>
