<script setup lang="ts">
/** A dish that dries: what is still in it, when it may be tubed, and the way into stock. */
import { computed, toRef } from 'vue'
import { useWorkshop } from '@/api/queries'
import DryCurve from '@/kit/DryCurve.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, digits, moment } from '@/kit/format'
import JobScreen from '@/kit/job/JobScreen.vue'
import CakeFacts from './CakeFacts.vue'
import { useDish } from './room'
import Term from '@/kit/Term.vue'

const props = defineProps<{ number: number }>()
const job = useDish(toRef(props, 'number'))
const { view, open, show } = job
const strained = computed(() => view.value?.strained_um != null || view.value?.hairs_out)
const { data: workshop } = useWorkshop()
/** Who has no scale judges by smell and paper. */
const weighs = computed(() => (workshop.value?.settings.measuring ?? 'scale') === 'scale')
/** What the large button offers now. */
const tap = computed(() => {
  const seen = view.value
  if (!seen || !open.value) return undefined
  if (!seen.dry_enough && !seen.constant)
    return seen.readings.length || weighs.value || !bySigns.value
      ? { name: 'Weigh it', act: () => show('weigh') }
      : { name: 'Judge it', act: () => show('judged') }
  return strained.value
    ? { name: 'Into stock', act: () => show('to_stock') }
    : { name: 'Strain it', act: () => show('strained') }
})
/** What evaporates can be judged by smell and paper. */
const bySigns = computed(() => view.value?.entries.some((one) => one.key === 'judged'))
const acts = computed(() => [
  { name: 'Weigh it', key: 'w', act: () => show('weigh') },
  ...(bySigns.value
    ? [{ name: 'Judge it', key: 'j', does: 'judge how dry it is', act: () => show('judged') }]
    : []),
  { name: 'More sludge in', act: () => show('added') },
  { name: 'Squeezed', act: () => show('squeezed') },
  { name: 'Strained', key: 's', does: 'strained, hairs out', act: () => show('strained') },
  { name: 'Into stock', key: 'k', act: () => show('to_stock') },
])
const asides = computed(() =>
  open.value
    ? [
        { name: 'Note', key: 'n', does: 'write a note', act: () => show('note') },
        { name: 'Not paint: keep it for disposal', act: () => show('throw') },
      ]
    : [],
)
const ALWAYS = 'Open air, no flame. Dry cake is dust: a mask, damp wiping, tools of its own. Never the drain.'
</script>

<template>
  <JobScreen
    :job="job"
    what="dish"
    :all="['/sludge', 'All of the sludge']"
    :acts="acts"
    :asides="asides"
    :tap="tap"
    :cautions="view?.cautions ?? []"
    :always="ALWAYS"
    :deference="view?.deference ?? ''"
  >
    <template #head>
      <h1 class="mb-3">
        {{ view!.name }}
        <span class="quiet block text-base font-normal"
          >dish {{ view!.number }}, {{ view!.method_says }} since {{ moment(view!.started_at)
          }}<template v-if="view!.place">; {{ view!.place }}</template
          >; from
          <RouterLink class="underline" :to="`/sludge/cans/${view!.can_number}`">{{
            view!.can_name
          }}</RouterLink></span
        >
      </h1>
    </template>
    <template #advice>
      <p class="text-2xl leading-tight font-semibold">{{ view!.says }}</p>
      <p v-if="view!.next_says" class="mt-1 text-lg">{{ view!.next_says }}</p>
      <p
        v-if="view!.ready_at && view!.ready_low && view!.ready_high && open && !view!.dry_enough"
        class="quiet mt-1"
      >
        nine times in ten between {{ about(view!.ready_low) }} and {{ about(view!.ready_high) }}
      </p>
      <RouterLink v-if="view!.lot_id" class="mt-1 inline-block underline" :to="`/stock/${view!.lot_id}`"
        >Lot {{ view!.lot_code }} in stock</RouterLink
      >
      <a
        v-if="view!.lot_id"
        class="btn mt-2 ml-4"
        :href="`/api/materials/lots/${view!.lot_id}/label.pdf`"
        target="_blank"
        rel="noopener"
        >Label for its jar</a
      >
      <RouterLink
        v-if="view!.lot_id"
        class="btn btn-main mt-2 ml-4"
        :to="{ path: '/plan', query: { lot: view!.lot_id } }"
        >Plan a batch of it</RouterLink
      >
    </template>
    <template v-if="view">
      <div class="flex flex-wrap gap-x-8 gap-y-2">
        <p v-if="view.now_g != null" class="leading-tight">
          <span class="small quiet block">Last weighed, without the dish</span
          ><span class="figure text-xl font-semibold">{{ digits(view.now_g, 1) }}</span
          >{{ ' ' }}<span class="quiet">g</span>
        </p>
        <FigureValue v-if="view.dry" class="w-44" :figure="view.dry" />
        <FigureValue v-if="view.residual" class="w-56" :figure="view.residual" />
        <p class="self-end"><Term of="residual">What is residual?</Term></p>
      </div>
      <DryCurve
        v-if="view.readings.length"
        what="the dish"
        ready-says="dry enough"
        :readings="view.readings"
        :curve="view.curve"
        :open="open"
        :now="view.now"
        :ready="view.ready_hours"
        :ready-at="view.ready_at"
        :enough-g="view.enough_g"
      />
    </template>
    <template #side><CakeFacts :cake="view!.cake" title="What is in it" /></template>
  </JobScreen>
</template>
