<script setup lang="ts">
/** One of the other acts on a can: solvent in or off, a height, a weighing, sludge out, a note, out of use. */
import { computed, onMounted, ref } from 'vue'
import type { Refused } from '@/api/client'
import type { Reading } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import { useSolvents, type Can, type CanSaid } from './room'

export type CanPanel = 'solvent_in' | 'pour_off' | 'height' | 'weighed' | 'sludge_out' | 'note' | 'close'
const props = defineProps<{
  panel: CanPanel
  view: Can
  weight?: Reading
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: CanSaid]; close: [] }>()
const TITLES: Record<CanPanel, string> = {
  solvent_in: 'Solvent goes in',
  pour_off: 'Clear solvent poured off',
  height: 'How far has it cleared?',
  weighed: 'The can on the balance',
  sludge_out: 'Sludge thrown out',
  note: 'A note',
  close: 'Put the can out of use',
}
const { data: solvents } = useSolvents()
const solvent = ref(props.view.solvent.key)
const origin = ref<'bought' | 'recovered'>(
  props.panel === 'solvent_in' && props.view.ledger.waiting_ml > 1 ? 'recovered' : 'bought',
)
const by = ref<'ml' | 'g'>('ml')
const amount = ref<number | null>(null)
const total = ref<number | null>(null)
const share = ref(1)
const text = ref('')
const missing = ref('')
const said = (field: string) => props.refusal?.at(field)
const mixed = computed(() => said('anyway'))
const other = computed(() =>
  props.refusal && !['ml', 'g', 'clear_mm', 'total_mm', 'text', 'anyway', 'solvent_key'].some((f) => said(f))
    ? props.refusal.words
    : undefined,
)
const first = ref<{ focus?: () => void } | null>(null)
onMounted(() => first.value?.focus?.())
const live = computed(() => props.weight?.weight_g ?? null)
function keep(anyway = false): void {
  missing.value = ''
  const n = amount.value
  const need = (what: string) => (missing.value = `Missing. Accepted: ${what}.`)
  switch (props.panel) {
    case 'solvent_in':
      if (n == null) return void need('how many ml went in')
      return emit('record', {
        kind: 'solvent_in',
        solvent_key: solvent.value,
        ml: n,
        origin: origin.value,
        anyway,
      })
    case 'pour_off':
      if (n == null) return void need('how much was poured off')
      return emit('record', { kind: 'pour_off', ...(by.value === 'ml' ? { ml: n } : { g: n }) })
    case 'height':
      if (n == null || total.value == null) return void need('both heights in mm')
      return emit('record', { kind: 'height', clear_mm: n, total_mm: total.value })
    case 'weighed':
      if (n == null && live.value == null) return void need('what the can weighs with all in it, in g')
      return emit('record', { kind: 'weighed', g: n ?? live.value! })
    case 'sludge_out':
      return emit('record', {
        kind: 'sludge_out',
        share: share.value,
        ...(n != null ? { g: n } : {}),
        wiped: false,
      })
    case 'note':
      if (!text.value.trim()) return void need('a few words')
      return emit('record', { kind: 'note', text: text.value })
    case 'close':
      return emit('record', { kind: 'close' })
  }
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-3 sm:p-4" :aria-label="TITLES[panel]">
    <h2 class="mb-2 text-xl">{{ TITLES[panel] }}</h2>
    <div class="flex flex-wrap items-end gap-x-4 gap-y-3">
      <template v-if="panel === 'solvent_in'">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-44"
          large
          label="How much"
          unit="ml"
          :refusal="said('ml') ?? (missing || undefined)"
          @enter="keep()"
        />
        <label class="min-w-56"
          ><span class="label">Solvent</span
          ><select v-model="solvent" class="field h-[72px]">
            <option v-for="one in solvents" :key="one.key" :value="one.key">{{ one.name }}</option>
          </select></label
        >
        <div class="flex gap-2" role="group" aria-label="Where it is from">
          <button
            v-for="[key, name] in [
              ['bought', 'new'],
              ['recovered', 'poured off before'],
            ] as const"
            :key="key"
            type="button"
            class="btn btn-slab px-3"
            :class="origin === key ? 'border-4 border-act bg-act-wash' : ''"
            :aria-pressed="origin === key"
            @click="origin = key"
          >
            {{ name }}
          </button>
        </div>
      </template>
      <template v-else-if="panel === 'pour_off'">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-44"
          large
          label="How much"
          :unit="by"
          :refusal="said('ml') ?? said('g') ?? (missing || undefined)"
          @enter="keep()"
        />
        <div class="flex gap-2" role="group" aria-label="Measured by">
          <button
            v-for="one in ['ml', 'g'] as const"
            :key="one"
            type="button"
            class="btn btn-slab min-w-20"
            :class="by === one ? 'border-4 border-act bg-act-wash' : ''"
            :aria-pressed="by === one"
            @click="by = one"
          >
            {{ one }}
          </button>
        </div>
        <p class="quiet max-w-64">
          Into a clean closed bottle, named, away from flame. It goes in again next time.
        </p>
      </template>
      <template v-else-if="panel === 'height'">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-44"
          large
          label="Clear above"
          unit="mm"
          :refusal="said('clear_mm') ?? (missing || undefined)"
          @enter="keep()"
        />
        <NumberField
          v-model="total"
          class="w-44"
          large
          label="All of it"
          unit="mm"
          :refusal="said('total_mm')"
          @enter="keep()"
        />
        <p class="quiet max-w-60">
          Hold a ruler to the outside. Two readings a day apart tell how this can settles.
        </p>
      </template>
      <template v-else-if="panel === 'weighed'">
        <NumberField
          ref="first"
          v-model="amount"
          class="w-52"
          large
          label="With all in it, no lid"
          unit="g"
          :refusal="said('g') ?? (missing || undefined)"
          @enter="keep()"
        />
        <p v-if="live != null" class="text-lg">
          the balance shows <span class="figure font-semibold">{{ live.toFixed(1) }}</span> g
        </p>
        <p class="quiet max-w-64">What is missing against the ledger went into the air.</p>
      </template>
      <template v-else-if="panel === 'sludge_out'">
        <div class="flex flex-wrap gap-2" role="group" aria-label="How much of it">
          <button
            v-for="[of, name] in [
              [0.25, 'a quarter'],
              [0.5, 'half'],
              [1, 'all'],
            ] as const"
            :key="of"
            type="button"
            class="btn btn-slab px-5"
            :class="share === of ? 'border-4 border-act bg-act-wash' : ''"
            :aria-pressed="share === of"
            @click="share = of"
          >
            {{ name }}
          </button>
        </div>
        <NumberField
          v-model="amount"
          class="w-44"
          large
          label="Wet, if weighed"
          unit="g"
          :refusal="said('g')"
          @enter="keep()"
        />
        <p class="border-l-4 border-stop pl-3">
          Never into the drain: into a closed tin for licensed disposal. Oily paper into the water-filled
          metal can.
        </p>
      </template>
      <label v-else-if="panel === 'note'" class="min-w-60 flex-1"
        ><span class="label">Words</span
        ><input v-model="text" class="field" maxlength="2000" @keydown.enter.prevent="keep()" /><span
          v-if="said('text') ?? missing"
          class="refusal"
          role="alert"
          >{{ said('text') ?? missing }}</span
        ></label
      >
      <p v-else>What is in it stays in the ledger; the can is no longer offered.</p>
      <button
        type="button"
        class="btn btn-main px-8"
        :class="panel === 'note' ? '' : 'btn-slab'"
        :disabled="busy"
        @click="keep()"
      >
        {{ panel === 'close' ? 'Out of use' : 'Keep it' }}
      </button>
    </div>
    <div v-if="mixed" class="mt-3 border-l-4 border-stop pl-3" role="alert">
      <p class="text-stop">{{ mixed }}</p>
      <button type="button" class="btn mt-2" :disabled="busy" @click="keep(true)">Mix them anyway</button>
    </div>
    <span v-if="other" class="refusal" role="alert">{{ other }}</span>
    <button type="button" class="btn btn-quiet mt-2 -ml-2" @click="emit('close')">Close</button>
  </section>
</template>
