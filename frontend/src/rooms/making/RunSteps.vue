<script setup lang="ts">
/** The steps of a run: behind, now, to come; any can be done out of order or left out, with a reason. */
import { minutes } from '@/kit/format'
import { KINDS, type Run } from './room'

defineProps<{ view: Run; busy?: boolean }>()
const emit = defineEmits<{ step: [key: string] }>()
const MARK = { done: '\u2713', skipped: '\u2013', now: '\u25b6', later: '' } as const
const WORDS = { done: 'done', skipped: 'left out', now: 'now', later: 'to come' } as const
</script>

<template>
  <section aria-labelledby="run-steps">
    <h2 id="run-steps" class="mb-1">Steps</h2>
    <ol>
      <li
        v-for="(step, n) in view.steps"
        :key="step.key"
        class="hairline flex items-center gap-2 py-1"
        :aria-current="step.state === 'now' ? 'step' : undefined"
      >
        <span class="figure quiet w-5 shrink-0 text-right">{{ n + 1 }}</span>
        <span class="w-5 shrink-0 text-center font-bold"
          ><span aria-hidden="true">{{ MARK[step.state] }}</span
          ><span class="sr-only">{{ WORDS[step.state] }}</span></span
        >
        <span class="min-w-0 flex-1 leading-tight"
          ><span :class="step.state === 'now' ? 'font-bold' : step.state === 'later' ? '' : 'quiet'">{{
            step.says
          }}</span
          ><span class="small quiet block"
            >{{ KINDS[step.kind] }}<template v-if="step.minutes">, {{ minutes(step.minutes) }}</template
            ><template v-if="step.held_min >= 1">; held {{ minutes(step.held_min) }}</template
            ><template v-if="step.running">, running</template
            ><template v-if="step.why">; because {{ step.why }}</template></span
          ></span
        >
        <button
          v-if="view.status === 'open'"
          type="button"
          class="btn btn-quiet small min-h-12 px-2"
          :disabled="busy"
          :aria-label="`${step.says}: done, or left out`"
          @click="emit('step', step.key)"
        >
          {{ step.state === 'done' || step.state === 'skipped' ? 'do again' : 'done?' }}
        </button>
      </li>
    </ol>
  </section>
</template>
