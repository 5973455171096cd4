<script setup lang="ts">
import { computed, nextTick, ref, toRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { useKeys } from '@/kit/keys'
import WettingScale from '@/kit/WettingScale.vue'
import SlabHead from './SlabHead.vue'
import OpenPanel from './OpenPanel.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import AdviceBox from './AdviceBox.vue'
import ActBar from './ActBar.vue'
import InPaste from './InPaste.vue'
import SlabSide from './SlabSide.vue'
import { begunOf, type Panel, tapFor } from './tap'
import { type Said, type SlabRoom, useSlab } from './acts'
import NotTaken from '@/kit/log/NotTaken.vue'
import CameLate from './CameLate.vue'
import KitCheck from './KitCheck.vue'
import MullerPanel from './MullerPanel.vue'
import PhaseLine from './PhaseLine.vue'
import { useStay } from '@/kit/log/stay'
import TakePicture from '@/kit/log/TakePicture.vue'
import { useStrikes } from './strikes'
import { useMullerClock, useSounds } from './timer'
import ToldAfterwards from './ToldAfterwards.vue'
import { useMediaQuery } from '@vueuse/core'
import PracticeScore from '@/rooms/practice/PracticeScore.vue'
import { usePracticeSlab } from '@/rooms/practice/slab'
import UnderKnife from '@/rooms/practice/UnderKnife.vue'
import WaysBack from './WaysBack.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = withDefaults(defineProps<{ number: number; room?: SlabRoom }>(), { room: 'slab' })
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
  weight: onBalance,
  ahead,
  refresh,
} = useSlab(toRef(props, 'number'), props.room)
const { data: workshop } = useWorkshop()
const {
  practice,
  balance: practiceBalance,
  weight,
  seenAnew,
  over,
  throwItAway,
} = usePracticeSlab(props.room, props.number, view, onBalance)

const panel = ref<Panel>()
const powderSource = ref('')
const additiveSource = ref('')
const suggested = ref<number | null>(null)
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)

const work = ref<HTMLElement | null>(null)
const open = computed(() => view.value?.status === 'open')
provideWho(
  'slab',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
const heldBack = computed(
  () => (view.value?.must_be_ready ?? false) && !waiting.value.some((w) => w.act.kind === 'ready'),
)
const hasPowder = computed(() => view.value?.pigments.some((p) => p.in_g > 0) ?? false)
const advice = computed(() => view.value?.advice)

const wide = useMediaQuery('(min-width: 1024px)')
const sounds = useSounds()
const scrapeEvery = computed(() => workshop.value?.settings.scrape_interval_min ?? 0)
/** In practice the clock runs too fast for a sound at every scrape. */
const audible = computed(
  () => props.room === 'slab' && sounds.value && (workshop.value?.settings.scrape_sound ?? false),
)
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

useStay(
  computed(() => view.value?.status),
  offline,
)

const tap = computed(() => view.value && tapFor(view.value, weight.value?.weight_g != null, left.value))

const { struckLast, strike, undo } = useStrikes(view, record)
async function act(said: Said): Promise<void> {
  const mine = opened
  await record(said)
  // What waits for the server is as safe as what it has; only a refusal keeps the entry open. One opened since stays.
  if (!refusal.value && mine === opened) panel.value = undefined
}
/** Looks made before an entry was missed say nothing: set aside, and the entry asked for. */
const missed = () => act({ kind: 'answer', answer: 'missed' }).then(() => show('oil'))
let opened = 0
function tapped(): void {
  if (!tap.value || sending.value || offline.value || (heldBack.value && advice.value?.act === 'powder'))
    return
  if (tap.value.said) void act(tap.value.said)
  else show(tap.value.panel!)
}
function show(which: Panel): void {
  if (practice.value && which === 'finish') return void finishPractice()
  if (practice.value && which === 'abandon') return void throwItAway()
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
  panel.value = undefined
  void nextTick(() => {
    panel.value = which
    // It opens where the eye is, however far the page was scrolled.
    void nextTick(() => work.value?.scrollIntoView({ block: 'start' }))
  })
}
/** Practice ends with one tap, where one stands; its score says how it came out. */
async function finishPractice(): Promise<void> {
  await act({ kind: 'finish', verdict: 'right' })
  over()
}
async function finish(
  verdict: Schemas['Verdict'],
  tubes: { tube_type_id: number; count: number }[],
  goes: Schemas['Goes'][],
): Promise<void> {
  if (await record({ kind: 'finish', verdict, tubes, goes })) {
    await router.push({ path: `/batches/${props.number}`, query: { made: '1' } })
  } else if (!refusal.value) panel.value = undefined
}
async function abandon(text: string): Promise<void> {
  if (await record({ kind: 'abandon', text })) await router.push(`/batches/${props.number}`)
  else if (!refusal.value) panel.value = undefined
}

const camera = ref<InstanceType<typeof TakePicture> | null>(null)
const mull = () => muller.value?.toggle()
const loadDone = () => act({ kind: 'load_done', ended_by: left.value <= 0 ? 'minutes' : 'silence' })

/** From the batch page one comes to say how much oil went in by eye. */
const route = useRoute()
watch(
  () => route.query.tell && view.value?.can_tell,
  (asked) => asked && show('came_out'),
  { immediate: true },
)

const ready = () => open.value && (!panel.value || sending.value)
/** What only a real batch has: additives, oil by eye, samples, pictures. */
const real = () => ready() && !practice.value
const mulling = () => ready() && atMuller.value
const begun = computed(() => !!view.value && begunOf(view.value))
useKeys(() => [
  { key: 'Enter', does: 'do what the large line says', act: tapped, when: ready },
  { key: 'd', does: 'powder in', act: () => show('powder'), when: ready },
  { key: 'p', does: 'pour oil', act: () => show('oil'), when: ready },
  { key: 'a', does: 'additive in', act: () => show('additive'), when: real },
  { key: 'e', does: 'pour by eye', act: () => show('by_eye'), when: real },
  { key: ' ', does: 'start or pause the muller', act: mull, when: mulling },
  { key: 'm', does: 'start or pause the muller', act: mull, when: mulling },
  { key: 'c', does: 'scraped together', act: () => void act({ kind: 'scrape' }), when: mulling },
  { key: 'o', does: 'this load is done', act: loadDone, when: () => mulling() && begun.value },
  {
    key: 'k',
    does: 'how much oil came out',
    act: () => show('came_out'),
    when: () => !panel.value && !!view.value?.can_tell,
  },
  { key: 'g', does: 'loads gathered', act: () => void act({ kind: 'gather' }), when: mulling },
  { key: 'h', does: 'take a picture', act: () => camera.value?.open(), when: real },
  { key: 'l', does: 'look: say what you see', act: () => show('look'), when: ready },
  { key: 's', does: 'sample taken out', act: () => show('sample'), when: real },
  { key: 'n', does: 'write a note', act: () => show('note'), when: ready },
  { key: 'w', does: 'ways back', act: () => show('ways'), when: () => ready() && !!view.value?.ways.length },
  { key: 'x', does: 'undo the last act', act: undo, when: ready },
  {
    key: 'f',
    does: 'finish the batch',
    act: () => show('finish'),
    when: () => ready() && view.value!.can_finish,
  },
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
    <template v-if="room === 'practice'">
      <h1>There is no such practice.</h1>
      <RouterLink class="underline" to="/practice">All exercises</RouterLink>
    </template>
    <template v-else>
      <h1>There is no batch {{ number }}.</h1>
      <RouterLink class="underline" to="/batches">All batches</RouterLink>
    </template>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="max-lg:pb-48">
    <SlabHead
      :view="view"
      :weight="panel ? undefined : weight"
      :waits="waiting.length"
      :followed="followed"
      :offline="offline"
      :lasting="lasting"
    />

    <PhaseLine
      class="mb-3"
      :phase="view.phase"
      :open="open"
      :busy="sending"
      @back="(phase) => act({ kind: 'phase', phase })"
    />
    <NotTaken :log="{ room, number }" />
    <CameLate v-if="!practice" :number="number" :late="view.late ?? []" />

    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div ref="work" class="min-w-0 scroll-mt-2 space-y-4">
        <PracticeScore v-if="practice?.score" :practice="practice" :score="practice.score" />
        <UnderKnife
          v-if="practice && (open || practice.score)"
          :view="view"
          :practice="practice"
          :running="running"
          :left-seconds="left"
          :covered="!!panel"
          @seen="seenAnew"
        />
        <!-- What to do now: one line, one tap. -->
        <KitCheck
          v-if="open && (heldBack || panel === 'kit' || (!panel && advice?.act === 'ready' && !offline))"
          :view="view"
          :busy="sending"
          @ready="act({ kind: 'ready' })"
          @looked="refresh"
        />
        <OpenPanel
          v-else-if="panel && panel !== 'ways' && panel !== 'kit'"
          v-model:powder-source="powderSource"
          v-model:additive-source="additiveSource"
          :panel="panel"
          :view="view"
          :weight="weight"
          :suggested="suggested"
          :practice-balance="practiceBalance"
          :refusal="refusal"
          :busy="sending"
          @close="panel = undefined"
          @act="act"
          @record="record"
          @show="show"
          @narrowed="refresh"
          @finish="finish"
          @abandon="abandon"
        />
        <OfflineBox v-else-if="offline" :waiting="waiting" :waits-for="waitsFor"
          ><p v-if="view.dusty" class="mt-2 border-l-4 border-ink pl-3">
            <strong>Mask on</strong> until the curds are wet and no dust is left.
          </p></OfflineBox
        >
        <AdviceBox
          v-else-if="advice && !(practice && !open)"
          :view="view"
          :tap="open ? tap?.name : undefined"
          :left="left"
          :refusal="refusal"
          :busy="sending"
          @tapped="tapped"
          @amend="(id, measure) => act({ kind: 'amend', amends: id, measure })"
          @answer="(answer, about) => act({ kind: 'answer', answer, about })"
          @missed="missed"
        />
        <p v-if="struckLast" class="mt-2 flex flex-wrap items-center gap-x-3" role="status">
          Undone: {{ struckLast.text.replace('undone: ', '') }}.
          <button type="button" class="btn" @click="strike(struckLast.id)">Put it back</button>
        </p>
        <WaysBack
          v-if="open && view.ways.length && (panel === 'ways' || (!panel && view.standing === 'wetter'))"
          :ways="view.ways"
          :chosen="view.advice.act === 'too_loose' ? null : view.way"
          :busy="sending"
          @choose="(way) => act({ kind: 'choose_way', way })"
        />

        <ActBar
          v-if="open"
          :view="view"
          :tap="offline ? undefined : tap"
          :held-back="heldBack"
          :has-powder="hasPowder"
          :at-muller="atMuller"
          :running="running"
          :practice="!!practice"
          :covered="!!panel || heldBack"
          :busy="sending"
          @show="show"
          @undo="undo"
          @tapped="tapped"
          @mull="mull"
          @done="loadDone"
          @picture="camera?.open()"
        />
        <ToldAfterwards
          v-if="!open && view.can_tell && !panel && !practice"
          :view="view"
          @tell="show('came_out')"
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

        <TakePicture
          ref="camera"
          label="A picture of the paste"
          @picture="(file) => record({ kind: 'photo' }, file)"
        />

        <details
          v-if="!practice || practice.advised || !open"
          class="border-b border-line"
          :open="wide && !practice"
        >
          <summary class="min-h-12 py-3 font-semibold" :class="practice ? '' : 'lg:hidden'">
            Where it stands, and what is in it
          </summary>
          <WettingScale :scale="view.scale" :pointer="view.ratio?.value" />
          <InPaste class="mt-4" :view="view" />
        </details>
      </div>

      <SlabSide :view="view" :has-powder="hasPowder" @strike="strike" />
    </div>
  </div>
</template>
