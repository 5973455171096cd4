<script setup lang="ts">
/** Trials of finished sticks: drawn with dry, washed, blended; skin and drying; the verdict and what to change. */
import { computed, ref, watch } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { day, digits } from '@/kit/format'
import type { Said, View } from './pot'
import { VERDICTS } from './room'

const props = defineProps<{ view: View; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [said: Said]; dent: []; flaw: []; note: [] }>()
const TRIALS = [
  ['dry', 'Drawn with, dry'],
  ['solvent', 'With brush and solvent'],
  ['blender', 'With the blending stick'],
] as const
type Trial = (typeof TRIALS)[number][0]
const open = ref<Trial>()
const seen = ref<Record<string, string>>({})
watch(open, (which) => (seen.value = which ? { ...props.view.trials[which] } : {}))
const questions = computed(() => (open.value === 'dry' ? props.view.dry_questions : props.view.wet_questions))
const complete = computed(() => Object.keys(seen.value).length > 0)
function keep(): void {
  if (!open.value) return
  if (open.value === 'dry') emit('record', { kind: 'dry_trial', seen: seen.value })
  else emit('record', { kind: 'wet_trial', tool: open.value, seen: seen.value })
  open.value = undefined
}
const words = (which: Trial) => {
  const answers = props.view.trials[which]
  if (!answers) return ''
  const of = which === 'dry' ? props.view.dry_questions : props.view.wet_questions
  return of
    .filter((q) => answers[q.key])
    .map((q) => `${q.says.toLowerCase()}: ${q.choices.find((c) => c.key === answers[q.key])?.says ?? ''}`)
    .join('; ')
}
const DRYING = [
  ['skin', 'A skin overnight'],
  ['touch', 'Dry to the touch'],
  ['through', 'Hard through'],
] as const
const SAID: [Schemas['SticksVerdict'], string][] = [
  ['too_hard', 'too hard'],
  ['right', 'right'],
  ['too_soft', 'too soft'],
  ['crumbles', 'crumbles'],
]
/** A line as it was drawn, for each answer: thin and broken, even, or clogged. */
const LINES: Record<string, { width: number; dash: string }> = {
  broken: { width: 3, dash: '4 3' },
  drags: { width: 3, dash: '7 2' },
  thin: { width: 2, dash: '' },
  even: { width: 5, dash: '' },
  glides: { width: 5, dash: '' },
  clogs: { width: 11, dash: '' },
  slides: { width: 8, dash: '' },
  thick: { width: 12, dash: '' },
  opens: { width: 9, dash: '' },
  slowly: { width: 6, dash: '' },
  stays: { width: 3, dash: '' },
  blotchy: { width: 8, dash: '6 5' },
  none: { width: 4, dash: '' },
  some: { width: 4, dash: '12 3' },
  many: { width: 5, dash: '2 4' },
}
const drawn = (key: string) => LINES[key] ?? { width: 4, dash: '' }
const verdict = computed(() => props.view.verdict_said ?? props.view.verdict.verdict)
</script>

<template>
  <section aria-labelledby="trials">
    <div class="border-2 border-ink bg-sheet p-4">
      <h2 id="trials" class="text-[1.9rem] leading-[1.1] font-semibold">
        {{ verdict ? `They came out ${VERDICTS[verdict]}.` : 'Try one: draw, press, wash.' }}
      </h2>
      <p v-if="view.verdict.next_time" class="mt-1 text-lg">
        {{ view.verdict.next_time }}
        <span v-if="view.verdict.why.length" class="quiet block text-base"
          >because of {{ view.verdict.why.join('; ') }}</span
        >
      </p>
      <p v-else class="mt-1">
        A day after casting they are cold and settled through: that is when a trial counts.
      </p>
      <div class="mt-3 flex flex-wrap gap-2">
        <button
          v-for="[which, name] in TRIALS"
          :key="which"
          type="button"
          class="btn btn-slab px-5"
          :class="
            open === which ? 'bg-ink! text-white' : !view.trials[which] && which === 'dry' ? 'btn-main' : ''
          "
          :aria-pressed="open === which"
          @click="open = open === which ? undefined : which"
        >
          {{ name }}
        </button>
        <button type="button" class="btn btn-slab px-5" @click="emit('dent')">Press one</button>
        <button type="button" class="btn btn-slab px-5" @click="emit('flaw')">A flaw</button>
        <button type="button" class="btn btn-slab px-5" @click="emit('note')">A note</button>
      </div>
    </div>
    <div v-if="open" class="mt-3 border-2 border-ink bg-sheet p-4" @keydown.esc.prevent="open = undefined">
      <p v-if="open === 'solvent'" class="mb-3 border-l-4 border-stop pl-3">
        <strong>Solvent:</strong> air moving through, no flame or spark, nothing near the hot pot.
      </p>
      <div class="grid gap-4 sm:grid-cols-2">
        <div v-for="q in questions" :key="q.key" role="group" :aria-label="q.says">
          <span class="label">{{ q.says }}</span>
          <div class="grid grid-cols-3 gap-1.5">
            <button
              v-for="c in q.choices"
              :key="c.key"
              type="button"
              class="btn min-h-20 flex-col gap-0 px-1 text-[0.95rem] leading-tight"
              :class="seen[q.key] === c.key ? 'bg-act-wash! outline-3 outline-act' : ''"
              :aria-pressed="seen[q.key] === c.key"
              @click="seen = { ...seen, [q.key]: c.key }"
            >
              <svg viewBox="0 0 76 26" width="70" height="24" aria-hidden="true">
                <path
                  d="M8 17q15-10 30-2t30-3"
                  fill="none"
                  :stroke="view.masstone_srgb"
                  :stroke-width="drawn(c.key).width"
                  :stroke-dasharray="drawn(c.key).dash"
                  stroke-linecap="round"
                /></svg
              >{{ c.says }}
            </button>
          </div>
        </div>
      </div>
      <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
      <div class="mt-3 flex gap-3">
        <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy || !complete" @click="keep">
          Keep what was seen
        </button>
        <button type="button" class="btn btn-quiet" @click="open = undefined">Close</button>
      </div>
    </div>
    <div class="mt-5 grid gap-x-10 gap-y-5 sm:grid-cols-2">
      <div>
        <h3 class="mb-1 font-semibold">Seen so far</h3>
        <p v-if="!Object.keys(view.trials).length" class="quiet">Nothing yet.</p>
        <ul>
          <li
            v-for="[which, name] in TRIALS"
            v-show="view.trials[which]"
            :key="which"
            class="hairline py-1.5"
          >
            <span class="small quiet block">{{ name }}</span>{{ words(which) }}
          </li>
        </ul>
        <ul>
          <li v-for="f in view.flaws.filter((one) => one.seen)" :key="f.flaw" class="hairline py-1.5">
            <strong class="text-stop">{{ f.says }}.</strong> {{ f.cause }}
            <span class="block">Next time: {{ f.cure }}</span>
          </li>
        </ul>
      </div>
      <div>
        <h3 class="mb-1 font-semibold">Drying of what was drawn</h3>
        <ul>
          <li v-for="[what, name] in DRYING" :key="what" class="hairline flex min-h-14 items-center gap-3">
            <span class="flex-1">{{ name }}</span>
            <span v-if="view.dried[what]" class="quiet">{{ day(view.dried[what]!) }}</span>
            <button
              v-else
              type="button"
              class="btn"
              :disabled="busy"
              :aria-label="`${name}: yes, today`"
              @click="emit('record', { kind: 'dried', what })"
            >
              yes, today
            </button>
          </li>
        </ul>
        <h3 class="mt-4 mb-1 font-semibold">You say it is</h3>
        <div class="flex flex-wrap gap-1.5" role="group" aria-label="You say it is">
          <button
            v-for="[key, name] in SAID"
            :key="key"
            type="button"
            class="btn px-3"
            :class="verdict === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="verdict === key"
            :disabled="busy"
            @click="emit('record', { kind: 'verdict', verdict: key })"
          >
            {{ name }}
          </button>
        </div>
        <p v-if="view.dents.length" class="small quiet mt-2">
          Last dent <span class="figure">{{ digits(view.dents.at(-1)!.dent_dmm, 0) }}</span> of
          <span class="figure">{{ digits(view.target_dmm, 0) }}</span> wanted.
        </p>
      </div>
    </div>
  </section>
</template>
