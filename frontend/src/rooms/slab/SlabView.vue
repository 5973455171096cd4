<script setup lang="ts">
import { useEventListener, useWakeLock } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, toRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import FigureValue from '@/kit/FigureValue.vue'
import { ago, clock as hour, day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { keepsShell } from '@/kit/shell'
import Paste from '@/kit/Paste.vue'
import PourLadder from '@/kit/PourLadder.vue'
import WettingScale from '@/kit/WettingScale.vue'
import ActLog from './ActLog.vue'
import { type Said, useSlab } from './acts'
import NotTaken from '@/kit/log/NotTaken.vue'
import AdditiveEntry from './AdditiveEntry.vue'
import AmountEntry from './AmountEntry.vue'
import ByEyeEntry from './ByEyeEntry.vue'
import CameLate from './CameLate.vue'
import FinishEntry from './FinishEntry.vue'
import KitCheck from './KitCheck.vue'
import LookEntry from './LookEntry.vue'
import MullerPanel from './MullerPanel.vue'
import PhaseLine from './PhaseLine.vue'
import { clockSpan, useMullerClock, useSounds } from './timer'
import WaysBack from './WaysBack.vue'

const props = defineProps<{ number: number }>()
const router = useRouter()
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
  ahead,
  refresh,
} = useSlab(toRef(props, 'number'))
const { data: workshop } = useWorkshop()

type Panel =
  | 'kit'
  | 'powder'
  | 'oil'
  | 'additive'
  | 'by_eye'
  | 'sample'
  | 'draw_oil'
  | 'look'
  | 'note'
  | 'ways'
  | 'finish'
  | 'abandon'
const panel = ref<Panel>()
const powderSource = ref('')
const additiveSource = ref('')
const suggested = ref<number | null>(null)
const text = ref('')
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)

const open = computed(() => view.value?.status === 'open')
const heldBack = computed(
  () => (view.value?.must_be_ready ?? false) && !waiting.value.some((w) => w.act.kind === 'ready'),
)
const hasPowder = computed(() => view.value?.pigments.some((p) => p.in_g > 0) ?? false)
const stage = computed<'empty' | 'powder' | Schemas['Stage']>(
  () => view.value?.stage ?? (hasPowder.value ? 'powder' : 'empty'),
)
const advice = computed(() => view.value?.advice)
const WAYS_ACTS = new Set(['too_loose', 'rest'])

const sounds = useSounds()
const scrapeEvery = computed(() => workshop.value?.settings.scrape_interval_min ?? 0)
const audible = computed(() => sounds.value && (workshop.value?.settings.scrape_sound ?? false))
const { running, seconds, left, scrapeDue } = useMullerClock(
  view,
  waiting,
  ahead,
  scrapeEvery,
  audible,
  refresh,
)
const muller = ref<InstanceType<typeof MullerPanel> | null>(null)
/** The muller is offered once no dust is left. */
const atMuller = computed(() => open.value && hasPowder.value && !view.value!.dusty)

const SILENT = 'The server does not answer.'
useEventListener(window, 'beforeunload', (event) => {
  // Without a kept shell a reload while the server is away ends in the browser's own error page.
  if (offline.value && !keepsShell.value) event.preventDefault()
})
const wake = useWakeLock()
onMounted(() => void wake.request('screen').catch(() => undefined))
watch(
  () => view.value?.status,
  (status) => status && status !== 'open' && void wake.release().catch(() => undefined),
)

/** The one tap: what the advice asks for, with its amount. */
const tap = computed<{ name: string; said?: Said; panel?: Panel } | undefined>(() => {
  const now = advice.value
  if (!now) return undefined
  const measure = now.grams == null ? undefined : { unit: 'g' as const, amount: honest(now.grams) }
  // A balance is there to be read; and what has no figure yet is poured or weighed in by the maker's own measure.
  const byHand = !measure || weight.value?.weight_g != null
  switch (now.act) {
    case 'powder':
      if (byHand) return { name: 'Weigh in', panel: 'powder' }
      return {
        name: `Weighed in ${grams(now.grams!)} ${massUnit()}`,
        said: { kind: 'powder', source: now.source, measure },
      }
    case 'pour':
      if (view.value!.bottle_g != null && view.value!.taps_by_eye)
        return { name: 'Pour by eye', panel: 'by_eye' }
      if (byHand) return { name: 'Pour', panel: 'oil' }
      return {
        name: `Poured ${grams(now.grams!)} ${massUnit()}`,
        said: { kind: 'oil', source: view.value!.oil.source, measure },
      }
    case 'additive':
      if (byHand) return { name: 'Weigh in', panel: 'additive' }
      return {
        name: `In, ${now.grams! < 5 ? digits(now.grams!, 2) : grams(now.grams!)} g`,
        said: {
          kind: 'additive',
          source: now.source,
          measure: { unit: 'g', amount: Number(now.grams!.toFixed(now.grams! < 5 ? 2 : 1)) },
        },
      }
    case 'draw_oil':
      if (!measure) return { name: 'Draw out', panel: 'draw_oil' }
      return { name: `Drew out ${grams(now.grams!)} ${massUnit()}`, said: { kind: 'draw_oil', measure } }
    case 'ready':
      return { name: 'Kit', panel: 'kit' }
    case 'bottle':
      return { name: 'Weigh the bottle', panel: 'by_eye' }
    case 'mull':
      return { name: 'Start the muller', said: { kind: 'mull' } }
    case 'mull_on':
      return { name: 'Pause', said: { kind: 'pause' } }
    case 'load_done':
      return { name: 'Load done', said: { kind: 'load_done', ended_by: 'minutes' } }
    case 'gather':
      return { name: 'Gathered', said: { kind: 'gather' } }
    case 'look':
    case 'rest':
      return { name: 'Look', panel: 'look' }
    case 'right':
      return { name: 'Finish', panel: 'finish' }
    default:
      return undefined
  }
})
/** As finely as the bench weighs. */
function honest(value: number): number {
  return Math.max(0.01, Number(value.toFixed(value < 1 ? 2 : 1)))
}

const struckLast = ref<{ said: Said; text: string }>()
async function act(said: Said): Promise<void> {
  struckLast.value = undefined
  const mine = opened
  await record(said)
  // What waits for the server is as safe as what it has; only a refusal keeps the entry open. One opened since stays.
  if (!refusal.value && mine === opened) panel.value = undefined
}
let opened = 0
function tapped(): void {
  if (!tap.value || sending.value || offline.value || (heldBack.value && advice.value?.act === 'powder'))
    return
  if (tap.value.said) void act(tap.value.said)
  else show(tap.value.panel!)
}
function show(which: Panel): void {
  opened++
  refusal.value = undefined
  if (which === 'powder') {
    if (heldBack.value) return
    const asked = advice.value?.act === 'powder' ? advice.value : undefined
    powderSource.value = asked?.source || powderSource.value || view.value!.pigments[0]!.source
    suggested.value = asked?.grams ?? null
  }
  if (which === 'additive') {
    const asked = advice.value?.act === 'additive' ? advice.value : undefined
    additiveSource.value = asked?.source || view.value!.additives.find((a) => a.missing_g > 0)?.source || ''
    suggested.value =
      asked?.grams ?? view.value!.additives.find((a) => a.source === additiveSource.value)?.missing_g ?? null
  }
  if (which === 'oil') suggested.value = advice.value?.act === 'pour' ? (advice.value.grams ?? null) : null
  if (which === 'draw_oil')
    suggested.value = advice.value?.act === 'draw_oil' ? (advice.value.grams ?? null) : null
  text.value = ''
  panel.value = undefined
  void nextTick(() => (panel.value = which))
}
async function strike(id: string): Promise<void> {
  const entry = view.value?.timeline.find((e) => e.id === id)
  if (await record({ kind: 'strike', strikes: id }))
    if (entry) struckLast.value = { said: again(entry), text: entry.text }
}
/** The same act as a new one, for putting back what was struck out by mistake. */
function again(entry: Schemas['TimelineEntry']): Said {
  return { kind: entry.kind, source: entry.source || undefined, measure: entry.measure as Said['measure'] }
}
function strikeLast(): void {
  const last = view.value?.timeline.findLast((e) => e.can_strike)
  if (last) void strike(last.id)
}
async function finish(
  verdict: Schemas['Verdict'],
  tubes: { tube_type_id: number; count: number }[],
  leftover_ml: number,
): Promise<void> {
  if (await record({ kind: 'finish', verdict, tubes, leftover_ml }))
    await router.push(`/batches/${props.number}`)
  else if (!refusal.value) panel.value = undefined
}
async function abandon(): Promise<void> {
  if (await record({ kind: 'abandon', text: text.value })) await router.push(`/batches/${props.number}`)
  else if (!refusal.value) panel.value = undefined
}

/** A picture goes into the same queue as every other act, so that it too waits for the server. */
const camera = ref<HTMLInputElement | null>(null)
async function photographed(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (file) await record({ kind: 'photo', text: text.value || undefined }, file)
}
const mull = () => muller.value?.toggle()

const ready = () => open.value && (!panel.value || sending.value)
useKeys(() => [
  { key: 'Enter', does: 'do what the large line says', act: tapped, when: ready },
  { key: 'd', does: 'powder in', act: () => show('powder'), when: ready },
  { key: 'p', does: 'pour oil', act: () => show('oil'), when: ready },
  { key: 'a', does: 'additive in', act: () => show('additive'), when: ready },
  { key: 'e', does: 'pour by eye', act: () => show('by_eye'), when: ready },
  { key: ' ', does: 'start or pause the muller', act: mull, when: () => ready() && atMuller.value },
  { key: 'm', does: 'start or pause the muller', act: mull, when: () => ready() && atMuller.value },
  {
    key: 'c',
    does: 'scraped together',
    act: () => void act({ kind: 'scrape' }),
    when: () => ready() && atMuller.value,
  },
  {
    key: 'g',
    does: 'loads gathered',
    act: () => void act({ kind: 'gather' }),
    when: () => ready() && atMuller.value,
  },
  { key: 'h', does: 'take a picture', act: () => camera.value?.click(), when: ready },
  { key: 'l', does: 'look: say what you see', act: () => show('look'), when: ready },
  { key: 's', does: 'sample taken out', act: () => show('sample'), when: ready },
  { key: 'n', does: 'write a note', act: () => show('note'), when: ready },
  { key: 'w', does: 'ways back', act: () => show('ways'), when: () => ready() && !!view.value?.ways.length },
  { key: 'x', does: 'strike out the last act', act: strikeLast, when: ready },
  { key: 'f', does: 'finish the batch', act: () => show('finish'), when: ready },
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
    <h1>There is no batch {{ number }}.</h1>
    <RouterLink class="underline" to="/batches">All batches</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view">
    <div class="flex flex-wrap items-center gap-x-4 pt-3 pb-2">
      <span
        class="h-10 w-16 border-4 border-[#bdbdbd]"
        :style="{ background: view.masstone_srgb }"
        aria-hidden="true"
      />
      <h1 class="min-w-[50%] flex-1">
        {{ view.name }}
        <span class="quiet text-base font-normal sm:whitespace-nowrap"
          >batch {{ number }}, in {{ view.oil.name.toLowerCase() }}</span
        >
      </h1>
      <p
        v-if="weight && !panel"
        class="leading-tight"
        :class="weight.state === 'steady' ? '' : 'quiet'"
        role="status"
        aria-label="Balance"
      >
        <span class="figure text-xl font-semibold">{{
          weight.weight_g != null ? digits(weight.weight_g, 2) : '- - -'
        }}</span>
        g<span class="small quiet block" :class="weight.weight_g == null ? 'text-stop!' : ''"
          >balance, {{ weight.state.replace('_', ' ') }}</span
        >
      </p>
      <p class="small quiet" role="status">
        <template v-if="waiting.length"
          ><strong class="text-stop"
            >{{ waiting.length }} {{ waiting.length === 1 ? 'act waits' : 'acts wait' }} for the
            server</strong
          ></template
        >
        <template v-else-if="followed">every act saved</template>
        <template v-else>{{ offline ? 'the server is away' : 'reaching the server' }}</template>
        <strong v-if="!lasting" class="block text-stop"
          >This browser keeps nothing: leave the page open.</strong
        >
      </p>
      <RouterLink class="btn btn-quiet" :to="`/batches/${number}`">Batch page</RouterLink>
    </div>

    <PhaseLine
      class="mb-3"
      :phase="view.phase"
      :open="open"
      :busy="sending"
      @back="(phase) => act({ kind: 'phase', phase })"
    />
    <NotTaken :number="number" />
    <CameLate :number="number" :late="view.late ?? []" />

    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div class="min-w-0 space-y-4">
        <!-- What to do now: one line, one tap. -->
        <KitCheck
          v-if="open && (heldBack || panel === 'kit' || (!panel && advice?.act === 'ready' && !offline))"
          :view="view"
          :busy="sending"
          @ready="act({ kind: 'ready' })"
        />
        <AmountEntry
          v-else-if="panel === 'powder'"
          :key="powderSource"
          powder
          :known="view.pigments.find((p) => p.source === powderSource)"
          :title="`Powder in: ${view.pigments.find((p) => p.source === powderSource)?.name}`"
          :suggested="suggested"
          :weight="weight"
          doing="Record"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(measure) => act({ kind: 'powder', source: powderSource, measure })"
        >
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
          :known="view.oil"
          :title="`Pour ${view.oil.name.toLowerCase()}`"
          :suggested="suggested"
          :weight="weight"
          doing="Record"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(measure) => act({ kind: 'oil', source: view!.oil.source, measure })"
        />
        <AdditiveEntry
          v-else-if="panel === 'additive'"
          v-model="additiveSource"
          :view="view"
          :suggested="suggested"
          :weight="weight"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(measure) => act({ kind: 'additive', source: additiveSource, measure })"
          @leave-out="act({ kind: 'leave_out', source: additiveSource })"
        />
        <ByEyeEntry
          v-else-if="panel === 'by_eye'"
          :view="view"
          :weight="weight"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @bottle="(grams) => record({ kind: 'bottle', bottle_g: grams })"
          @tap="record({ kind: 'by_eye', source: view!.oil.source })"
        />
        <AmountEntry
          v-else-if="panel === 'sample'"
          title="Sample taken out"
          :weight="weight"
          :only="['g', 'weigh_back']"
          doing="Record"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(measure) => act({ kind: 'sample', measure })"
        />
        <AmountEntry
          v-else-if="panel === 'draw_oil'"
          title="Oil drawn out"
          :only="['g']"
          :suggested="suggested"
          doing="Record"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(measure) => act({ kind: 'draw_oil', measure })"
        />
        <LookEntry
          v-else-if="panel === 'look'"
          :colour="view.masstone_srgb"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @record="(seen) => act({ kind: 'look', ...seen })"
        />
        <FinishEntry
          v-else-if="panel === 'finish'"
          :view="view"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @finish="finish"
        />
        <form
          v-else-if="panel === 'note' || panel === 'abandon'"
          class="border-2 border-ink bg-sheet p-4"
          @submit.prevent="panel === 'note' ? act({ kind: 'note', text }) : abandon()"
          @keydown.esc.prevent="panel = undefined"
        >
          <label
            ><span class="mb-2 block text-xl font-semibold">{{
              panel === 'note' ? 'Note' : 'Why is this batch given up?'
            }}</span
            ><textarea v-model="text" class="field py-2 text-lg" rows="2" maxlength="2000" autofocus />
          </label>
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.at('text') ?? refusal.words }}</span>
          <div class="mt-2 flex gap-3">
            <button class="btn btn-main btn-slab px-8" :disabled="sending">
              {{ panel === 'note' ? 'Record' : 'Give it up' }}</button><button
              type="button"
              class="btn btn-slab px-5"
              @click="panel = undefined"
            >
              Cancel
            </button>
          </div>
        </form>
        <section
          v-else-if="offline"
          class="border-2 border-dashed border-ink bg-sheet p-4"
          data-part="offline"
          aria-labelledby="offline"
        >
          <h2 id="offline" class="text-[1.7rem] leading-[1.1] font-semibold">
            {{ waitsFor && waitsFor !== SILENT ? waitsFor : 'The server is away.' }} Go on by hand.
          </h2>
          <p class="mt-1">
            Every act is kept in this browser and sent when the server is back. The figures below are as it
            last said them.
          </p>
          <p v-if="!keepsShell" class="mt-1 border-l-4 border-stop pl-3">
            <strong>Do not reload or close this page</strong> until the server is back: at this address the
            browser cannot keep the page itself. The acts are kept.
          </p>
          <ol v-if="waiting.length" class="mt-2" aria-label="Acts that wait">
            <li v-for="one in waiting" :key="one.act.id" class="flex gap-3">
              <span class="figure quiet">{{ hour(one.act.made_at) }}</span>{{ one.words }}
            </li>
          </ol>
          <p v-else class="quiet mt-2">Nothing waits.</p>
          <p v-if="view.dusty" class="mt-2 border-l-4 border-ink pl-3">
            <strong>Mask on</strong> until the curds are wet and no dust is left.
          </p>
        </section>
        <div v-else-if="advice" class="border-2 border-ink bg-sheet p-4" data-part="advice">
          <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
            <div class="min-w-64 flex-1">
              <p class="text-[2.1rem] leading-[1.1] font-semibold">
                {{ advice.line
                }}<template v-if="advice.grams != null"
                  >&ensp;<span class="figure whitespace-nowrap">{{
                    advice.act === 'additive' && advice.grams < 5
                      ? `${digits(advice.grams, 2)} g`
                      : `${grams(advice.grams)} ${massUnit()}`
                  }}</span></template
                >
                <template v-if="advice.act === 'mull_on'"
                  >&ensp;<span class="figure whitespace-nowrap">{{ clockSpan(left) }}</span
                  >{{ ' ' }}<span class="text-xl font-normal">to go</span></template
                >
              </p>
              <p class="mt-1">{{ advice.reason }}</p>
            </div>
            <button
              v-if="tap && open"
              type="button"
              class="btn btn-main btn-slab min-w-52 px-6 text-xl"
              :disabled="sending"
              @click="tapped"
            >
              {{ tap.name }}
            </button>
          </div>
          <p v-if="view.use_by && open" class="mt-2 border-l-4 border-stop pl-3">
            <strong>It spoils.</strong> Use by {{ day(view.use_by) }}; keep it cold and closed.
          </p>
          <p v-if="view.shortage" class="mt-2 border-l-4 border-stop pl-3">
            <strong>It will not reach.</strong> {{ view.shortage }}
          </p>
          <p v-if="view.doubt && open" class="mt-2 border-l-4 border-stop pl-3">
            <strong>Eye and figures disagree.</strong> {{ view.doubt }}
          </p>
          <p v-if="view.dusty && open" class="mt-2 border-l-4 border-ink pl-3">
            <strong>Mask on</strong> until the curds are wet and no dust is left.
          </p>
          <p v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
        </div>
        <p v-if="struckLast" class="flex items-center gap-3" role="status">
          Struck out: {{ struckLast.text }}.
          <button
            v-if="struckLast.said.measure"
            type="button"
            class="btn btn-quiet"
            @click="act(struckLast.said)"
          >
            Put it back
          </button>
        </p>
        <WaysBack
          v-if="
            open && view.ways.length && (panel === 'ways' || (!panel && advice && WAYS_ACTS.has(advice.act)))
          "
          :ways="view.ways"
          :busy="sending"
          @choose="(way) => act({ kind: 'choose_way', way })"
        />

        <MullerPanel
          v-if="atMuller"
          ref="muller"
          :view="view"
          :seconds="seconds"
          :left="left"
          :running="running"
          :scrape-due="scrapeDue"
          :refusal="refusal"
          :busy="sending"
          @act="act"
        />
        <div
          v-if="open"
          class="grid grid-cols-3 gap-1.5 sm:grid-cols-5 xl:flex xl:[&>*]:flex-auto"
          role="group"
          aria-label="Acts"
        >
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="heldBack"
            @click="show('powder')"
          >
            Powder<kbd class="keycap max-sm:hidden">d</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            @click="show('oil')"
          >
            Pour<kbd class="keycap max-sm:hidden">p</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            @click="show('by_eye')"
          >
            By eye<kbd class="keycap max-sm:hidden">e</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="!hasPowder"
            @click="show('additive')"
          >
            Additive<kbd class="keycap max-sm:hidden">a</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            @click="show('look')"
          >
            Look<kbd class="keycap max-sm:hidden">l</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            @click="show('sample')"
          >
            Sample<kbd class="keycap max-sm:hidden">s</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            @click="show('note')"
          >
            Note<kbd class="keycap max-sm:hidden">n</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="sending"
            @click="camera?.click()"
          >
            Picture<kbd class="keycap max-sm:hidden">h</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="!view.ways.length"
            @click="show('ways')"
          >
            Ways<kbd class="keycap max-sm:hidden">w</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="!view.timeline.some((e) => e.can_strike)"
            @click="strikeLast"
          >
            Strike out<kbd class="keycap max-sm:hidden">x</kbd>
          </button>
          <button
            type="button"
            class="btn btn-slab flex-col gap-0.5 px-0.5 text-base whitespace-nowrap"
            :disabled="!view.ratio"
            @click="show('finish')"
          >
            Finish<kbd class="keycap max-sm:hidden">f</kbd>
          </button>
        </div>

        <input
          ref="camera"
          type="file"
          accept="image/*"
          class="sr-only"
          tabindex="-1"
          aria-label="A picture of the paste"
          @change="photographed"
        />

        <WettingScale :scale="view.scale" :pointer="view.ratio?.value" />

        <div
          class="grid grid-cols-2 items-start gap-x-8 gap-y-4 sm:grid-cols-3"
          aria-label="In the paste now"
          role="group"
        >
          <div v-for="material in [...view.pigments, view.oil]" :key="material.source">
            <span class="small quiet block">{{ material.name }} in</span>
            <span class="figure text-3xl font-semibold">{{ grams(material.in_g) }}</span>{{ ' '
            }}<span class="quiet">{{ massUnit() }}</span>
            <span class="small quiet block"
              >plan <span class="figure">{{ grams(material.planned_g) }}</span> {{ massUnit()
              }}<template v-if="material.on_hand_g != null"
                >;
                <template v-if="material.on_hand_g > 0"
                  ><span class="figure">{{ grams(material.on_hand_g) }}</span> {{ massUnit() }}</template
                ><template v-else>none</template> left in {{ material.lot_code }}</template
              ></span
            >
          </div>
          <div v-for="one in view.additives" :key="one.source">
            <span class="small quiet block">{{ one.name }} in</span>
            <span class="figure text-3xl font-semibold">{{
              digits(one.in_g, one.planned_g < 5 ? 2 : 1)
            }}</span>{{ ' ' }}<span class="quiet">g</span>
            <span class="small quiet block"
              ><template v-if="one.left_out">left out</template
              ><template v-else-if="one.planned_g"
                >plan
                <span class="figure">{{ digits(one.planned_g, one.planned_g < 5 ? 2 : 1) }}</span> g<template
                  v-if="one.drop_g && one.missing_g"
                  >, <span class="figure">{{ digits(one.missing_g / one.drop_g, 0) }}</span> drops to
                  go</template
                ></template
              ><template v-else>not in the plan</template></span
            >
          </div>
          <FigureValue v-if="view.ratio" :figure="view.ratio" size="big" up />
          <div v-if="view.body && view.ratio">
            <span class="small quiet block">Body</span
            ><span class="text-3xl font-semibold">{{ view.body }}</span
            ><span class="small quiet block max-w-60">{{ view.body_says }}</span>
          </div>
          <div v-if="view.volume">
            <FigureValue :figure="view.volume" size="big" up /><span
              v-if="view.fills"
              class="small quiet block"
              >{{ view.fills }}</span
            >
          </div>
          <FigureValue v-if="view.reduced_pvc" :figure="view.reduced_pvc" up />
        </div>
      </div>

      <div class="space-y-4">
        <div class="flex items-end gap-2">
          <Paste :stage="stage" :colour="view.masstone_srgb" :size="150" />
          <p class="small quiet flex-1">
            {{
              view.stage
                ? `seen last: ${view.stage.replace('_', ' ')}`
                : hasPowder
                  ? 'powder, not folded in yet'
                  : 'a clean slab'
            }}
          </p>
        </div>
        <section aria-labelledby="ladder">
          <h2 id="ladder">Pour ladder</h2>
          <PourLadder :rungs="view.rungs" :poured-g="view.oil.in_g" />
        </section>
        <section aria-labelledby="log">
          <h2 id="log" class="flex items-baseline justify-between">
            Log
            <span v-if="view.timeline.length" class="small quiet font-normal"
              >last act {{ ago(view.timeline.at(-1)!.made_at, view.now) }}</span
            >
          </h2>
          <ActLog :entries="view.timeline" :number="number" @strike="strike" />
          <p v-if="view.earlier" class="hairline py-3">
            <RouterLink class="underline" :to="`/batches/${number}`"
              >{{ view.earlier }} earlier acts, on the batch page</RouterLink
            >
          </p>
        </section>
        <div class="flex flex-wrap gap-x-3">
          <button v-if="open" type="button" class="btn btn-quiet small -ml-2" @click="show('abandon')">
            Give this batch up
          </button>
          <button
            v-if="workshop?.settings.scrape_sound"
            type="button"
            class="btn btn-quiet small"
            :aria-pressed="sounds"
            @click="sounds = !sounds"
          >
            {{ sounds ? 'Sound is on here' : 'Sound is off here' }}
          </button>
        </div>
      </div>
    </div>
  </div>
</template>
