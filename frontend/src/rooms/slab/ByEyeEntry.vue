<script setup lang="ts">
/** Pouring by eye: the bottle weighed, taps without figures, the bottle weighed again. */
import { ref, watch } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import type { Reading } from './acts'

const props = defineProps<{
  view: Schemas['SlabView']
  weight?: Reading
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ bottle: [grams: number]; tap: []; tell: []; close: [] }>()
const bottle = ref<number | null>(null)
const missing = ref('')
watch(bottle, () => (missing.value = ''))
function weighed(): void {
  if (bottle.value == null) return void (missing.value = 'Needed: the weight of the bottle, in g.')
  emit('bottle', bottle.value)
  bottle.value = null
}
const resting = () =>
  props.weight?.state === 'steady' && props.weight.weight_g != null && props.weight.weight_g > 0
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-label="By eye" @keydown.esc.prevent="emit('close')">
    <h2 class="text-xl">Pour {{ view.oil.name.toLowerCase() }} by eye</h2>
    <p class="quiet max-w-prose">
      Working by eye: tap each time oil goes in. Say how much it was whenever you like, by the bottle's weight
      or as a guess.
    </p>
    <div class="mt-3 flex flex-wrap items-end gap-3">
      <button
        type="button"
        class="btn btn-main btn-slab min-w-52 px-6 text-xl"
        :disabled="busy"
        @click="emit('tap')"
      >
        Poured some
      </button>
      <p class="min-w-28 leading-tight">
        <span class="figure text-4xl font-semibold">{{ view.taps_by_eye }}</span>
        {{ view.taps_by_eye === 1 ? 'pour' : 'pours'
        }}<span class="small quiet block"
          ><template v-if="view.bottle_g != null"
            >since the bottle weighed <span class="figure">{{ digits(view.bottle_g, 1) }}</span> g</template
          ><template v-else>amounts not said</template></span
        >
      </p>
      <button v-if="view.can_tell" type="button" class="btn btn-slab px-5" @click="emit('tell')">
        Say how much
      </button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Close</button>
      <form class="flex basis-full flex-wrap items-end gap-3" @submit.prevent="weighed">
        <NumberField
          v-model="bottle"
          class="w-52"
          large
          :label="view.taps_by_eye ? 'Or the bottle now' : 'The bottle before, if you like'"
          unit="g"
          :refusal="refusal?.at('bottle_g') ?? missing"
          @enter="weighed"
        />
        <button class="btn btn-slab px-5" :disabled="busy">Record</button>
        <button
          v-if="resting()"
          type="button"
          class="btn btn-slab px-5"
          :disabled="busy"
          @click="emit('bottle', weight!.weight_g!)"
        >
          Take <span class="figure">{{ digits(weight!.weight_g!, 2) }}</span> g from the balance
        </button>
      </form>
    </div>
    <span v-if="refusal && !refusal.at('bottle_g')" class="refusal" role="alert">{{ refusal.words }}</span>
  </section>
</template>
