<script setup lang="ts">
/** How soft a drop or a stick is: by feel in drawings, or by a needle; at the room's temperature where it is known. */
import { ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import type { Said } from './pot'
import { FEELS } from './room'
import StickDrawing from './StickDrawing.vue'

const props = defineProps<{
  of: 'drop' | 'dent'
  colour: string
  zones: Schemas['DentZone'][]
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: Said]; close: [] }>()
const HOW: Record<string, string> = {
  hard: 'the nail leaves no mark',
  firm: 'the nail marks it',
  soft: 'a thumb dents it',
  buttery: 'a thumb sinks in',
  too_soft: 'it smears away',
}
const dent = ref<number | null>(null)
const warmth = ref<number | null>(null)
type Felt = 'hard' | 'firm' | 'soft' | 'buttery' | 'too_soft'
const at = () => (warmth.value != null ? { at_c: warmth.value } : {})
const felt = (feel: Felt) => emit('record', { kind: props.of, by: 'feel', feel, ...at() })
const read = () => emit('record', { kind: props.of, by: 'needle', dent_dmm: dent.value, ...at() })
</script>

<template>
  <section
    class="border-2 border-ink bg-sheet p-4"
    :aria-label="of === 'drop' ? 'Read the drop' : 'Press a stick'"
    @keydown.esc.prevent="emit('close')"
  >
    <h2 class="mb-2 text-xl">
      {{ of === 'drop' ? 'The drop, cold on the glass: how soft is it?' : 'A stick of it: how soft is it?' }}
    </h2>
    <div class="grid grid-cols-2 gap-2 sm:grid-cols-5">
      <button
        v-for="zone in zones"
        :key="zone.feel"
        type="button"
        class="btn btn-slab flex-col justify-start gap-0 px-1 py-1.5 text-base"
        :disabled="busy"
        @click="felt(zone.feel as Felt)"
      >
        <StickDrawing :colour="colour" :feel="zone.feel" />{{ FEELS[zone.feel]
        }}<span class="small quiet font-normal">{{ HOW[zone.feel] }}</span>
      </button>
    </div>
    <div class="mt-4 flex flex-wrap items-end gap-4">
      <NumberField
        v-model="dent"
        class="w-56"
        label="or by the needle, 100 g for 5 s"
        unit="0.1 mm"
        :refusal="refusal?.at('dent_dmm')"
        accepted="0.1 to 400"
        @enter="read"
      />
      <NumberField
        v-model="warmth"
        class="w-44"
        label="if it is not at 25 °C"
        unit="°C"
        :refusal="refusal?.at('at_c')"
        accepted="0 to 40 °C"
      />
      <button type="button" class="btn btn-slab px-6" :disabled="busy" @click="read">Keep the reading</button>
    </div>
    <span v-if="refusal && !refusal.at('dent_dmm') && !refusal.at('at_c')" class="refusal" role="alert">{{
      refusal.words
    }}</span>
    <button type="button" class="btn btn-quiet mt-3" @click="emit('close')">Close</button>
  </section>
</template>
