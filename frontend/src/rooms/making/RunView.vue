<script setup lang="ts">
/** A run at the bench: one thing to do now, the pH band, drying, sieve, yield; afterwards its trials and its stock. */
import { computed, toRef } from 'vue'
import DryCurve from '@/kit/DryCurve.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { about, day, digits, minutes, moment } from '@/kit/format'
import type { Tap } from '@/kit/job/job'
import JobScreen from '@/kit/job/JobScreen.vue'
import { asTold } from '@/kit/units'
import PhBand from './PhBand.vue'
import { amount, useRun } from './room'
import RunSteps from './RunSteps.vue'
import RunTrials from './RunTrials.vue'
import RunWaste from './RunWaste.vue'
import RunWeigh from './RunWeigh.vue'
import SieveEntry from './SieveEntry.vue'
import SieveStack from './SieveStack.vue'
import ToStock from './ToStock.vue'
import Term from '@/kit/Term.vue'

const props = defineProps<{ number: number }>()
const job = useRun(toRef(props, 'number'))
const { view, open, panel, refusal, sending, show, act } = job
const advice = computed(() => view.value?.advice)
const goesIn = computed(() => view.value?.weigh.find((one) => one.key === advice.value?.ingredient))
/** What the large button says, and does. */
const tap = computed<Tap | undefined>(() => {
  const now = advice.value
  const seen = view.value
  if (!now || !seen || !open.value) return undefined
  const key = now.step?.key ?? ''
  switch (now.tap) {
    case 'ready':
      return { name: 'Ready', act: () => void act({ kind: 'ready' }) }
    case 'weigh_in': {
      const told = goesIn.value?.told
      if (!told) return { name: 'Weigh it in', act: () => show(`added:${now.ingredient}`) }
      return {
        name: told.unit === 'eye' ? 'It is in' : `In: ${told.words.replace('level ', '')}`,
        act: () => void act({ kind: 'added', ingredient: now.ingredient!, measure: asTold(told), step: '' }),
      }
    }
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
      return { name: 'Weigh it after', act: () => show(`heated:${key}`) }
    case 'sieve':
      return { name: 'Sieve it', act: () => show('sieved') }
    case 'finish':
      return { name: 'All there is', act: () => show('finish') }
    default:
      return now.waiting
        ? { name: 'Done sooner', act: () => show(`step:${key}`) }
        : { name: 'Done', act: () => void act({ kind: 'done', step: key, why: '' }) }
  }
})
const step = computed(() => view.value?.steps.find((one) => one.key === advice.value?.step?.key))
/** Whether the pH matters now and the large line does not speak of it: the band says what to add then. */
const souring = computed(() => step.value?.kind === 'add')
const sour = computed(() => job.acidity.value?.ph ?? null)
const warm = computed(() => job.temperature.value?.temperature_c ?? null)
const shown = (figure: number | null, places: number) => (figure != null ? digits(figure, places) : undefined)
const acts = computed(() => [
  { name: 'pH', key: 'a', does: 'read the pH', figure: shown(sour.value, 1), act: () => show('ph') },
  {
    name: 'Warmth',
    key: 't',
    does: 'the thermometer',
    figure: shown(warm.value, 0),
    act: () => show('temperature'),
  },
  { name: 'A wash', key: 'w', act: () => show('washed') },
  { name: 'Balance', key: 'g', does: 'on the balance', act: () => show('weighed') },
  { name: 'Looks', key: 'c', does: 'how it looks', always: true, act: () => show('colour') },
])
const asides = computed(() => [
  { name: 'Note', key: 'n', does: 'write a note', always: true, act: () => show('note') },
  ...(open.value
    ? [
        { name: 'All there is', act: () => show('finish') },
        { name: 'Give it up', act: () => show('abandon') },
      ]
    : []),
])
</script>

<template>
  <JobScreen
    :job="job"
    what="run"
    :all="['/making', 'All of the making']"
    :acts="acts"
    :asides="asides"
    :tap="tap"
    thumb
    pictures
    :cautions="view?.cautions ?? []"
    :always="view?.always ?? ''"
    :deference="view?.deference ?? ''"
  >
    <template v-if="view" #head>
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
    </template>
    <template #entry>
      <section class="border-2 border-ink bg-sheet p-3 sm:p-4" aria-label="Sieved">
        <h2 class="mb-2 text-xl">Sieved</h2>
        <SieveEntry :refusal="refusal" :busy="sending" @record="act" />
        <button type="button" class="btn btn-quiet mt-2 -ml-2" @click="job.close()">Close</button>
      </section>
    </template>
    <template v-if="view && open && advice" #advice>
      <p class="text-[2.1rem] leading-[1.1] font-semibold">
        {{ advice.says }}<template v-if="goesIn?.told">, {{ goesIn.told.words }}</template
        ><template v-else-if="advice.grams != null"
          >&ensp;<span class="figure whitespace-nowrap">{{ amount(advice.grams) }} g</span></template
        >
      </p>
      <p v-if="goesIn?.told && !goesIn.some" class="small quiet">
        about <span class="figure">{{ amount(goesIn.told.grams) }}</span> g
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
          >{{ view.dry.missing === 1 ? 'One more weighing' : `${view.dry.missing} more weighings` }}, some
          hours apart, and Niddy says when</template
        >.
      </p>
      <p v-if="step?.good" class="small quiet mt-1">Good: {{ step.good }}</p>
      <p v-if="view.advice_caution" class="mt-2 border-l-4 border-stop pl-3">
        {{ view.advice_caution }}
      </p>
    </template>
    <template v-if="view">
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
      <PhBand v-if="view.ph && !view.dry" :ph="view.ph" :live="open ? sour : null" :open="open && souring" />
      <div class="grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4">
        <FigureValue v-if="view.theory" :figure="view.theory" />
        <p v-if="view.theory" class="small"><Term of="theory">What is theory?</Term></p>
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
        <p id="each-weighing" class="small quiet mb-1!">
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
    </template>
    <template v-if="view" #side>
      <RunSteps :view="view" :busy="sending" @step="(key) => show(`step:${key}`)" />
      <RunWeigh :view="view" @weigh="(key) => show(`added:${key}`)" />
      <RunWaste :view="view" :busy="sending" @book="show('waste')" @record="act" />
    </template>
    <template v-if="view" #foot>
      <p v-if="view.cannot" class="small quiet">{{ view.cannot }}</p>
      <p class="small quiet">
        <span class="figure">{{ minutes(view.worked_min) }}</span> of work at the bench so far, begun
        {{ day(view.started_at) }}
      </p>
    </template>
  </JobScreen>
</template>
