<script setup lang="ts">
/** Acts the server refused when they came at last: each stays here until it is put right or given up in words. */
import { reactive, ref, watch } from 'vue'
import NumberField from '@/kit/NumberField.vue'
import { giveUp, keyOf, notTakenFor, queueChanged, tryAgain, type Log, type NotTaken } from './queue'
import { measureOf, roomOf } from './store'

const props = defineProps<{ log?: Log }>()
const list = ref<NotTaken[]>([])
watch(
  [queueChanged, () => props.log && keyOf(props.log)],
  async () => (list.value = await notTakenFor(props.log)),
  {
    immediate: true,
  },
)
/** What one of a room's logs is called. */
const ONE: Record<string, string> = {
  slab: 'batch',
  practice: 'practice',
  sticks: 'pot',
  'sludge/cans': 'can',
  'sludge/dishes': 'dish',
  'mixing/charts': 'chart',
  'making/runs': 'run',
}
const oneOf = (refused: NotTaken) => ONE[roomOf(refused)] ?? 'job'
const goneWords = (refused: NotTaken) =>
  `The ${oneOf(refused)} it was made for is not here under its number. Which ${oneOf(refused)} is it of?`
type Open = { id: string; how: 'amount' | 'give_up' | 'where' }
const open = ref<Open>()
const amount = ref<number | null>(null)
const why = reactive<Record<string, string>>({})
const missing = ref('')
const busy = ref(false)
/** Only an amount that was told as one number can be put right here; the rest is entered anew at the slab. */
const measured = (refused: NotTaken) => measureOf(refused.act)?.amount != null
const unitOf = (refused: NotTaken) => measureOf(refused.act)?.unit.replaceAll('_', ' ') ?? 'g'
function show(refused: NotTaken, how: Open['how']): void {
  missing.value = ''
  amount.value = how === 'amount' ? (measureOf(refused.act)?.amount ?? null) : null
  open.value = { id: refused.id, how }
}
async function again(refused: NotTaken): Promise<void> {
  const putRight = open.value?.id === refused.id && open.value.how === 'amount'
  if (putRight && amount.value == null) {
    missing.value = 'Needed: how much it was.'
    return
  }
  await doing(() =>
    tryAgain(refused, putRight ? { ...measureOf(refused.act)!, amount: amount.value } : undefined),
  )
}
async function sendThere(refused: NotTaken): Promise<void> {
  if (amount.value == null || amount.value < 1 || !Number.isInteger(amount.value)) {
    missing.value = `Needed: the number of the ${oneOf(refused)} it belongs to.`
    return
  }
  const to = amount.value
  await doing(() => tryAgain(refused, undefined, to))
}
async function drop(refused: NotTaken): Promise<void> {
  if (!why[refused.id]?.trim()) {
    missing.value = 'Needed: a few words why it is given up.'
    return
  }
  await doing(() => giveUp(refused, why[refused.id]!.trim()))
}
async function doing(work: () => Promise<void>): Promise<void> {
  busy.value = true
  try {
    await work()
    open.value = undefined
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <ul v-if="list.length" class="mb-3 border-2 border-stop bg-sheet p-3" role="alert" aria-label="Not taken">
    <li v-for="refused in list" :key="refused.id" class="py-2 not-first:border-t not-first:border-line">
      <div class="flex flex-wrap items-center gap-x-3 gap-y-2">
        <p class="min-w-56 flex-1">
          <strong>{{ refused.elsewhere ? 'Came late' : 'Not taken' }}: {{ refused.words }}.</strong>
          {{ refused.elsewhere ? goneWords(refused) : refused.why }}
          <RouterLink v-if="!log" class="block underline" :to="`/${roomOf(refused)}/${refused.number}`"
            >{{ oneOf(refused) }} {{ refused.number }}</RouterLink
          >
        </p>
        <button
          v-if="refused.elsewhere"
          type="button"
          class="btn"
          :disabled="busy"
          @click="show(refused, 'where')"
        >
          Which {{ oneOf(refused) }}?
        </button>
        <button v-else-if="refused.act" type="button" class="btn" :disabled="busy" @click="again(refused)">
          {{ open?.id === refused.id && open.how === 'amount' ? 'Send it so' : 'Try again' }}
        </button>
        <button
          v-if="measured(refused) && !refused.elsewhere"
          type="button"
          class="btn btn-quiet"
          @click="show(refused, 'amount')"
        >
          Put it right
        </button>
        <button type="button" class="btn btn-quiet" @click="show(refused, 'give_up')">Give it up</button>
      </div>
      <div v-if="open?.id === refused.id" class="mt-2 flex flex-wrap items-end gap-3">
        <NumberField
          v-if="open.how === 'amount'"
          v-model="amount"
          class="w-44"
          label="How much it was"
          :unit="unitOf(refused)"
          :refusal="missing"
          @enter="again(refused)"
        />
        <template v-else-if="open.how === 'where'">
          <NumberField
            v-model="amount"
            class="w-44"
            :label="`Number of the ${oneOf(refused)}`"
            unit=""
            :refusal="missing"
            @enter="sendThere(refused)"
          />
          <button type="button" class="btn" :disabled="busy" @click="sendThere(refused)">
            Send it there
          </button>
        </template>
        <template v-else>
          <label class="min-w-56 flex-1"
            ><span class="label">Why is it given up?</span
            ><input
              v-model="why[refused.id]"
              class="field"
              maxlength="300"
              @keydown.enter.prevent="drop(refused)"
            />
            <span v-if="missing" class="refusal" role="alert">{{ missing }}</span></label
          >
          <button type="button" class="btn" :disabled="busy" @click="drop(refused)">
            Give it up for good
          </button>
        </template>
        <button type="button" class="btn btn-quiet" @click="open = undefined">Close</button>
      </div>
    </li>
  </ul>
</template>
