<script setup lang="ts">
/** What is open at the slab: an amount, a look, the eye, a note, the end. */
import { computed } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { lotOf } from '@/kit/source'
import WeighOnce from '@/rooms/materials/WeighOnce.vue'
import type { Reading, Said } from './acts'
import type { PracticeBalance } from '@/rooms/practice/balance'
import PourBottle from '@/rooms/practice/PourBottle.vue'
import AdditiveEntry from './AdditiveEntry.vue'
import AmountEntry from './AmountEntry.vue'
import ByEyeEntry from './ByEyeEntry.vue'
import CameOutEntry from './CameOutEntry.vue'
import FinishEntry from './FinishEntry.vue'
import LookEntry from './LookEntry.vue'
import NoteEntry from './NoteEntry.vue'
import type { Panel } from './tap'

const props = defineProps<{
  panel: Panel
  view: Schemas['SlabView']
  weight?: Reading
  suggested: number | null
  refusal?: Refused
  busy?: boolean
  /** In practice, what is poured with. */
  practiceBalance?: PracticeBalance
}>()
/** What every one of them has: the server's refusal, whether it waits, and its way out. */
const common = computed(() => ({ refusal: props.refusal, busy: props.busy, onClose: () => emit('close') }))
/** What a level spoon or twenty drops weighed now would narrow. */
const powders = computed(() =>
  props.view.pigments
    .filter((p) => p.source === powderSource.value)
    .map((p) => ({
      pigment: {
        lot_id: lotOf(p.source) ?? null,
        name: p.name,
        loose_density_measured: p.loose_density_measured,
      },
      told: props.view.advice_told,
    })),
)
const bottle = computed(() => ({
  lot_id: lotOf(props.view.oil.source) ?? null,
  name: props.view.oil.name,
  drop_measured: props.view.oil.drop_measured,
}))
const powderSource = defineModel<string>('powderSource', { required: true })
const additiveSource = defineModel<string>('additiveSource', { required: true })
const emit = defineEmits<{
  close: []
  act: [said: Said]
  record: [said: Said]
  show: [panel: Panel]
  narrowed: []
  finish: [
    verdict: Schemas['Verdict'],
    tubes: { tube_type_id: number; count: number }[],
    goes: Schemas['Goes'][],
  ]
  abandon: [text: string]
}>()
</script>

<template>
  <AmountEntry
    v-if="panel === 'powder'"
    :key="powderSource"
    powder
    :no-tare="!!practiceBalance"
    :told="view.advice.act === 'powder' && view.advice.source === powderSource ? view.advice_told : undefined"
    :habit="view.habit"
    :known="view.pigments.find((p) => p.source === powderSource)"
    :title="`Powder in: ${view.pigments.find((p) => p.source === powderSource)?.name}`"
    :suggested="suggested"
    :weight="weight"
    doing="Record"
    v-bind="common"
    @record="(measure) => emit('act', { kind: 'powder', source: powderSource, measure })"
  >
    <PourBottle v-if="practiceBalance && weight" :balance="practiceBalance" powder />
    <WeighOnce
      v-if="view.habit.how !== 'scale' && !view.practice"
      class="mb-3"
      :lines="powders"
      @weighed="emit('narrowed')"
    />
    <div
      v-if="view.pigments.length > 1"
      class="mb-3 flex flex-wrap gap-2"
      role="group"
      aria-label="Which powder"
    >
      <button
        v-for="p in view.pigments"
        :key="p.source"
        type="button"
        class="btn"
        :class="p.source === powderSource ? 'bg-ink! text-white' : ''"
        :aria-pressed="p.source === powderSource"
        @click="powderSource = p.source"
      >
        {{ p.name }}
      </button>
    </div>
  </AmountEntry>
  <AmountEntry
    v-else-if="panel === 'oil'"
    :no-tare="!!practiceBalance"
    :known="view.oil"
    :told="view.advice.act === 'pour' ? view.advice_told : view.rungs.find((r) => r.state !== 'done')?.told"
    :habit="view.habit"
    :title="`Pour ${view.oil.name.toLowerCase()}`"
    :suggested="suggested"
    :weight="weight"
    doing="Record"
    v-bind="common"
    @record="(measure) => emit('act', { kind: 'oil', source: view.oil.source, measure })"
  >
    <PourBottle v-if="practiceBalance && weight" :balance="practiceBalance" />
    <WeighOnce
      v-if="view.habit.how !== 'scale' && view.habit.small !== 'ml' && !view.practice"
      class="mb-3"
      :lines="[]"
      :oil="bottle"
      @weighed="emit('narrowed')"
    />
  </AmountEntry>
  <AdditiveEntry
    v-else-if="panel === 'additive'"
    v-model="additiveSource"
    :view="view"
    :suggested="suggested"
    :weight="weight"
    v-bind="common"
    @record="(measure) => emit('act', { kind: 'additive', source: additiveSource, measure })"
    @leave-out="emit('act', { kind: 'leave_out', source: additiveSource })"
  />
  <ByEyeEntry
    v-else-if="panel === 'by_eye'"
    :view="view"
    :weight="weight"
    v-bind="common"
    @bottle="(grams) => emit('record', { kind: 'bottle', bottle_g: grams })"
    @tap="emit('record', { kind: 'by_eye', source: view.oil.source })"
    @tell="emit('show', 'came_out')"
  />
  <CameOutEntry
    v-else-if="panel === 'came_out'"
    :view="view"
    :weight="weight"
    v-bind="common"
    @record="(measure, guessed) => emit('act', { kind: 'came_out', measure, guessed })"
  />
  <AmountEntry
    v-else-if="panel === 'sample'"
    title="Sample taken out"
    :weight="weight"
    :only="['g', 'weigh_back']"
    doing="Record"
    v-bind="common"
    @record="(measure) => emit('act', { kind: 'sample', measure })"
  />
  <AmountEntry
    v-else-if="panel === 'draw_oil'"
    title="Oil drawn out"
    :only="['g']"
    :suggested="suggested"
    doing="Record"
    v-bind="common"
    @record="(measure) => emit('act', { kind: 'draw_oil', measure })"
  />
  <LookEntry
    v-else-if="panel === 'look'"
    :body-only="!!view.practice"
    :colour="view.masstone_srgb"
    :grit-expected="view.grit_expected"
    v-bind="common"
    @record="(seen) => emit('act', { kind: 'look', ...seen })"
  />
  <FinishEntry
    v-else-if="panel === 'finish'"
    :view="view"
    v-bind="common"
    @finish="(verdict, tubes, goes) => emit('finish', verdict, tubes, goes)"
  />
  <NoteEntry
    v-else-if="panel === 'note' || panel === 'abandon'"
    :title="panel === 'note' ? 'Note' : 'Why is this batch given up?'"
    :doing="panel === 'note' ? 'Record' : 'Give it up'"
    v-bind="common"
    @record="(text) => (panel === 'note' ? emit('act', { kind: 'note', text }) : emit('abandon', text))"
  />
</template>
