<script setup lang="ts">
/** A chart: every square as predicted, beside as painted where it was read; print it, read it back, learn from it. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { Refused } from '@/api/client'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import NotTaken from '@/kit/log/NotTaken.vue'
import { ends, provideWho } from '@/kit/log/who'
import WhoDid from '@/kit/log/WhoDid.vue'
import { usePaper } from '@/kit/paper'
import CellPanel from './CellPanel.vue'
import ChartGrid from './ChartGrid.vue'
import FilmPanel from './FilmPanel.vue'
import ReadBack from './ReadBack.vue'
import MixingBeware from './MixingBeware.vue'
import { CHARTS, dE, nameOf, PARTS_BY, useChart, type ChartSaid } from './room'
import Term from '@/kit/Term.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { view, error, record, refusal, waiting, waitsFor, sending, offline } = useChart(toRef(props, 'number'))
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
provideWho(
  'charts',
  () => view.value?.number,
  () => ends(view.value?.done),
)
const chosen = ref<string>()
/** A few words to the chart: the light, the paper, what went wrong. */
const noting = ref(false)
const note = ref('')
async function keepNote(): Promise<void> {
  if (await say({ kind: 'note', text: note.value })) {
    noting.value = false
    note.value = ''
  }
}
const cell = computed(() => view.value?.cells.find((one) => one.code === chosen.value))
const film = computed(() => view.value?.films.find((one) => one.code === chosen.value))
const thinToSee = computed(() => view.value?.films.filter((one) => !one.hides).length)
const reading = ref(false)
const paper = usePaper()
async function say(said: ChartSaid): Promise<boolean> {
  const done = await record(said)
  void queries.invalidateQueries({ queryKey: ['mixing'] })
  return done
}
const accuracy = computed(() => view.value?.accuracy)
const last = computed(() => view.value?.done.find((one) => !one.struck))
/** Squares that would gain most from a spectrum: those of strong colours read by three figures. */
const spectra = computed(() => (view.value?.paints ?? []).filter((paint) => paint.spectrum_helps))
const order = computed(() => view.value?.cells.map((one) => one.code) ?? [])
function step(by: number): void {
  const at = order.value.indexOf(chosen.value ?? '')
  chosen.value = order.value[(at + by + order.value.length) % order.value.length]
}
useKeys(() => [
  { key: 'r', does: 'read it back', act: () => (reading.value = !reading.value) },
  { key: 'ArrowRight', does: 'the next square', act: () => step(1), when: () => !!chosen.value },
  { key: 'ArrowLeft', does: 'the square before', act: () => step(-1), when: () => !!chosen.value },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => ((chosen.value = undefined), (reading.value = false)),
    when: () => !!chosen.value || reading.value,
  },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no chart {{ number }}.</h1>
    <RouterLink class="underline" to="/mixing">All charts</RouterLink>
  </section>
  <p v-else-if="error && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="pt-4">
    <div class="mb-3 flex flex-wrap items-center gap-3">
      <h1 class="min-w-60 flex-1">
        {{ view.name
        }}<span class="quiet block text-base font-normal"
          >chart {{ view.number }}, {{ day(view.started_at) }};
          {{ view.cells.length - view.unread.length }} of {{ view.cells.length }} squares read<template
            v-if="thinToSee"
            >; {{ thinToSee }} thin to judge</template
          ></span
        >
      </h1>
      <a
        class="btn btn-slab px-6"
        :href="`/api/mixing/charts/${number}/sheet.pdf?paper=${paper}`"
        target="_blank"
        >Print the sheet</a
      >
      <button
        type="button"
        class="btn btn-slab px-6"
        :class="view.unread.length ? 'btn-main' : ''"
        :aria-expanded="reading"
        @click="reading = !reading"
      >
        Read it back
      </button>
    </div>
    <OfflineBox v-if="offline" class="mb-4" :waiting="waiting" :waits-for="waitsFor" />
    <NotTaken class="mb-4" :log="{ room: CHARTS, number }" />
    <ReadBack v-if="reading" class="mb-5" :chart="view" :say="say" :busy="sending" @close="reading = false" />
    <p v-if="refusal && !cell" class="refusal mb-3" role="alert">{{ refusal.words }}</p>
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_21rem]">
      <div class="min-w-0">
        <ChartGrid
          :chart="view"
          :chosen="chosen"
          @choose="(code) => (chosen = chosen === code ? undefined : code)"
        />
        <p class="small quiet mt-2">
          Left of each square as predicted, right as painted. A dot: you have that paint. Row’s paint
          <span class="figure">{{ view.layout.row_parts }}</span> to column’s
          <span class="figure">{{ view.layout.column_parts }}</span>, {{ PARTS_BY[view.layout.by]
          }}<template v-if="view.white">; white: {{ view.white.name }}</template
          >.<template v-if="view.heavy_assumed.length">
            Density assumed: {{ view.heavy_assumed.join(', ') }}.</template
          >
          Numbers are <Term of="colour difference">ΔE00</Term> between the two, D50 and the 2° observer; with
          ± how far a square nobody read may be off, nine times in ten.
        </p>
      </div>
      <div class="space-y-5">
        <CellPanel
          v-if="cell"
          :key="cell.code"
          :chart="view"
          :cell="cell"
          :say="say"
          :refusal="refusal"
          :busy="sending"
          @close="chosen = undefined"
          @step="step"
        />
        <FilmPanel
          v-if="film"
          :key="film.code"
          :film="film"
          :paint="view.paints[film.row]!"
          :say="say"
          :busy="sending"
          @close="chosen = undefined"
        />
        <section v-if="accuracy" class="border-l-4 border-act pl-4" aria-labelledby="right">
          <h2 id="right" class="mb-1 text-lg">How right it is</h2>
          <p class="leading-snug">
            Half of <span class="figure">{{ accuracy.squares }}</span> painted squares lie within
            <span class="figure text-2xl font-semibold">{{ dE(accuracy.after) }}</span> ΔE00.
          </p>
          <p class="small quiet mt-1">
            By the readings alone <span class="figure">{{ dE(accuracy.before) }}</span><template
              v-if="accuracy.held_out != null"
              >; squares it did not learn from
              <span class="figure">{{ dE(accuracy.held_out) }}</span></template
            >. Within what was said of each: <span class="figure">{{ accuracy.within }}</span> of
            <span class="figure">{{ accuracy.squares }}</span>.
          </p>
        </section>
        <section v-else class="border-l-4 border-rule pl-4">
          <h2 class="mb-1 text-lg">Next</h2>
          <p>
            Print the sheet, fill every square to its edge, and read it back: with a reader, from its file,
            from one photograph with a grey card, or by eye: tap a square.
          </p>
        </section>
        <section v-if="spectra.length">
          <h2 class="mb-1">Spectra would help</h2>
          <p class="small">
            {{ spectra.map((paint) => nameOf(paint)).join(', ') }}: strong colours known by three figures, the
            least sure on this chart.
          </p>
        </section>
        <MixingBeware :beware="view.beware" />
        <section aria-labelledby="done">
          <h2 id="done" class="mb-1">Done</h2>
          <ul class="small">
            <li v-for="one in view.done" :key="one.id" class="hairline flex items-center gap-2 py-1.5">
              <span class="flex-1" :class="one.struck ? 'quiet line-through' : ''"
                >{{ one.says }}<span class="quiet">, {{ day(one.made_at) }}</span></span
              >
              <WhoDid :id="one.id" />
              <button
                v-if="last?.id === one.id"
                type="button"
                class="btn btn-quiet"
                :disabled="sending"
                @click="say({ kind: 'strike', strikes: one.id })"
              >
                take back
              </button>
            </li>
          </ul>
          <button v-if="!noting" type="button" class="btn btn-quiet -ml-2" @click="noting = true">
            Note
          </button>
          <form v-else class="mt-1 flex gap-2" @submit.prevent="keepNote">
            <input v-model="note" class="field flex-1" maxlength="2000" aria-label="A note to the chart" />
            <button class="btn" :disabled="sending">Keep</button>
          </form>
        </section>
        <p v-if="accuracy" class="small">
          <a class="underline" :href="`/api/mixing/charts/${number}/squares.txt`" download
            >The squares as a file</a
          ><span class="quiet">, CGATS.17 text, {{ digits(accuracy.squares, 0) }} samples</span>
        </p>
        <p><RouterLink class="btn btn-quiet -ml-2" to="/mixing">All of Colour</RouterLink></p>
      </div>
    </div>
  </div>
</template>
