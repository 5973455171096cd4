<script setup lang="ts">
/** Lineage: all that is behind a tube or jar, or all that a lot went into; the second prints as a recall list. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { day, grams, massUnit } from '@/kit/format'
import { usePaper } from '@/kit/paper'

const props = defineProps<{ number: number; of: 'lots' | 'items' }>()
const paper = usePaper()
const { data: found, error } = useQuery({
  queryKey: ['lineage', () => props.of, () => props.number],
  queryFn: () =>
    props.of === 'lots'
      ? answered(api.GET('/api/lineage/lots/{lot_id}', { params: { path: { lot_id: props.number } } }))
      : answered(api.GET('/api/lineage/items/{item_id}', { params: { path: { item_id: props.number } } })),
})
const start = computed(() => found.value?.places[0])
const rest = computed(() => found.value?.places.slice(1) ?? [])
const PAGES: Record<Schemas['What'], string> = {
  lot: '/stock',
  batch: '/batches',
  pot: '/sticks',
  dish: '/sludge/dishes',
  run: '/making/runs',
  item: '/shelf',
}
const WORDS: Record<Schemas['What'], string> = {
  lot: 'lot',
  batch: 'batch',
  pot: 'pot',
  dish: 'dish of sludge',
  run: 'run of a process',
  item: 'tube, jar or stick',
}
const to = (place: Schemas['Place']) => `${PAGES[place.what]}/${place.id}`
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const plural = (n: number, one: string, many: string) => `${n} ${n === 1 ? one : many}`
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>{{ of === 'lots' ? `There is no lot ${number}.` : `There is no tube or jar ${number}.` }}</h1>
    <RouterLink class="underline" :to="of === 'lots' ? '/stock' : '/shelf'">Back</RouterLink>
  </section>
  <p v-else-if="error && !found" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="found && start" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ of === 'lots' ? `Where lot ${start.code} went` : `What is behind ${start.code}` }}
        <span class="quiet block text-base font-normal"
          >{{ start.name }}; {{ start.what === 'lot' ? start.says : 'filled' }} {{ day(start.day) }}</span
        >
      </h1>
      <p v-if="of === 'lots' && rest.length" class="text-lg">
        <strong class="figure text-3xl">{{ found.here }}</strong> here,
        <strong class="figure text-3xl">{{ found.gone }}</strong> gone
        <span class="small quiet block"
          >{{ plural(found.items, 'tube, jar or stick', 'tubes, jars and sticks') }} of
          {{ plural(found.batches, 'batch', 'batches')
          }}<template v-if="found.pots"> and {{ plural(found.pots, 'pot', 'pots') }}</template></span
        >
      </p>
      <a
        v-if="of === 'lots' && rest.length"
        class="btn"
        :href="`/api/lineage/lots/${number}/recall.pdf?paper=${paper}`"
        target="_blank"
        rel="noopener"
        >Print the recall list</a
      >
      <RouterLink class="btn btn-quiet" :to="to(start)">{{
        of === 'lots' ? 'The lot' : 'The tube or jar'
      }}</RouterLink>
    </div>
    <p v-if="found.cut" class="mb-3 border-l-4 border-stop pl-3" role="alert">
      It goes on beyond what is shown here.
    </p>
    <p v-if="!rest.length" class="text-lg">
      {{
        of === 'lots'
          ? 'Nothing was drawn from this lot yet.'
          : 'Nobody knows: it has no batch. Match it with one on its own page.'
      }}
    </p>
    <p
      v-if="of === 'items' && rest.length && !rest.some((place) => place.what === 'lot')"
      class="mb-3 text-lg"
    >
      No lot stands behind it: its powder and oil were never drawn from stock.
    </p>
    <ol v-if="rest.length" aria-label="Lineage">
      <li
        v-for="(place, n) in rest"
        :key="n"
        class="hairline flex min-h-14 flex-wrap items-center gap-x-4 py-1"
        :style="{ paddingLeft: `${Math.min(place.depth - 1, 5) * 1.75}rem` }"
      >
        <span class="flex basis-full items-center gap-2 sm:flex-1 sm:basis-0">
          <svg v-if="place.depth > 1" viewBox="0 0 16 20" class="h-5 w-4 shrink-0" aria-hidden="true">
            <path d="M3 0v10h10" fill="none" stroke="#8a8a8a" stroke-width="1.800" />
          </svg>
          <RouterLink class="underline decoration-1 underline-offset-4" :to="to(place)"
            ><span class="quiet">{{ WORDS[place.what] }}</span
            >{{ ' ' }}<strong class="font-semibold">{{ place.code }}</strong
            >{{ ' ' }}{{ place.name }}</RouterLink
          >
        </span>
        <span v-if="place.grams != null" class="whitespace-nowrap"
          ><span class="figure">{{ grams(place.grams) }}</span> {{ massUnit() }}
          <span class="quiet small"
            >of {{ place.what === 'lot' && of === 'items' ? 'it' : 'the lot' }}</span
          ></span
        >
        <span class="small grow sm:w-52 sm:grow-0" :class="place.here === false ? '' : 'quiet'"
          ><strong v-if="place.here === false">gone, </strong
          >{{ place.says || (place.here ? 'on the shelf' : '') }}</span
        >
        <span class="quiet small whitespace-nowrap text-right sm:w-28">{{ day(place.day) }}</span>
      </li>
    </ol>
  </div>
</template>
