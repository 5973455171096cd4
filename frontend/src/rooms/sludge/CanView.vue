<script setup lang="ts">
/** A can: a washing in two taps, how far it has cleared, what to do with it, and its ledger. */
import { computed, ref, toRef } from 'vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, digits } from '@/kit/format'
import JobScreen from '@/kit/job/JobScreen.vue'
import CakeFacts from './CakeFacts.vue'
import CanDrawing from './CanDrawing.vue'
import CanForm from './CanForm.vue'
import CanLedger from './CanLedger.vue'
import DishForm from './DishForm.vue'
import EnoughBox from './EnoughBox.vue'
import { useCan } from './room'
import WashingPanel from './WashingPanel.vue'

const props = defineProps<{ number: number }>()
const washing = ref<InstanceType<typeof WashingPanel> | null>(null)
const kept = ref('')
const job = useCan(toRef(props, 'number'), (said) => {
  kept.value = view.value?.timeline[0]?.text ?? ''
  if (said.kind === 'washing') washing.value?.done()
})
const { view, open, panel, refusal, sending, last } = job
function show(which: string): void {
  kept.value = ''
  job.show(which)
}
const settled = computed(() => view.value?.settled)
const acts = [
  { name: 'Pour off', key: 'c', does: 'clear solvent poured off', act: () => show('pour_off') },
  { name: 'Top up', key: 'i', does: 'solvent goes in', act: () => show('solvent_in') },
  { name: 'Read its height', key: 'h', does: 'read how far it has cleared', act: () => show('height') },
  { name: 'Weigh the can', act: () => show('weighed') },
  { name: 'Sludge into a dish', key: 'd', act: () => show('dish') },
]
const asides = computed(() =>
  open.value
    ? [
        { name: 'Note', key: 'n', does: 'write a note', act: () => show('note') },
        { name: 'Old sludge in it', act: () => show('found') },
        { name: 'Throw sludge out', act: () => show('sludge_out') },
        { name: 'Out of use', act: () => show('close') },
      ]
    : [],
)
const ALWAYS = 'Airflow, no flame, the can closed, no solvent on the skin. Never the drain.'
</script>

<template>
  <JobScreen
    :job="job"
    what="can"
    :all="['/sludge', 'All of the sludge']"
    :acts="acts"
    :asides="asides"
    log-title="Ledger"
    :earlier="view?.earlier"
    :cautions="view?.cautions ?? []"
    :always="ALWAYS"
    :deference="view?.deference ?? ''"
  >
    <template v-if="view" #head>
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
    </template>
    <template v-if="view" #entry>
      <DishForm v-if="panel === 'dish'" :view="view" @close="panel = undefined" />
      <CanForm v-else :view="view" @close="panel = undefined" />
    </template>
    <template v-if="view" #now>
      <WashingPanel
        v-if="open && !panel"
        ref="washing"
        :offered="view.offered"
        :busy="sending"
        :refusal="refusal?.words"
        @record="job.act"
      />
      <p
        v-if="kept && !panel"
        class="flex flex-wrap items-center gap-x-3 border-l-4 border-act pl-3"
        role="status"
      >
        <span><strong>Kept:</strong> {{ kept }}</span>
        <button v-if="last" type="button" class="btn btn-quiet" :disabled="sending" @click="job.undo()">
          Undo
        </button>
      </p>
    </template>
    <template v-if="view">
      <EnoughBox v-if="view.enough" :number="number" :enough="view.enough" />
      <CanLedger :view="view" />
    </template>
    <template v-if="view" #side>
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
            {{ view.washings ? 'The can is empty.' : 'Nothing was washed into it yet.' }}
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
    </template>
  </JobScreen>
</template>
