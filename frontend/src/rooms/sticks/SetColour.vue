<script setup lang="ts">
/** One colour of a set: its pigments, its moulds, how it should feel, how much pigment. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { rowKey } from '@/kit/rows'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import type { Colour } from './draft'
import { FEELS } from './room'
import StickDrawing from './StickDrawing.vue'

const colour = defineModel<Colour>({ required: true })
const props = defineProps<{
  n: number
  open: boolean
  shown?: Schemas['ColourShown']
  moulds: Schemas['MouldKept'][]
  zones: Schemas['DentZone'][]
  said: (field: string) => string | undefined
  alone: boolean
}>()
const emit = defineEmits<{ open: []; drop: [] }>()
const aims = computed(() => props.zones.filter((z) => z.aim_dmm != null))
const feels = computed(
  () => props.zones.find((z) => colour.value.dent >= z.from_dmm && colour.value.dent <= z.to_dmm)?.feel,
)
function school(which: Colour['school']): void {
  colour.value.school = which
  colour.value.share = null
}
</script>

<template>
  <div class="hairline py-2">
    <button
      v-if="!open"
      type="button"
      class="flex min-h-12 w-full items-center gap-3 text-left"
      @click="emit('open')"
    >
      <ColourChip class="h-9 w-12" :colour="shown?.plan.masstone_srgb ?? '#efe6cf'" />
      <span class="min-w-0 flex-1 leading-tight"
        ><span class="block font-semibold">{{ shown?.plan.name ?? `Colour ${n + 1}` }}</span
        ><span class="small quiet"
          >{{ colour.count ?? 0 }} {{ colour.count === 1 ? 'stick' : 'sticks'
          }}<template v-if="shown">, {{ FEELS[shown.plan.stick.feel] }}</template></span
        ></span
      >
      <strong v-if="shown?.plan.lifting || said('share') || said('dent_dmm')" class="small text-stop"
        >look</strong
      >
    </button>
    <div
      v-else
      class="space-y-3 border-2 border-ink bg-sheet p-3"
      role="group"
      :aria-label="`Colour ${n + 1}`"
    >
      <div class="flex items-center gap-2">
        <h3 class="min-w-0 flex-1 font-semibold">{{ shown?.plan.name ?? `Colour ${n + 1}` }}</h3>
        <button v-if="!alone" type="button" class="btn btn-quiet small" @click="emit('drop')">
          leave it out
        </button>
      </div>
      <p v-if="!colour.parts.length" class="small quiet">
        No pigment: a blending stick, to work others with. Softer than they are is usual.
      </p>
      <div v-for="(part, k) in colour.parts" :key="rowKey(part)" class="flex items-end gap-2">
        <MaterialPicker
          v-model="part.source"
          class="min-w-0 flex-1"
          kind="pigment"
          :label="k ? 'with' : 'Pigment'"
          :taken="colour.parts.map((p) => p.source)"
          :refusal="said(`pigments.${k}`) ?? said(`pigments.${k}.pigment_key`)"
        />
        <NumberField
          v-if="colour.parts.length > 1"
          v-model="part.parts"
          class="w-20 shrink-0"
          label="Parts"
          :refusal="said(`pigments.${k}.parts`)"
        />
        <button
          type="button"
          class="btn btn-quiet px-1"
          :aria-label="`Leave out pigment ${k + 1}`"
          @click="colour.parts.splice(k, 1)"
        >
          <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
            <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
          </svg>
        </button>
      </div>
      <button
        v-if="colour.parts.length < 8"
        type="button"
        class="btn btn-quiet -ml-2"
        @click="colour.parts.push({ source: '', parts: 1 })"
      >
        {{ colour.parts.length ? 'Mix another in, or a white' : 'Give it a pigment' }}
      </button>
      <div class="flex items-end gap-3">
        <label class="min-w-0 flex-1"
          ><span class="label">Mould</span
          ><select v-model="colour.mould" class="field">
            <option v-for="m in moulds" :key="m.id" :value="m.id">
              {{ m.name }}, {{ digits(m.ml, 1) }} ml
            </option>
          </select></label
        >
        <NumberField
          v-model="colour.count"
          class="w-24 shrink-0"
          label="Sticks"
          :refusal="said('moulds.0.count') ?? said('moulds')"
          accepted="1 to 200"
        />
      </div>
      <div role="group" aria-label="How it should feel">
        <span class="label">How it should feel</span>
        <div class="grid grid-cols-4 gap-1.5">
          <button
            v-for="zone in aims"
            :key="zone.feel"
            type="button"
            class="btn min-h-20 flex-col gap-0 px-1 text-[0.95rem] leading-tight"
            :class="feels === zone.feel ? 'bg-act-wash! outline-3 outline-act' : ''"
            :aria-pressed="feels === zone.feel"
            @click="colour.dent = zone.aim_dmm!"
          >
            <StickDrawing :colour="shown?.plan.masstone_srgb ?? '#777777'" :feel="zone.feel" />{{ zone.says }}
          </button>
        </div>
        <span v-if="said('dent_dmm')" class="refusal" role="alert">{{ said('dent_dmm') }}</span>
      </div>
      <details v-if="colour.parts.length" :open="colour.school === 'weight' || !!said('share')">
        <summary class="flex min-h-12 items-center underline underline-offset-4">How much pigment</summary>
        <div class="grid grid-cols-[1fr_1fr_6.5rem] items-end gap-2">
          <button
            v-for="[which, says] in [
              ['volume', 'by volume, the same body for all'],
              ['weight', 'by weight, the same share for all'],
            ] as const"
            :key="which"
            type="button"
            class="btn min-h-14 px-2 text-[0.95rem]"
            :class="colour.school === which ? 'bg-ink! text-white' : ''"
            :aria-pressed="colour.school === which"
            @click="school(which)"
          >
            {{ says }}
          </button>
          <NumberField
            v-model="colour.share"
            :label="colour.school === 'volume' ? 'usual 0.70' : 'usual 60'"
            :unit="colour.school === 'weight' ? '%' : ''"
            :accepted="colour.school === 'volume' ? '0.05 to 0.96' : '1 to 97 %'"
          />
        </div>
        <span v-if="said('share')" class="refusal" role="alert">{{ said('share') }}</span>
      </details>
    </div>
  </div>
</template>
