<script setup lang="ts">
/** The muller: its clock, the loads drawn on a plan of the slab, and what ends a load. */
import { computed, nextTick, ref, watch } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import type { Said } from './acts'
import { begunOf, startWords, toolOf } from './tap'
import { clockSpan } from './timer'
import Term from '@/kit/Term.vue'

const props = defineProps<{
  view: Schemas['SlabView']
  seconds: number
  left: number
  running: boolean
  scrapeDue: boolean
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ act: [said: Said] }>()
const mulling = computed(() => props.view.mulling)
const loads = computed(() => mulling.value.loads)
const current = computed(() => loads.value[mulling.value.load - 1]!)
const begun = computed(() => begunOf(props.view))
const fineness = ref<number | null>(null)
const asking = ref<'fineness' | 'minutes'>()
const reallyMin = ref<number | null>(null)

/** Heaps wait along the left edge of the slab, done ones lie along the right, the one being mulled is spread. */
const drawn = computed(() => {
  const waiting = loads.value.filter(
    (l) => l.state === 'to_come' || (l.state === 'waiting' && l.place !== mulling.value.load),
  )
  const done = loads.value.filter((l) => l.state === 'done')
  const size = (volume: number) => Math.min(15, 5 + Math.cbrt(volume) * 2.6)
  const stack = (some: typeof waiting, x: number) => {
    const rows = Math.min(6, some.length)
    return some.map((load, n) => {
      const column = Math.floor(n / 6)
      return {
        load,
        x: x === 0 ? 24 + column * 30 : 276 - column * 30,
        y: 24 + (n % 6) * (152 / Math.max(rows, 4)),
        r: size(load.volume_ml),
      }
    })
  }
  return { waiting: stack(waiting, 0), done: stack(done, 1) }
})
const share = computed(() => Math.min(1, props.seconds / 60 / (mulling.value.need_minutes || 1)))
const said = computed(() =>
  loads.value
    .map((l) => `load ${l.place}: ${l.state.replace('_', ' ')}, ${digits(l.minutes, 1)} min`)
    .join('; '),
)
/** What opens has the focus, so that Escape closes it. */
const field = ref<InstanceType<typeof NumberField> | null>(null)
watch(asking, (now) => now && void nextTick(() => field.value?.focus()))
function toggle(): void {
  if (props.running && mulling.value.long_spell) asking.value = 'minutes'
  else emit('act', { kind: props.running ? 'pause' : 'mull' })
}
function read(): void {
  if (fineness.value == null) return
  emit('act', { kind: 'fineness', fineness_um: fineness.value })
  fineness.value = null
  asking.value = undefined
}
function paused(): void {
  if (reallyMin.value == null) return
  emit('act', { kind: 'pause', minutes: reallyMin.value })
  reallyMin.value = null
  asking.value = undefined
}
defineExpose({ toggle })
</script>

<template>
  <section
    class="grid items-center gap-x-6 gap-y-3 border border-rule bg-sheet p-3 sm:grid-cols-[15rem_1fr]"
    aria-labelledby="muller"
  >
    <svg
      viewBox="0 0 300 200"
      class="w-full max-w-72 justify-self-center"
      role="img"
      :aria-label="`Plan of the slab. ${said}`"
    >
      <rect x="2" y="2" width="296" height="196" fill="#fff" stroke="#171717" stroke-width="2.5" />
      <g v-for="at in drawn.waiting" :key="at.load.place">
        <circle :cx="at.x" :cy="at.y" :r="at.r" :fill="view.masstone_srgb" />
        <text :x="at.x + at.r + 4" :y="at.y + 5" font-size="14" fill="#565656">{{ at.load.place }}</text>
      </g>
      <g v-if="begun">
        <ellipse cx="150" cy="100" :rx="26 + 56 * share" :ry="24 + 44 * share" :fill="view.masstone_srgb" />
        <path
          v-if="running"
          d="M118 88a34 22 0 1 1 2 26"
          fill="none"
          stroke="#fff"
          stroke-width="3"
          stroke-opacity=".8"
          marker-end="url(#turn)"
        />
        <circle cx="150" cy="100" r="22" fill="#fff" fill-opacity=".92" stroke="#171717" stroke-width="2" />
        <text x="150" y="107" text-anchor="middle" font-size="20" font-weight="650">{{ mulling.load }}</text>
      </g>
      <text
        v-else-if="loads.length === 1 || !drawn.waiting.length"
        x="150"
        y="106"
        text-anchor="middle"
        font-size="15"
        fill="#565656"
      >
        {{ mulling.gathered ? 'gathered' : mulling.all_done ? 'all worked out' : 'nothing on it yet' }}
      </text>
      <g v-for="at in drawn.done" :key="at.load.place">
        <circle
          :cx="at.x"
          :cy="at.y"
          :r="at.r"
          :fill="view.masstone_srgb"
          stroke="#171717"
          stroke-width="2.5"
        />
        <path :d="`M${at.x - 5} ${at.y}l4 5 7-9`" fill="none" stroke="#fff" stroke-width="2.500" />
        <text :x="at.x - at.r - 5" :y="at.y + 5" text-anchor="end" font-size="14" fill="#565656">
          {{ at.load.place }}
        </text>
      </g>
      <defs>
        <marker id="turn" viewBox="0 0 6 6" refX="3" refY="3" markerWidth="4" markerHeight="4" orient="auto">
          <path d="M0 0l6 3-6 3z" fill="#fff" />
        </marker>
      </defs>
    </svg>
    <div class="min-w-0">
      <h2 id="muller" class="text-base">
        <Term of="load">{{ loads.length > 1 ? `Load ${mulling.load} of ${loads.length}` : 'One load' }}</Term>
        <span class="quiet font-normal"
          >{{ digits(current.volume_ml, 1) }} ml{{ mulling.due === 'rework' ? '; working oil in' : ''
          }}{{ mulling.round > 1 ? `; round ${mulling.round}` : '' }}</span
        >
      </h2>
      <div class="flex flex-wrap items-end gap-x-5">
        <p class="figure text-6xl leading-none font-semibold" role="timer" aria-label="Mulled">
          {{ clockSpan(seconds) }}
        </p>
        <p class="leading-tight">
          <strong v-if="mulling.all_done">all worked out</strong>
          <template v-else-if="left > 0"
            ><span class="figure text-xl">{{ clockSpan(left) }}</span> to go of
            <span class="figure">{{ clockSpan(60 * mulling.need_minutes) }}</span></template
          >
          <strong v-else-if="begun">its minutes are up</strong>
          <template v-else>nothing to go</template>
          <span class="small quiet block">
            {{ mulling.due === 'rework' ? 'to work new oil in' : 'to disperse the powder' }}, assumed<template
              v-if="view.last_minutes_per_load"
              >; last right batch <span class="figure">{{ digits(view.last_minutes_per_load, 0) }}</span> min
              a load</template
            >
          </span>
        </p>
      </div>
      <p v-if="scrapeDue" class="mt-1 border-l-4 border-ink pl-3 font-semibold" role="status">
        Scrape slab and muller together.
      </p>
      <details v-if="begun || loads.length > 1" class="mt-1 small">
        <summary class="min-h-8 py-1 underline decoration-1 underline-offset-4">
          {{
            view.tool === 'knife'
              ? 'Why so many loads?'
              : `It sticks? ${loads.length > 1 ? 'Why so many loads?' : ''}`
          }}
        </summary>
        <p v-if="view.tool !== 'knife'">
          A {{ toolOf(view) }} that sticks: rock it, slide it to the edge and over it, or lever it with a
          knife under the rim. Never pull it straight up.
        </p>
        <p v-if="loads.length > 1">
          A load is a thin film on what the slab offers: more at once, and the {{ toolOf(view) }} only rides
          on it. A larger slab takes larger loads.
        </p>
      </details>
      <p v-if="mulling.clock_back" class="mt-1 border-l-4 border-stop pl-3 small">
        A clock ran backwards during
        {{ mulling.clock_back === 1 ? 'a spell' : `${mulling.clock_back} spells` }}: those minutes do not
        count. Strike the pause out and type them if you know them.
      </p>
      <form
        v-if="asking === 'minutes'"
        class="mt-2 flex flex-wrap items-end gap-2"
        @submit.prevent="paused"
        @keydown.esc.prevent="asking = undefined"
      >
        <NumberField
          ref="field"
          v-model="reallyMin"
          class="w-44"
          label="The clock ran long. Really mulled"
          unit="min"
          :refusal="refusal?.at('minutes')"
          @enter="paused"
        />
        <button class="btn btn-slab px-5" :disabled="busy">Pause</button>
        <button
          type="button"
          class="btn btn-quiet"
          @click="((asking = undefined), emit('act', { kind: 'pause' }))"
        >
          the clock is right
        </button>
        <button type="button" class="btn btn-slab px-5" @click="asking = undefined">Cancel</button>
      </form>
      <form
        v-else-if="asking === 'fineness'"
        class="mt-2 flex flex-wrap items-end gap-2"
        @submit.prevent="read"
        @keydown.esc.prevent="asking = undefined"
      >
        <NumberField
          ref="field"
          v-model="fineness"
          class="w-44"
          label="Gauge reads"
          unit="µm"
          :refusal="refusal?.at('fineness_um')"
          @enter="read"
        />
        <button class="btn btn-slab px-5" :disabled="busy">Record</button>
        <button type="button" class="btn btn-slab px-5" @click="asking = undefined">Cancel</button>
        <p v-if="view.target_fineness_um" class="small quiet">
          a load ends at {{ view.target_fineness_um }} µm or less
        </p>
      </form>
      <div
        v-else
        class="mt-2 grid grid-cols-3 gap-1.5 sm:grid-cols-5"
        role="group"
        aria-label="At the muller"
      >
        <button
          type="button"
          class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
          :disabled="busy || (view.dusty && !running)"
          @click="toggle"
        >
          {{ running ? 'Pause' : startWords(view).replace(` the ${toolOf(view)}`, '')
          }}<kbd class="keycap max-sm:hidden">space</kbd>
        </button>
        <button
          type="button"
          class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
          :disabled="busy || !begun"
          @click="emit('act', { kind: 'scrape' })"
        >
          Scraped<kbd class="keycap max-sm:hidden">c</kbd>
        </button>
        <button
          type="button"
          class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
          :disabled="busy || !begun"
          @click="asking = 'fineness'"
        >
          Gauge<span class="small quiet font-normal max-sm:hidden">fineness</span>
        </button>
        <button
          type="button"
          class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
          :disabled="busy || !begun"
          @click="emit('act', { kind: 'load_done', ended_by: left <= 0 ? 'minutes' : 'silence' })"
        >
          Load done<span class="small quiet font-normal max-sm:hidden">{{
            left <= 0 ? 'by minutes' : 'by silence'
          }}</span>
        </button>
        <button
          v-if="loads.length > 1"
          type="button"
          class="btn btn-slab flex-col gap-0.5 px-0.5 text-base"
          :disabled="busy || !mulling.loads.some((l) => l.state === 'done')"
          @click="emit('act', { kind: 'gather' })"
        >
          Gather<kbd class="keycap max-sm:hidden">g</kbd>
        </button>
      </div>
    </div>
  </section>
</template>
