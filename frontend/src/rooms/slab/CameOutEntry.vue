<script setup lang="ts">
/** How much oil came out of the bottle with all the pours by eye: weighed, measured or guessed. */
import { ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import AmountEntry from './AmountEntry.vue'
import type { Reading } from './acts'

defineProps<{ view: Schemas['SlabView']; weight?: Reading; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [measure: Schemas['AmountAsked'], guessed: boolean]; close: [] }>()
const guessed = ref(true)
</script>

<template>
  <AmountEntry
    :title="`How much oil came out, in ${view.taps_by_eye} ${view.taps_by_eye === 1 ? 'pour' : 'pours'}?`"
    :known="view.oil"
    :habit="view.habit"
    :weight="weight"
    doing="Record"
    :refusal="refusal"
    :busy="busy"
    @close="emit('close')"
    @record="(measure) => emit('record', measure, guessed && measure.unit !== 'weigh_back')"
  >
    <label class="mb-3 flex min-h-12 items-center gap-3"
      ><input v-model="guessed" type="checkbox" class="h-6 w-6 accent-act" />A guess. Weigh the bottle before
      and after to know</label
    >
  </AmountEntry>
</template>
