<script setup lang="ts">
/** How this batch is measured, and with what it is worked; the studio's own way to begin with. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import type { Draft } from './draft'

const draft = defineModel<Draft>({ required: true })
const props = defineProps<{ oneMass?: boolean }>()
const { data: workshop } = useWorkshop()
const WAYS: { key: Schemas['Measuring']; name: string }[] = [
  { key: 'scale', name: 'Scale' },
  { key: 'spoons', name: 'Spoons, drops' },
  { key: 'eye', name: 'By eye' },
]
const how = computed(() => draft.value.measuring ?? workshop.value?.settings.measuring ?? 'scale')
function measure(way: Schemas['Measuring']): void {
  draft.value.measuring = way
  draft.value.parts_by = undefined
  // A fresh plan begins with the powder there is; tubes that somebody asked for stay what is wanted.
  if (way !== 'scale' && (draft.value.start === 'pigment' || !draft.value.tubes_meant))
    draft.value.start = 'spoons'
}
/** Two schools: load by load, or all of it in one mass; until somebody says, the studio's own way. */
const WORKED: [NonNullable<Draft['working']>, string][] = [
  ['loads', 'In loads'],
  ['one_mass', 'All at once'],
]
const worked = computed(() => draft.value.working ?? (props.oneMass ? 'one_mass' : 'loads'))
const hand = computed(() => draft.value.tool ?? workshop.value?.settings.tool ?? 'muller')
/** One list for what is in the hand: the mullers of the studio, and what serves without one. */
const tool = computed({
  get: () => {
    const now = draft.value.tool ?? workshop.value?.settings.tool ?? 'muller'
    return now === 'muller' ? `muller-${draft.value.muller_id ?? ''}` : now
  },
  set: (value) => {
    if (value.startsWith('muller-')) {
      draft.value.tool = 'muller'
      draft.value.muller_id = Number(value.slice(7)) || null
    } else draft.value.tool = value as Schemas['Tool']
  },
})
</script>

<template>
  <div class="space-y-3">
    <fieldset>
      <legend class="label">I measure with</legend>
      <div class="grid grid-cols-3">
        <button
          v-for="way in WAYS"
          :key="way.key"
          type="button"
          class="btn -ml-[1.5px] rounded-none px-1 text-[0.92rem] first:ml-0"
          :class="how === way.key ? 'bg-ink! text-white' : ''"
          :aria-pressed="how === way.key"
          @click="measure(way.key)"
        >
          {{ way.name }}
        </button>
      </div>
    </fieldset>
    <div class="grid grid-cols-2 gap-2">
      <label
        ><span class="label">Slab</span
        ><select v-model="draft.slab_id" class="field">
          <option v-for="slab in workshop?.slabs ?? []" :key="slab.id" :value="slab.id">
            {{ slab.name }}
          </option>
        </select></label
      >
      <label
        ><span class="label">Worked with</span
        ><select v-model="tool" class="field">
          <option v-for="muller in workshop?.mullers ?? []" :key="muller.id" :value="`muller-${muller.id}`">
            {{ muller.name }}
          </option>
          <option v-if="!workshop?.mullers.length" value="muller-">A muller</option>
          <option value="knife">Knife only</option>
          <option value="jar">Jar or bottle bottom</option>
          <option value="glass">Flat-bottomed glass</option>
        </select></label
      >
    </div>
    <fieldset v-if="hand === 'muller' || hand === 'glass'">
      <legend class="label">Worked</legend>
      <div class="grid grid-cols-2">
        <button
          v-for="[key, name] in WORKED"
          :key="key"
          type="button"
          class="btn -ml-[1.5px] rounded-none px-1 first:ml-0"
          :class="worked === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="worked === key"
          @click="draft.working = key"
        >
          {{ name }}
        </button>
      </div>
    </fieldset>
  </div>
</template>
