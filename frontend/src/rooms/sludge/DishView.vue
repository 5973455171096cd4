<script setup lang="ts">
/** A dish that dries: what is still in it, when it may be tubed, and the way into stock. */
import { useIntervalFn } from '@vueuse/core'
import { computed, toRef } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { Refused } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, digits, moment } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NotTaken from '@/kit/log/NotTaken.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import { usePanels } from '@/kit/log/panels'
import CakeFacts from './CakeFacts.vue'
import DryCurve from '@/kit/DryCurve.vue'
import DishEntry, { type DishPanel } from './DishEntry.vue'
import { DISHES, useDish, type DishSaid } from './room'
import LogList from '@/kit/log/LogList.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { view, error, isError, record, refusal, waiting, waitsFor, sending, offline, weight, refresh } =
  useDish(toRef(props, 'number'))
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const open = computed(() => view.value?.status === 'open')
provideWho(
  'dishes',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
useIntervalFn(() => open.value && refresh(), 60_000)
const { panel, show, act } = usePanels<DishPanel, DishSaid>(record, refusal, () => {
  for (const queryKey of [['sludge'], ['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
})
const strained = computed(() => view.value?.strained_um != null || view.value?.hairs_out)
/** What the large button offers now. */
const tap = computed<[string, DishPanel] | undefined>(() => {
  const seen = view.value
  if (!seen || !open.value) return undefined
  const enough = seen.dry_enough || seen.constant
  if (!enough) return ['Weigh it', 'weigh']
  return strained.value ? ['Into stock', 'to_stock'] : ['Strain it', 'strained']
})
const canOpen = () => !!open.value && !panel.value
useKeys(() => [
  {
    key: 'Enter',
    does: 'do what the large line says',
    act: () => tap.value && show(tap.value[1]),
    when: canOpen,
  },
  { key: 'w', does: 'weigh it', act: () => show('weigh'), when: canOpen },
  { key: 's', does: 'strained, hairs out', act: () => show('strained'), when: canOpen },
  { key: 'k', does: 'into stock', act: () => show('to_stock'), when: canOpen },
  { key: 'n', does: 'write a note', act: () => show('note'), when: canOpen },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => (panel.value = undefined),
    when: () => !!panel.value,
  },
])
const ALWAYS = 'Open air, no flame. Dry cake is dust: a mask, damp wiping, tools of its own. Never the drain.'
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no dish {{ number }}.</h1>
    <RouterLink class="underline" to="/sludge">All of the sludge</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="pt-4">
    <h1 class="mb-3">
      {{ view.name }}
      <span class="quiet block text-base font-normal"
        >dish {{ view.number }}, {{ view.method_says }} since {{ moment(view.started_at)
        }}<template v-if="view.place">; {{ view.place }}</template
        >; from
        <RouterLink class="underline" :to="`/sludge/cans/${view.can_number}`">{{
          view.can_name
        }}</RouterLink></span
      >
    </h1>
    <NotTaken :log="{ room: DISHES, number }" />
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div ref="work" class="min-w-0 scroll-mt-2 space-y-4">
        <OfflineBox v-if="offline" :waiting="waiting" :waits-for="waitsFor" />
        <DishEntry
          v-if="panel"
          :key="panel"
          :panel="panel"
          :view="view"
          :weight="weight"
          :refusal="refusal"
          :busy="sending"
          @record="act"
          @close="panel = undefined"
        />
        <div v-else class="border-2 border-ink bg-sheet p-4" data-part="advice">
          <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
            <div class="min-w-64 flex-1">
              <p class="text-2xl leading-tight font-semibold">{{ view.says }}</p>
              <p v-if="view.next_says" class="mt-1 text-lg">{{ view.next_says }}</p>
              <p
                v-if="view.ready_at && view.ready_low && view.ready_high && open && !view.dry_enough"
                class="quiet mt-1"
              >
                nine times in ten between {{ about(view.ready_low) }} and {{ about(view.ready_high) }}
              </p>
              <RouterLink v-if="view.lot_id" class="mt-1 inline-block underline" :to="`/stock/${view.lot_id}`"
                >Lot {{ view.lot_code }} in stock</RouterLink
              >
            </div>
            <button
              v-if="tap"
              type="button"
              class="btn btn-main btn-slab min-w-44 px-6 text-xl max-sm:w-full"
              :disabled="sending"
              @click="show(tap[1])"
            >
              {{ tap[0] }}<kbd class="keycap max-sm:hidden">Enter</kbd>
            </button>
          </div>
        </div>
        <div v-if="open && !panel" class="flex flex-wrap gap-2" role="group" aria-label="Acts">
          <button type="button" class="btn btn-slab act-beside" @click="show('weigh')">Weigh it</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('added')">More sludge in</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('squeezed')">Squeezed</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('strained')">Strained</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('to_stock')">Into stock</button>
        </div>
        <div class="flex flex-wrap gap-x-8 gap-y-2">
          <p v-if="view.now_g != null" class="leading-tight">
            <span class="small quiet block">Last weighed, without the dish</span
            ><span class="figure text-xl font-semibold">{{ digits(view.now_g, 1) }}</span
            >{{ ' ' }}<span class="quiet">g</span>
          </p>
          <FigureValue v-if="view.dry" class="w-44" :figure="view.dry" />
          <FigureValue v-if="view.residual" class="w-56" :figure="view.residual" />
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
      </div>
      <div class="space-y-5">
        <CakeFacts :cake="view.cake" title="What is in it" />
        <LogList
          :lines="view.timeline"
          :busy="sending"
          title="Log"
          @strike="(id) => act({ kind: 'strike', strikes: id })"
        />
        <div v-if="open" class="flex flex-wrap">
          <button type="button" class="btn btn-quiet -ml-2" @click="show('note')">Note</button>
          <button type="button" class="btn btn-quiet" @click="show('throw')">
            Not paint: keep it for disposal
          </button>
        </div>
        <CautionList :cautions="view.cautions" :always="ALWAYS" :deference="view.deference" />
      </div>
    </div>
  </div>
</template>
