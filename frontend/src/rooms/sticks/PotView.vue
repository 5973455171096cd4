<script setup lang="ts">
/** The pot: one thing to do now, the thermometer, what is in it, the drop; afterwards its sticks and their trials. */
import { useIntervalFn, useMediaQuery } from '@vueuse/core'
import { computed, ref, toRef } from 'vue'
import { Refused } from '@/api/client'
import { clock, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NotTaken from '@/kit/log/NotTaken.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import { usePanels } from '@/kit/log/panels'
import { useStay } from '@/kit/log/stay'
import TakePicture from '@/kit/log/TakePicture.vue'
import CautionList from '@/kit/CautionList.vue'
import DentEntry from './DentEntry.vue'
import DentScale from './DentScale.vue'
import { type Panel, type Said, tapFor, usePot } from './pot'
import PotEntry from './PotEntry.vue'
import PotHead from './PotHead.vue'
import PotLog from './PotLog.vue'
import PotSticks from './PotSticks.vue'
import ThermoStrip from './ThermoStrip.vue'
import TrialsPanel from './TrialsPanel.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = defineProps<{ number: number }>()
const {
  view,
  error,
  isError,
  record,
  refusal,
  waiting,
  waitsFor,
  lasting,
  sending,
  followed,
  offline,
  weight,
  temperature,
  refresh,
} = usePot(toRef(props, 'number'))
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const open = computed(() => view.value?.status === 'open')
provideWho(
  'sticks',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
// What cools and sinks changes by itself: asked again while the pot is on.
useIntervalFn(() => open.value && refresh(), 30_000)
useStay(
  computed(() => view.value?.status),
  offline,
)
const kind = ref<'base' | 'oil' | 'pigment'>('base')
const source = ref('')
const suggested = ref<number | null>(null)
const tap = computed(() => view.value && tapFor(view.value, weight.value?.weight_g != null))
const live = computed(() => temperature.value?.temperature_c ?? null)

const { panel, act, ...panels } = usePanels<Panel, Said>(record, refusal)
function show(which: Panel): void {
  const advice = view.value?.advice
  if (which === 'amount' && view.value) {
    const advised =
      advice?.act === 'base' || advice?.act === 'oil' || advice?.act === 'pigment' ? advice : undefined
    kind.value = advised ? (advised.act as typeof kind.value) : 'oil'
    source.value = advised?.source || view.value.materials.find((m) => m.role === 'oil')?.source || ''
    suggested.value = advised?.grams ?? null
  }
  panels.show(which)
}
function tapped(): void {
  if (!tap.value || sending.value || offline.value) return
  if (tap.value.said) void act(tap.value.said)
  else show(tap.value.panel!)
}
const last = computed(() => view.value?.timeline.findLast((e) => e.can_strike))
const undo = () => last.value && void record({ kind: 'strike', strikes: last.value.id })
const camera = ref<InstanceType<typeof TakePicture> | null>(null)
const readLive = () =>
  live.value != null && void act({ kind: 'temperature', temperature_c: Math.round(live.value) })
const advice = computed(() => view.value?.advice)
const pointer = computed(
  () => view.value?.dents.find((d) => d.still_holds)?.dent_dmm ?? view.value?.dent?.value,
)
const read = computed(() => view.value?.dents.some((d) => d.still_holds))
const wide = useMediaQuery('(min-width: 1024px)')
const poured = computed(() => view.value?.strip.poured_c != null || view.value?.cold_at != null)
const ready = () => open.value && !panel.value
const DEFERENCE = 'Follow the safety data sheets, local codes and licensed disposal.'
const ALWAYS = 'Hot wax burns: thermometer in, lid at hand, never left alone, no water into it.'
useKeys(() => [
  { key: 'Enter', does: 'do what the large line says', act: tapped, when: ready },
  { key: 'i', does: 'something into the pot', act: () => show('amount'), when: ready },
  { key: 't', does: 'the thermometer', act: () => show('temperature'), when: ready },
  { key: 's', does: 'stirred', act: () => void act({ kind: 'stir' }), when: ready },
  { key: 'd', does: 'read a drop', act: () => show('drop'), when: ready },
  { key: 'p', does: 'poured', act: () => show('pour'), when: ready },
  { key: 'h', does: 'take a picture', act: () => camera.value?.open(), when: () => !panel.value },
  { key: 'n', does: 'write a note', act: () => show('note'), when: () => !panel.value },
  { key: 'x', does: 'undo the last act', act: () => undo(), when: ready },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => (panel.value = undefined),
    when: () => !!panel.value,
  },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no pot {{ number }}.</h1>
    <RouterLink class="underline" to="/sticks">All of the sticks</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" :class="open ? 'max-lg:pb-44' : ''">
    <PotHead
      :view="view"
      :waits="waiting.length"
      :followed="followed"
      :offline="offline"
      :lasting="lasting"
    />
    <NotTaken :log="{ room: 'sticks', number }" />
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div ref="work" class="min-w-0 scroll-mt-2 space-y-4">
        <p
          v-if="open && advice?.urgent"
          class="border-4 border-stop bg-white p-3 text-xl font-semibold text-stop"
          role="alert"
        >
          {{ advice.urgent }}
        </p>
        <DentEntry
          v-if="panel === 'drop' || panel === 'dent'"
          :of="panel"
          :colour="view.masstone_srgb"
          :zones="view.zones"
          :refusal="refusal"
          :busy="sending"
          @record="act"
          @close="panel = undefined"
        />
        <PotEntry
          v-else-if="panel"
          :key="`${panel}-${source}`"
          :panel="panel"
          :view="view"
          :kind="kind"
          :source="source"
          :suggested="suggested"
          :weight="weight"
          :temperature="live ?? view.strip.now_c"
          :refusal="refusal"
          :busy="sending"
          @record="act"
          @close="panel = undefined"
          @source="(k, s) => ((kind = k), (source = s), (suggested = null))"
        />
        <OfflineBox v-else-if="offline" :waiting="waiting" :waits-for="waitsFor"
          ><p class="mt-2 border-l-4 border-ink pl-3">
            <strong>Mind the heat:</strong> pour at {{ digits(view.strip.pour_low_c, 0) }} to
            {{ digits(view.strip.pour_high_c, 0) }} °C, never above {{ digits(view.strip.most_c, 0) }} °C.
          </p></OfflineBox
        >
        <div v-else-if="open && advice" class="border-2 border-ink bg-sheet p-4" data-part="advice">
          <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
            <div class="min-w-64 flex-1">
              <p class="text-[2.1rem] leading-[1.1] font-semibold">
                {{ advice.step.says
                }}<template v-if="advice.grams != null"
                  >&ensp;<span class="figure whitespace-nowrap"
                    >{{ digits(advice.grams, 1) }} g</span
                  ></template
                >
              </p>
              <p v-if="advice.step.how" class="mt-1">{{ advice.step.how }}</p>
              <ul v-if="Object.keys(advice.parts ?? {}).length" class="mt-1">
                <li v-for="(grams, part) in advice.parts" :key="part">
                  <span class="figure text-xl font-semibold">{{ digits(grams, 1) }} g</span>
                  {{ view.materials.find((m) => m.source === part)?.name ?? part }}
                </li>
              </ul>
              <p v-if="advice.mend?.second_pot" class="mt-1 font-semibold">{{ advice.mend.says }}</p>
              <p v-if="view.cold_at" class="mt-1">
                Set by about <span class="figure font-semibold">{{ clock(view.cold_at) }}</span>
              </p>
              <p v-if="advice.step.done_when" class="small quiet mt-1">Good: {{ advice.step.done_when }}</p>
              <p v-if="advice.step.caution" class="mt-2 border-l-4 border-stop pl-3">
                {{ advice.step.caution }}
              </p>
            </div>
            <button
              v-if="tap && wide"
              type="button"
              class="btn btn-main btn-slab min-w-48 px-8 text-xl"
              :disabled="sending"
              @click="tapped"
            >
              {{ tap.name }}<kbd class="keycap">Enter</kbd>
            </button>
          </div>
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
          <button v-if="!wide && last" type="button" class="btn btn-quiet mt-2 -ml-2" @click="undo()">
            Undo: {{ last.text }}
          </button>
        </div>
        <TrialsPanel
          v-if="view.status === 'finished'"
          :view="view"
          :refusal="panel ? undefined : refusal"
          :busy="sending"
          @record="act"
          @dent="show('dent')"
          @flaw="show('flaw')"
          @note="show('note')"
        />
        <div v-if="open && (wide || !panel)" class="thumb-bar" role="group" aria-label="Acts">
          <button
            v-if="tap && !wide"
            type="button"
            class="btn btn-main btn-slab basis-full text-xl"
            :disabled="sending || offline"
            @click="tapped"
          >
            {{ tap.name }}
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('amount')">Into the pot</button>
          <button
            type="button"
            class="btn btn-slab act-beside"
            @click="live != null ? readLive() : show('temperature')"
          >
            Thermometer<span v-if="live != null" class="figure">{{ digits(live, 0) }}</span>
          </button>
          <button v-if="!poured" type="button" class="btn btn-slab act-beside" @click="act({ kind: 'stir' })">
            Stirred
          </button>
          <button v-if="!poured" type="button" class="btn btn-slab act-beside" @click="show('drop')">
            A drop
          </button>
          <button v-else type="button" class="btn btn-slab act-beside" @click="show('flaw')">A flaw</button>
          <button v-if="wide" type="button" class="btn btn-slab px-4" :disabled="!last" @click="undo()">
            Undo
          </button>
        </div>
        <ThermoStrip v-if="open" :strip="view.strip" :live="live" :now-at="view.now" />
        <DentScale
          :zones="view.zones"
          :target="view.target_dmm"
          :low="view.target_low_dmm"
          :high="view.target_high_dmm"
          :pointer="pointer"
        />
        <p class="small quiet -mt-2">
          {{
            pointer == null
              ? 'The pointer comes with base and oil in the pot.'
              : read
                ? 'The pointer is what was read last.'
                : 'The pointer is reckoned from what is in the pot; a drop says how it really is.'
          }}
        </p>
        <PotSticks v-if="view.status === 'finished'" :view="view" />
        <CautionList :cautions="view.cautions" :always="ALWAYS" :deference="DEFERENCE" />
      </div>
      <div class="space-y-5">
        <PotLog
          :view="view"
          :busy="sending"
          @strike="(id) => record({ kind: 'strike', strikes: id })"
          @picture="camera?.open()"
          @note="show('note')"
          @paste="show('paste')"
          @abandon="show('abandon')"
        />
      </div>
    </div>
    <TakePicture
      ref="camera"
      camera
      label="Take a picture"
      @picture="(file) => record({ kind: 'photo' }, file)"
    />
  </div>
</template>
