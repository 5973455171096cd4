<script setup lang="ts">
/** What goes in: planned, in so far, of which lot, and a lot under suspicion said where it stands. */
import { digits } from '@/kit/format'
import { amount, type Run } from './room'

defineProps<{ view: Run }>()
const emit = defineEmits<{ weigh: [key: string] }>()
</script>

<template>
  <section aria-labelledby="goes-in">
    <h2 id="goes-in" class="mb-1">What goes in</h2>
    <ul>
      <li v-for="one in view.weigh" :key="one.key" class="hairline flex items-center gap-2 py-1">
        <span class="min-w-0 flex-1 leading-tight"
          ><span :class="one.done ? 'quiet' : 'font-semibold'">{{ one.name }}</span
          ><span class="small quiet block"
            ><template v-if="one.lot_code"
              >lot <RouterLink class="underline" :to="`/stock/${one.lot_id}`">{{ one.lot_code }}</RouterLink>,
              {{ digits(one.lot_left_g ?? 0, 0) }} g left</template
            ><template v-if="one.lot_code && one.water_g">; </template
            ><template v-if="one.water_g">into {{ digits(one.water_g, 0) }} ml of water</template></span
          ><span v-if="one.suspect" class="small block font-semibold text-stop"
            >under suspicion: {{ one.suspect }}</span
          ></span
        >
        <span v-if="one.some" class="text-right">{{ one.done ? 'some is in' : 'some' }}</span>
        <span v-else-if="one.told && !one.done" class="text-right leading-tight"
          >{{ one.told.words
          }}<span class="small quiet block"
            ><span class="figure">{{ amount(one.added_g) }} of {{ amount(one.g) }}</span> g</span
          ></span
        >
        <span v-else class="text-right leading-tight whitespace-nowrap"
          ><span class="figure text-lg font-semibold">{{ amount(one.added_g) }}</span
          ><span class="quiet figure"> of {{ amount(one.g) }}</span> g</span
        >
        <button
          v-if="view.status === 'open'"
          type="button"
          class="btn btn-quiet small min-h-12 px-2"
          :aria-label="`Weigh ${one.name} in`"
          @click="emit('weigh', one.key)"
        >
          weigh
        </button>
      </li>
    </ul>
  </section>
</template>
