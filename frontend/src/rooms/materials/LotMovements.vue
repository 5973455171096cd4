<script setup lang="ts">
/** What came to a lot and went from it, newest first. */
import type { Schemas } from '@/api/client'
import { clock, day } from '@/kit/format'

defineProps<{ movements: Schemas['Movement'][]; amount: (value: number) => string; unit: string }>()
const REASONS: Record<string, string> = {
  received: 'came in',
  used: 'used',
  struck_out: 'given back: undone',
  weighed_in: 'weighed in again',
}
</script>

<template>
  <section aria-labelledby="movements">
    <h2 id="movements" class="mb-1 text-lg">Came and went</h2>
    <ol>
      <li v-for="(move, n) in movements" :key="n" class="hairline flex min-h-12 items-center gap-3">
        <span class="quiet small w-36">{{ day(move.at) }}, {{ clock(move.at) }}</span>
        <span class="flex-1"
          >{{ REASONS[move.reason] ?? move.reason
          }}<template v-if="move.batch_number"
            >,
            <RouterLink class="underline" :to="`/batches/${move.batch_number}`"
              >batch {{ move.batch_number }}</RouterLink
            ></template
          ><template v-if="move.pot_number"
            >,
            <RouterLink class="underline" :to="`/sticks/${move.pot_number}`"
              >pot {{ move.pot_number }}</RouterLink
            ></template
          ><template v-if="move.run_number"
            >,
            <RouterLink class="underline" :to="`/making/runs/${move.run_number}`"
              >run {{ move.run_number }}</RouterLink
            ></template
          ><template v-if="move.reading != null && move.reason === 'weighed_in'"
            >: {{ amount(move.reading) }} {{ unit }}</template
          ><span v-if="move.note" class="small quiet block">{{ move.note }}</span></span
        >
        <span class="whitespace-nowrap"
          ><span class="figure font-semibold">{{ move.change > 0 ? '+' : '' }}{{ amount(move.change) }}</span>
          {{ unit }}</span
        >
      </li>
    </ol>
  </section>
</template>
