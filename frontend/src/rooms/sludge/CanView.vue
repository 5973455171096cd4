<script setup lang="ts">
/** A can: a washing in two taps, how far it has cleared, what to do with it, and its ledger. */
import { useIntervalFn } from '@vueuse/core'
import { computed, ref, toRef } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { Refused } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NotTaken from '@/kit/log/NotTaken.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import { usePanels } from '@/kit/log/panels'
import CakeFacts from './CakeFacts.vue'
import CanDrawing from './CanDrawing.vue'
import CanEntry, { type CanPanel } from './CanEntry.vue'
import CanForm from './CanForm.vue'
import CanLedger from './CanLedger.vue'
import DishForm from './DishForm.vue'
import EnoughBox from './EnoughBox.vue'
import { CANS, useCan, type CanSaid } from './room'
import LogList from '@/kit/log/LogList.vue'
import WashingPanel from './WashingPanel.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { view, error, isError, record, refusal, waiting, waitsFor, sending, offline, weight, refresh } =
  useCan(toRef(props, 'number'))
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const open = computed(() => view.value?.status === 'open')
provideWho(
  'cans',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
// It clears while nobody touches it.
useIntervalFn(() => open.value && refresh(), 60_000)
const washing = ref<InstanceType<typeof WashingPanel> | null>(null)
const kept = ref('')
type Open = CanPanel | 'dish' | 'itself'
const { panel, ...panels } = usePanels<Open, CanSaid>(record, refusal, () => {
  kept.value = view.value?.timeline[0]?.text ?? ''
  void queries.invalidateQueries({ queryKey: ['sludge'] })
})
function show(which: Open): void {
  kept.value = ''
  panels.show(which)
}
async function act(said: CanSaid): Promise<void> {
  kept.value = ''
  await panels.act(said)
  if (said.kind === 'washing' && !refusal.value) washing.value?.done()
}
const last = computed(() => view.value?.timeline.find((line) => line.can_strike))
const undo = () => last.value && void act({ kind: 'strike', strikes: last.value.id })
const settled = computed(() => view.value?.settled)
const canOpen = () => !!open.value && !panel.value
useKeys(() => [
  { key: 'c', does: 'clear solvent poured off', act: () => show('pour_off'), when: canOpen },
  { key: 'i', does: 'solvent goes in', act: () => show('solvent_in'), when: canOpen },
  { key: 'h', does: 'read how far it has cleared', act: () => show('height'), when: canOpen },
  { key: 'd', does: 'sludge into a dish', act: () => show('dish'), when: canOpen },
  { key: 'n', does: 'write a note', act: () => show('note'), when: canOpen },
  { key: 'x', does: 'undo the last act', act: () => undo(), when: canOpen },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => (panel.value = undefined),
    when: () => !!panel.value,
  },
])
const ALWAYS = 'Airflow, no flame, the can closed, no solvent on the skin. Never the drain.'
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no can {{ number }}.</h1>
    <RouterLink class="underline" to="/sludge">All of the sludge</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="pt-4">
    <div class="mb-3 flex flex-wrap items-start gap-x-4 gap-y-1">
      <h1 class="min-w-[60%] flex-1">
        {{ view.name }}
        <span class="quiet block text-base font-normal"
          >can {{ view.number }}, {{ view.solvent.name.toLowerCase()
          }}<template v-if="view.solvents.length > 1">, mixed with another</template
          ><template v-if="view.place">; {{ view.place }}</template
          ><strong v-if="!open">; out of use</strong></span
        >
      </h1>
      <a class="btn btn-quiet" :href="`/api/sludge/cans/${number}/label.pdf`" target="_blank" rel="noopener"
        >Label for the can</a
      >
      <button v-if="open" type="button" class="btn btn-quiet" @click="show('itself')">Set it right</button>
    </div>
    <NotTaken :log="{ room: CANS, number }" />
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div ref="work" class="min-w-0 scroll-mt-2 space-y-4">
        <OfflineBox v-if="offline" :waiting="waiting" :waits-for="waitsFor" />
        <DishForm v-if="panel === 'dish'" :view="view" @close="panel = undefined" />
        <CanForm v-else-if="panel === 'itself'" :view="view" @close="panel = undefined" />
        <CanEntry
          v-else-if="panel"
          :key="panel"
          :panel="panel"
          :view="view"
          :weight="weight"
          :refusal="refusal"
          :busy="sending"
          @record="act"
          @close="panel = undefined"
        />
        <WashingPanel
          v-else-if="open"
          ref="washing"
          :offered="view.offered"
          :busy="sending"
          :refusal="refusal?.words"
          @record="act"
        />
        <p
          v-if="kept && !panel"
          class="flex flex-wrap items-center gap-x-3 border-l-4 border-act pl-3"
          role="status"
        >
          <span><strong>Kept:</strong> {{ kept }}</span>
          <button v-if="last" type="button" class="btn btn-quiet" :disabled="sending" @click="undo()">
            Undo
          </button>
        </p>
        <div v-if="open && !panel" class="flex flex-wrap gap-2" role="group" aria-label="Acts">
          <button type="button" class="btn btn-slab act-beside" @click="show('pour_off')">Pour off</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('solvent_in')">Top up</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('height')">
            Read its height
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('weighed')">
            Weigh the can
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('dish')">
            Sludge into a dish
          </button>
        </div>
        <EnoughBox v-if="view.enough" :number="number" :enough="view.enough" />
        <CanLedger :view="view" />
      </div>
      <div class="space-y-5">
        <section aria-label="How it stands">
          <CanDrawing
            class="h-52 shrink-0"
            :level="view.level"
            :clear="settled!.clear_now"
            :end="settled!.clear_in_the_end"
            :colour="view.cake?.masstone_srgb ?? '#9aa09a'"
          />
          <div class="mt-2 space-y-2">
            <p v-if="!settled!.says" class="text-lg">
              {{ view.washings ? 'Nothing stands in it to clear.' : 'Nothing was washed into it yet.' }}
            </p>
            <template v-else>
              <p class="text-xl leading-snug font-semibold">{{ settled!.says }}</p>
              <p v-if="settled!.clear_at && !settled!.ready">
                Clear about <strong>{{ about(settled!.clear_at) }}</strong><template
                  v-if="settled!.clear_low && settled!.clear_high"
                  ><span class="quiet">
                    ({{ about(settled!.clear_low) }} to {{ about(settled!.clear_high) }})</span
                  ></template
                >
              </p>
              <p class="quiet small">
                {{
                  settled!.readings
                    ? `from ${settled!.readings} reading${settled!.readings === 1 ? '' : 's'} of this can`
                    : 'Read the height of the clear liquid a day apart, and it is known for this can.'
                }}
              </p>
            </template>
            <div class="flex flex-wrap items-start gap-6">
              <p>
                <span class="figure text-2xl font-semibold">{{ digits(view.ledger.held_ml, 0) }}</span> ml in
                it<span v-if="view.holds_ml" class="quiet"> of {{ digits(view.holds_ml, 0) }}</span>
              </p>
              <FigureValue v-if="view.solids" class="w-48" :figure="view.solids" />
            </div>
          </div>
        </section>
        <CakeFacts v-if="view.cake" :cake="view.cake" title="What is in its sludge" />
        <LogList
          :lines="view.timeline"
          :earlier="view.earlier"
          :busy="sending"
          title="Ledger"
          @strike="(id) => act({ kind: 'strike', strikes: id })"
        />
        <div v-if="open" class="flex flex-wrap">
          <button type="button" class="btn btn-quiet -ml-2" @click="show('note')">Note</button>
          <button type="button" class="btn btn-quiet" @click="show('sludge_out')">Throw sludge out</button>
          <button type="button" class="btn btn-quiet" @click="show('close')">Out of use</button>
        </div>
        <CautionList :cautions="view.cautions" :always="ALWAYS" :deference="view.deference" />
      </div>
    </div>
  </div>
</template>
