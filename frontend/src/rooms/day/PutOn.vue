<script setup lang="ts">
/** What could be put on the day: kept plans, recipes again, cakes, paint to fill, and every craft, begun or new. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { newId } from '@/kit/ids'

const props = defineProps<{ on: string; busy?: boolean; refusal?: Refused }>()
const emit = defineEmits<{ put: [job: Schemas['DayJobAsked']] }>()
const open = ref(false)
const { data: offers } = useQuery({
  queryKey: ['offers', computed(() => props.on)],
  queryFn: () => answered(api.GET('/api/day/{on}/offers', { params: { path: { on: props.on } } })),
  enabled: open,
})
const GROUPS: [Schemas['JobKind'], string][] = [
  ['plan', 'Kept plans'],
  ['recipe', 'Recipes again'],
  ['fill', 'Paint to fill'],
  ['sticks', 'Sticks'],
  ['cake', 'Sludge cakes'],
  ['run', 'Pigment under way'],
  ['can', 'Washing cans'],
  ['dish', 'Dishes'],
  ['chart', 'Charts'],
  ['new', 'Something new'],
]
const groups = computed(() =>
  GROUPS.map(([kind, name]) => ({ name, some: (offers.value ?? []).filter((o) => o.kind === kind) })).filter(
    (group) => group.some.length,
  ),
)
</script>

<template>
  <section class="no-print">
    <div class="flex flex-wrap items-center gap-2">
      <button
        type="button"
        class="btn btn-main btn-slab flex-1 px-5"
        :aria-expanded="open"
        @click="open = !open"
      >
        {{ open ? 'Close' : 'Put something on the day' }}
      </button>
      <slot />
    </div>
    <div v-if="open" class="mt-2 border-2 border-ink bg-sheet p-3">
      <template v-for="group in groups" :key="group.name">
        <h3 class="mt-2 text-base first:mt-0">{{ group.name }}</h3>
        <ul>
          <li v-for="offer in group.some" :key="`${offer.kind}-${offer.ref}`" class="hairline">
            <button
              type="button"
              class="flex min-h-14 w-full items-center gap-3 py-1 text-left hover:bg-act-wash"
              :disabled="busy"
              @click="emit('put', { id: newId(), kind: offer.kind, ref: offer.ref })"
            >
              <ColourChip v-if="offer.masstone_srgb" class="h-8 w-11" :colour="offer.masstone_srgb" />
              <span class="flex-1 leading-tight"
                ><strong class="font-semibold">{{ offer.name }}</strong
                ><span class="small quiet block">{{ offer.says }}</span></span
              ><span class="text-2xl leading-none" aria-hidden="true">+</span>
            </button>
          </li>
        </ul>
      </template>
      <p v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
    </div>
  </section>
</template>
