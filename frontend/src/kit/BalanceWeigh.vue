<script setup lang="ts">
/** Weighing by difference on the balance: from where it stood when this opened, or from its tare, to where it rests. */
import { computed, ref, watch } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import type { Reading } from '@/kit/log/follow'

const props = defineProps<{ weight: Reading; wanted?: number | null; busy?: boolean; noTare?: boolean }>()
const emit = defineEmits<{ take: [measure: Schemas['AmountAsked']] }>()

const from = ref<number>()
const jumped = ref('')
const taking = ref(false)
const tareSays = ref('')
const taring = ref(false)
const steady = computed(() => props.weight.state === 'steady' && props.weight.weight_g != null)
const change = computed(() =>
  from.value != null && props.weight.weight_g != null ? props.weight.weight_g - from.value : undefined,
)
/** A balance that gives no weight says why before anything else: an older warning would hide a lost cable. */
const warning = computed(() => {
  const says = props.weight.state === 'moving' ? '' : props.weight.says
  return props.weight.weight_g == null ? says : tareSays.value || jumped.value || says
})
const togo = computed(() =>
  props.wanted != null && change.value != null ? props.wanted - Math.abs(change.value) : undefined,
)

watch(
  () => props.weight,
  (reading) => {
    if (from.value == null && steady.value) from.value = reading.weight_g!
    else if (reading.jumped_g != null && from.value != null) jumped.value = reading.says
    if (taking.value && steady.value) take()
  },
  { immediate: true },
)
async function tare(): Promise<void> {
  taring.value = true
  tareSays.value = ''
  try {
    const tared = await answered(api.POST('/api/balance/tare'))
    tareSays.value = tared.says
    if (tared.tared) startHere(tared.reading.weight_g ?? 0)
  } catch {
    tareSays.value = 'The server does not answer: tare on the balance itself.'
  } finally {
    taring.value = false
  }
}
function startHere(weight = props.weight.weight_g ?? undefined): void {
  from.value = weight
  jumped.value = ''
  taking.value = false
}
/** Take the reading once the pan rests. */
function take(): void {
  if (props.busy || from.value == null) return
  if (!steady.value) {
    taking.value = props.weight.state === 'moving'
    return
  }
  taking.value = false
  if (Math.abs(change.value!) < 0.005) return
  const fixed = (value: number) => Number(value.toFixed(3))
  emit('take', {
    unit: change.value! > 0 ? 'weigh_in' : 'weigh_back',
    before_g: fixed(from.value),
    after_g: fixed(props.weight.weight_g!),
  })
}
useKeys(() => (props.noTare ? [] : [{ key: 't', does: 'tare the balance', act: () => void tare() }]))
defineExpose({ take })
</script>

<template>
  <div
    class="mb-3 flex flex-wrap items-end gap-x-5 gap-y-2 border-l-4 border-act bg-white px-3 py-2"
    role="group"
    aria-label="Balance"
  >
    <div class="min-w-52">
      <span class="small quiet block"
        >On the balance, {{ weight.state === 'moving' ? 'settling' : weight.state.replace('_', ' ') }}</span
      >
      <span
        class="figure text-5xl leading-none font-semibold"
        :class="steady ? '' : 'quiet'"
        role="status"
        aria-label="Weight"
        >{{
          change != null ? digits(change, 2) : weight.weight_g != null ? digits(weight.weight_g, 2) : '- - -'
        }}</span>{{ ' ' }}<span class="quiet text-xl">g</span>
    </div>
    <p v-if="togo != null" class="leading-tight">
      <span class="figure text-2xl">{{ digits(Math.abs(togo), 2) }}</span> g {{ togo >= 0 ? 'to go' : 'over'
      }}<span class="small quiet block">since {{ from != null ? `${digits(from, 2)} g` : 'it rests' }}</span>
    </p>
    <button
      type="button"
      class="btn btn-main btn-slab px-6"
      :disabled="busy || from == null || weight.weight_g == null"
      @click="take"
    >
      {{ taking ? 'Takes it when it rests' : 'Take the reading'
      }}<kbd class="keycap max-sm:hidden">Enter</kbd>
    </button>
    <button v-if="!noTare" type="button" class="btn btn-slab px-5" :disabled="taring" @click="tare">
      {{ taring ? 'Taring' : 'Tare' }}<kbd class="keycap max-sm:hidden">t</kbd>
    </button>
    <p v-if="warning" class="basis-full text-stop" role="alert">
      {{ warning }}
      <button v-if="jumped && warning === jumped" type="button" class="btn btn-quiet" @click="startHere()">
        Start from here
      </button>
    </p>
  </div>
</template>
