<script setup lang="ts">
/** The liquids of a run: what went in as water and what of it is in the waste book; what is kept can be handed over. */
import { ref } from 'vue'
import { day, digits } from '@/kit/format'
import type { Run, RunSaid } from './room'

defineProps<{ view: Run; busy?: boolean }>()
const emit = defineEmits<{ book: []; record: [said: RunSaid] }>()
const handing = ref('')
const to = ref('')
function hand(id: string): void {
  emit('record', { kind: 'handed_over', of: id, text: to.value.trim() })
  handing.value = to.value = ''
}
const WAYS = { kept: 'kept', handed_over: 'handed over', drain: 'poured away' } as const
</script>

<template>
  <section v-if="view.waste.in_ml > 0 || view.waste.entries.length" aria-labelledby="run-waste">
    <h2 id="run-waste" class="mb-1">Waste</h2>
    <p v-if="view.waste.open_ml > 0" class="leading-snug">
      <span class="figure font-semibold">{{ digits(view.waste.open_ml, 0) }}</span> ml are not in the waste
      book yet<template v-if="view.waste.holds.length"
        >; they may hold <strong class="text-stop">{{ view.waste.holds.join(', ') }}</strong></template
      >
    </p>
    <ul>
      <li v-for="one in view.waste.entries" :key="one.id" class="hairline py-1 leading-snug">
        <span class="figure">{{ digits(one.ml, 0) }}</span> ml {{ WAYS[one.way]
        }}<template v-if="one.where">: {{ one.where }}</template
        ><template v-if="one.handed_over_at"
          >, {{ day(one.handed_over_at)
          }}<template v-if="one.handed_to">, {{ one.handed_to }}</template></template
        >
        <button
          v-if="one.way === 'kept' && handing !== one.id"
          type="button"
          class="btn btn-quiet small min-h-12 px-2"
          @click="handing = one.id"
        >
          handed over
        </button>
        <span v-else-if="handing === one.id" class="mt-1 flex items-end gap-2"
          ><label class="flex-1"
            ><span class="label">To whom</span
            ><input v-model="to" class="field" maxlength="300" @keydown.enter.prevent="hand(one.id)" /></label
          ><button type="button" class="btn" :disabled="busy" @click="hand(one.id)">Keep it</button></span
        >
      </li>
    </ul>
    <button type="button" class="btn mt-1" @click="emit('book')">Into the waste book</button>
  </section>
</template>
