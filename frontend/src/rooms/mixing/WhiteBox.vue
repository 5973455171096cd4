<script setup lang="ts">
/** The white every tint is let down with, and what readings have of the surface's shine. */
import { computed, ref } from 'vue'
import { Refused, type Schemas } from '@/api/client'
import { everyPaint } from './room'

const props = defineProps<{
  room: Schemas['MixingRoom']
  sight: (white: number | null, shine: Schemas['Shine']) => Promise<void>
}>()
const open = ref(false)
const trouble = ref('')
const paints = computed(() => everyPaint(props.room))
const white = computed(() => paints.value.find((paint) => paint.id === props.room.white_id))
const SHINE: [Schemas['Shine'], string, string][] = [
  ['without', 'left out', 'a hand reader that lights from the side, a photograph'],
  ['with', 'in it', 'a reader with a ball, set to keep the shine'],
  ['off', 'not corrected', 'reflectances are mixed as they were read'],
]
async function choose(id: number | null, shine: Schemas['Shine']): Promise<void> {
  trouble.value = ''
  try {
    await props.sight(id, shine)
  } catch (problem) {
    trouble.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  }
}
</script>

<template>
  <section class="border-2 bg-sheet p-4" :class="white && room.white_ready ? 'border-rule' : 'border-ink'">
    <h2 class="mb-1 text-lg">The white</h2>
    <p v-if="!white">
      Choose the white your tints are let down with. Without it a tint says nothing, and paints go by their
      masstone alone.
    </p>
    <p v-else class="leading-snug">
      <strong class="font-semibold">{{ white.name }}</strong><template v-if="room.white_ready"
        >. Tints read from now on are of it; older ones keep theirs.</template
      ><template v-else
        >: not read yet, and taken for a usual white.
        <RouterLink class="underline" :to="`/mixing/paints/${white.id}`">Read it alone</RouterLink>, with
        nothing in it.</template
      >
    </p>
    <p class="small quiet mt-1">
      Shine of the surface in readings: {{ SHINE.find(([key]) => key === room.shine)?.[1] }}
    </p>
    <button v-if="!open && white" type="button" class="btn mt-2 px-4" @click="open = true">Change</button>
    <div v-if="open || !white" class="mt-3 space-y-3">
      <label class="block"
        ><span class="label">White</span
        ><select
          class="field"
          :value="room.white_id ?? ''"
          @change="choose(Number(($event.target as HTMLSelectElement).value) || null, room.shine)"
        >
          <option value="">none yet</option>
          <option v-for="paint in paints" :key="paint.id" :value="paint.id">
            {{ paint.name }}{{ paint.batch_number != null ? `, batch ${paint.batch_number}` : '' }}
          </option>
        </select></label
      >
      <fieldset>
        <legend class="label">Your readings have the shine of the surface</legend>
        <div class="flex flex-wrap gap-1.5">
          <button
            v-for="[key, name] in SHINE"
            :key="key"
            type="button"
            class="btn px-3"
            :class="room.shine === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="room.shine === key"
            @click="choose(room.white_id ?? null, key)"
          >
            {{ name }}
          </button>
        </div>
        <p class="small quiet mt-1">{{ SHINE.find(([key]) => key === room.shine)?.[2] }}</p>
      </fieldset>
      <button v-if="open" type="button" class="btn btn-quiet -ml-2" @click="open = false">Done</button>
    </div>
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
  </section>
</template>
