<script setup lang="ts">
/** Beside the work: the heap as it was last seen, the pour ladder, the log. */
import { useMediaQuery } from '@vueuse/core'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { ago } from '@/kit/format'
import Paste from '@/kit/Paste.vue'
import PourLadder from '@/kit/PourLadder.vue'
import ActLog from './ActLog.vue'
import { useSounds } from './timer'

const props = defineProps<{ view: Schemas['SlabView']; hasPowder: boolean }>()
defineEmits<{ strike: [id: string] }>()
const wide = useMediaQuery('(min-width: 1024px)')
const { data: workshop } = useWorkshop()
const sounds = useSounds()
const stage = computed<'empty' | 'powder' | Schemas['Stage']>(
  () => props.view.stage ?? (props.hasPowder ? 'powder' : 'empty'),
)
</script>

<template>
  <div class="space-y-4">
    <div v-if="!view.practice" class="flex items-end gap-2">
      <Paste :stage="stage" :colour="view.masstone_srgb" :size="150" />
      <p class="small quiet flex-1">
        {{
          view.stage
            ? `seen last: ${view.stage.replace('_', ' ')}`
            : hasPowder
              ? 'powder, not folded in yet'
              : 'a clean slab'
        }}
      </p>
    </div>
    <section v-if="view.rungs.length" aria-labelledby="ladder">
      <h2 id="ladder">Pour ladder</h2>
      <PourLadder :rungs="view.rungs" :poured-g="view.oil.in_g" />
    </section>
    <details :open="wide" aria-labelledby="log">
      <summary
        class="flex items-baseline justify-between max-lg:min-h-12 max-lg:border-b max-lg:border-line max-lg:py-3"
      >
        <h2 id="log">Log</h2>
        <span v-if="view.timeline.length" class="small quiet font-normal"
          >last act {{ ago(view.timeline.at(-1)!.made_at, view.now) }}</span
        >
      </summary>
      <ActLog :entries="view.timeline" :number="view.number" @strike="(id) => $emit('strike', id)" />
      <p v-if="view.earlier" class="hairline py-3">
        <span v-if="view.practice" class="quiet">{{ view.earlier }} earlier acts</span>
        <RouterLink v-else class="underline" :to="`/batches/${view.number}`"
          >{{ view.earlier }} earlier acts, on the batch page</RouterLink
        >
      </p>
    </details>
    <div class="flex flex-wrap gap-x-3">
      <button
        v-if="workshop?.settings.scrape_sound"
        type="button"
        class="btn btn-quiet small"
        :aria-pressed="sounds"
        @click="sounds = !sounds"
      >
        {{ sounds ? 'Sound is on here' : 'Sound is off here' }}
      </button>
    </div>
  </div>
</template>
