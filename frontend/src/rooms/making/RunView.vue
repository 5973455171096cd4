<script setup lang="ts">
/** A run at the bench: one thing to do now, the pH band, drying, sieve, yield; afterwards its trials and its stock. */
import { useIntervalFn, useMediaQuery } from '@vueuse/core'
import { computed, ref, toRef } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { Refused } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import DryCurve from '@/kit/DryCurve.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, day, digits, minutes, moment } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import LogList from '@/kit/log/LogList.vue'
import NotTaken from '@/kit/log/NotTaken.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import { usePanels } from '@/kit/log/panels'
import { useStay } from '@/kit/log/stay'
import TakePicture from '@/kit/log/TakePicture.vue'
import PhBand from './PhBand.vue'
import { amount, RUNS, useRun, type RunSaid } from './room'
import RunEntry, { type RunPanel } from './RunEntry.vue'
import RunSteps from './RunSteps.vue'
import RunTrials from './RunTrials.vue'
import RunWaste from './RunWaste.vue'
import RunWeigh from './RunWeigh.vue'
import SieveStack from './SieveStack.vue'
import ToStock from './ToStock.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const {
  view,
  error,
  isError,
  record,
  refusal,
  waiting,
  waitsFor,
  sending,
  offline,
  weight,
  temperature,
  acidity,
  refresh,
} = useRun(toRef(props, 'number'))
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const open = computed(() => view.value?.status === 'open')
provideWho(
  'runs',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
useIntervalFn(() => open.value && refresh(), 30_000)
useStay(
  computed(() => view.value?.status),
  offline,
)
const wide = useMediaQuery('(min-width: 1024px)')
const of = ref('')
const {
  panel,
  show: showPanel,
  act,
} = usePanels<RunPanel, RunSaid>(record, refusal, () => {
  for (const queryKey of [['making'], ['process'], ['lots'], ['lot'], ['library'], ['home']])
    void queries.invalidateQueries({ queryKey })
})
/** Open a panel, about one ingredient or step where it is about one. */
function show(which: RunPanel, about = ''): void {
  of.value = about
  showPanel(which)
}
const advice = computed(() => view.value?.advice)
/** What the large button says, and does. */
const tap = computed<{ name: string; act: () => void } | undefined>(() => {
  const now = advice.value
  const seen = view.value
  if (!now || !seen || !open.value) return undefined
  const key = now.step?.key ?? ''
  switch (now.tap) {
    case 'ready':
      return { name: 'Ready', act: () => void act({ kind: 'ready' }) }
    case 'weigh_in':
      return { name: 'Weigh it in', act: () => show('added', now.ingredient) }
    case 'ph':
      return { name: 'Read pH', act: () => show('ph') }
    case 'hold':
      return { name: 'Start the time', act: () => void act({ kind: 'hold', step: key }) }
    case 'wash':
      return {
        name: now.ml ? `Washed with ${digits(now.ml, 0)} ml` : 'Washed',
        act: () => (now.ml ? void act({ kind: 'washed', ml: now.ml, step: '' }) : show('washed')),
      }
    case 'weigh':
      return { name: 'Weigh it', act: () => show('weighed') }
    case 'heat':
      return { name: 'Weigh it after', act: () => show('heated', key) }
    case 'sieve':
      return { name: 'Sieve it', act: () => show('sieved') }
    case 'finish':
      return { name: 'Weigh it all', act: () => show('finish') }
    default:
      return now.waiting
        ? { name: 'Done sooner', act: () => show('step', key) }
        : { name: 'Done', act: () => void act({ kind: 'done', step: key, why: '' }) }
  }
})
const step = computed(() => view.value?.steps.find((one) => one.key === advice.value?.step?.key))
/** Whether the pH matters now and the large line does not speak of it: the band says what to add then. */
const souring = computed(() => step.value?.kind === 'add')
const last = computed(() => view.value?.timeline.find((line) => line.can_strike))
const undo = () => last.value && void record({ kind: 'strike', strikes: last.value.id })
const camera = ref<InstanceType<typeof TakePicture> | null>(null)
const warm = computed(() => temperature.value?.temperature_c ?? null)
const sour = computed(() => acidity.value?.ph ?? null)
const can = () => !!open.value && !panel.value
useKeys(() => [
  { key: 'Enter', does: 'do what the large line says', act: () => tap.value?.act(), when: can },
  { key: 'a', does: 'read the pH', act: () => show('ph'), when: can },
  { key: 't', does: 'the thermometer', act: () => show('temperature'), when: can },
  { key: 'w', does: 'a wash', act: () => show('washed'), when: can },
  { key: 'g', does: 'on the balance', act: () => show('weighed'), when: can },
  { key: 'c', does: 'how it looks', act: () => show('colour'), when: () => !panel.value },
  { key: 'h', does: 'take a picture', act: () => camera.value?.open(), when: () => !panel.value },
  { key: 'n', does: 'write a note', act: () => show('note'), when: () => !panel.value },
  { key: 'x', does: 'undo the last act', act: () => undo(), when: can },
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
    <h1>There is no run {{ number }}.</h1>
    <RouterLink class="underline" to="/making">All of the making</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="pt-4" :class="open ? 'max-lg:pb-44' : ''">
    <h1 class="mb-3">
      <RouterLink class="hover:underline" :to="`/making/${view.process_id}`">{{ view.name }}</RouterLink>
      <span class="quiet block text-base font-normal"
        >run {{ view.number }} of version {{ view.version }}, begun {{ moment(view.started_at)
        }}<template v-if="view.status === 'abandoned'">, given up</template
        ><template v-if="view.yield_g != null && view.yield_now"
          >;
          <strong class="text-ink"
            >{{ amount(view.yield_g) }} g, {{ digits(view.yield_now.value, 0) }}
            {{ view.yield_now.unit }}</strong
          ></template
        ><template v-if="view.changed"
          >; changed: <strong class="text-ink">{{ view.changed }}</strong></template
        ></span
      >
    </h1>
    <NotTaken :log="{ room: RUNS, number }" />
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_24rem]">
      <div ref="work" class="min-w-0 scroll-mt-2 space-y-4">
        <OfflineBox v-if="offline" :waiting="waiting" :waits-for="waitsFor" />
        <RunEntry
          v-if="panel"
          :key="`${panel}-${of}`"
          :panel="panel"
          :view="view"
          :of="of"
          :weight="weight"
          :acidity="sour"
          :warmth="warm"
          :refusal="refusal"
          :busy="sending"
          @record="act"
          @close="panel = undefined"
        />
        <div v-else-if="open && advice" class="border-2 border-ink bg-sheet p-4" data-part="advice">
          <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
            <div class="min-w-64 flex-1">
              <p class="text-[2.1rem] leading-[1.1] font-semibold">
                {{ advice.says
                }}<template v-if="advice.grams != null"
                  >&ensp;<span class="figure whitespace-nowrap">{{ amount(advice.grams) }} g</span></template
                >
              </p>
              <p v-if="advice.how" class="mt-1 text-lg">{{ advice.how }}</p>
              <p v-if="advice.ready_at" class="mt-1 text-lg">
                <strong>{{ moment(advice.ready_at) }}</strong><span class="quiet"
                  >; held {{ minutes(step?.held_min ?? 0) }} of {{ minutes(step?.minutes ?? 0) }}</span
                >
              </p>
              <p v-if="advice.tap === 'weigh' && view.dry" class="mt-1 text-lg">
                <template v-if="view.dry.ready_at"
                  >Dry about <strong>{{ about(view.dry.ready_at) }}</strong>, nine times in ten by
                  {{ about(view.dry.ready_high!) }}</template
                ><template v-else
                  >{{ view.dry.missing === 1 ? 'One more weighing' : `${view.dry.missing} more weighings` }},
                  some hours apart, and Niddy says when</template
                >.
              </p>
              <p v-if="step?.good" class="small quiet mt-1">Good: {{ step.good }}</p>
              <p v-if="view.advice_caution" class="mt-2 border-l-4 border-stop pl-3">
                {{ view.advice_caution }}
              </p>
            </div>
            <button
              v-if="tap && wide"
              type="button"
              class="btn btn-main btn-slab min-w-48 px-6 text-xl"
              :disabled="sending"
              @click="tap.act()"
            >
              {{ tap.name }}<kbd class="keycap">Enter</kbd>
            </button>
          </div>
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
          <button v-if="!wide && last" type="button" class="btn btn-quiet mt-2 -ml-2" @click="undo()">
            Undo: {{ last.text }}
          </button>
        </div>
        <div v-if="open && (wide || !panel)" class="thumb-bar" role="group" aria-label="Acts">
          <button
            v-if="tap && !wide"
            type="button"
            class="btn btn-main btn-slab basis-full text-xl"
            :disabled="sending"
            @click="tap.act()"
          >
            {{ tap.name }}
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('ph')">
            pH<span v-if="sour != null" class="figure">{{ digits(sour, 1) }}</span>
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('temperature')">
            Warmth<span v-if="warm != null" class="figure">{{ digits(warm, 0) }}</span>
          </button>
          <button type="button" class="btn btn-slab act-beside" @click="show('washed')">A wash</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('weighed')">Balance</button>
          <button type="button" class="btn btn-slab act-beside" @click="show('colour')">Looks</button>
          <button v-if="wide" type="button" class="btn btn-slab px-4" :disabled="!last" @click="undo()">
            Undo
          </button>
        </div>
        <template v-if="view.status === 'finished'">
          <RunTrials
            :view="view"
            :refusal="panel ? undefined : refusal"
            :busy="sending"
            @record="act"
            @colour="show('colour')"
          />
          <ToStock :view="view" :refusal="panel ? undefined : refusal" :busy="sending" @record="act" />
        </template>
        <PhBand
          v-if="view.ph && !view.dry"
          :ph="view.ph"
          :live="open ? sour : null"
          :open="open && souring"
        />
        <div class="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
          <FigureValue v-if="view.theory" :figure="view.theory" />
          <p v-if="view.yield_g != null" class="leading-tight">
            <span class="small quiet block">All there is</span
            ><span class="figure text-xl font-semibold">{{ amount(view.yield_g) }}</span
            >{{ ' ' }}<span class="quiet">g</span>
          </p>
          <FigureValue v-if="view.dry?.dry && open" :figure="view.dry.dry" />
          <FigureValue v-if="view.yield_now" :figure="view.yield_now" />
          <FigureValue v-if="view.wash?.left" :figure="view.wash.left" />
          <FigureValue v-if="view.heat?.expected" :figure="view.heat.expected" />
        </div>
        <p v-if="view.wash && view.wash.used_ml > 0 && open" class="small quiet">
          {{ view.wash.done }} of {{ view.wash.planned }} washes,
          <span class="figure">{{ digits(view.wash.used_ml, 0) }}</span> ml so far; a drop of it on glass says
          more
        </p>
        <p v-if="view.heat?.says">Heated: {{ view.heat.says }}.</p>
        <DryCurve
          v-if="view.dry"
          what="the powder"
          ready-says="dry"
          :readings="view.dry.readings"
          :curve="view.dry.curve"
          :open="open"
          :now="view.now"
          :ready="view.dry.ready_hours"
          :ready-at="view.dry.ready_at"
          :enough-g="view.dry.dry?.value ?? null"
        />
        <template v-if="view.yields.length > 1">
          <p id="each-weighing" class="small quiet -mb-3">
            Each weighing, in % of {{ view.theory ? 'theory' : 'what went in' }}
          </p>
          <ol class="flex flex-wrap gap-x-5 gap-y-1" aria-labelledby="each-weighing">
            <li v-for="(one, n) in view.yields" :key="one.at" class="leading-tight">
              <span class="small quiet block">{{ one.final ? 'in all' : `weighing ${n + 1}` }}</span><span
                class="figure"
                :class="one.final ? 'font-semibold' : ''"
                >{{ digits(one.g, 1) }} g, {{ digits(100 * one.share, 0) }} %</span
              >
            </li>
          </ol>
        </template>
        <PhBand v-if="view.ph && view.dry" :ph="view.ph" :live="null" :open="false" />
        <SieveStack v-if="view.sieved" :sieved="view.sieved" />
        <CautionList :cautions="view.cautions" :always="view.always" :deference="view.deference" />
      </div>
      <div class="space-y-5">
        <RunSteps :view="view" :busy="sending" @step="(key) => show('step', key)" />
        <RunWeigh :view="view" @weigh="(key) => show('added', key)" />
        <RunWaste :view="view" :busy="sending" @book="show('waste')" @record="act" />
        <div class="flex flex-wrap">
          <button type="button" class="btn btn-quiet -ml-2" @click="camera?.open()">Picture</button>
          <button type="button" class="btn btn-quiet" @click="show('note')">Note</button>
          <button v-if="open" type="button" class="btn btn-quiet" @click="show('finish')">
            Weigh it all
          </button>
          <button v-if="open" type="button" class="btn btn-quiet" @click="show('abandon')">Give it up</button>
        </div>
        <LogList
          title="Log"
          :lines="view.timeline"
          :busy="sending"
          :photos="`/api/making/runs/${number}/photos`"
          @strike="(id) => act({ kind: 'strike', strikes: id })"
        />
        <p class="small quiet">
          <span class="figure">{{ minutes(view.worked_min) }}</span> of work at the bench so far, begun
          {{ day(view.started_at) }}
        </p>
      </div>
    </div>
    <TakePicture
      ref="camera"
      camera
      label="Take a picture"
      @picture="(file) => record({ kind: 'photo', text: '' }, file)"
    />
  </div>
</template>
