<script setup lang="ts">
/** The runs of a process: the yield of each, and in what it differed from the one before. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { day, digits } from '@/kit/format'
import { TAKES, VERDICTS } from './room'

const props = defineProps<{ yields: Schemas['Yields'] }>()
const most = computed(() =>
  Math.max(
    0.01,
    props.yields.expected_share?.high ?? 0,
    ...props.yields.runs.map((one) => one.yield_share ?? 0),
  ),
)
const whole = computed(() => (props.yields.of === 'theory' ? Math.max(1, most.value) : most.value * 1.08))
const width = (share: number | null) => `${(100 * (share ?? 0)) / whole.value}%`
const percent = (share: number) => digits(100 * share, share < 0.2 ? 1 : 0)
</script>

<template>
  <section aria-labelledby="yields">
    <h2 id="yields" class="text-lg">Runs and what they came to</h2>
    <p class="small quiet mb-1">
      % of {{ yields.of
      }}<template v-if="yields.expected_share && yields.runs.length"
        >; the next may come to {{ percent(yields.expected_share.low) }} to
        {{ percent(yields.expected_share.high) }}, the band behind the bars</template
      >
    </p>
    <p v-if="!yields.runs.length" class="quiet">No run yet.</p>
    <ol>
      <li v-for="run in yields.runs" :key="run.number" class="hairline py-1.5">
        <RouterLink
          class="flex flex-wrap items-center gap-x-3 hover:bg-sheet"
          :to="`/making/runs/${run.number}`"
        >
          <span class="w-32 shrink-0 leading-tight"
            ><strong class="underline underline-offset-4">run {{ run.number }}</strong
            ><span class="small quiet block">{{ day(run.started_at) }}, v{{ run.version }}</span></span
          >
          <span class="relative h-9 min-w-40 flex-1 border border-rule bg-white" aria-hidden="true">
            <span
              v-if="yields.expected_share"
              class="absolute inset-y-0 bg-[#e2e2e2]"
              :style="{
                left: width(yields.expected_share.low),
                width: width(yields.expected_share.high - yields.expected_share.low),
              }"
            />
            <span class="absolute inset-y-1.5 left-0 bg-act" :style="{ width: width(run.yield_share) }" />
          </span>
          <span class="figure w-20 shrink-0 text-right text-lg font-semibold">{{
            run.yield_share != null ? `${percent(run.yield_share)} %` : ''
          }}</span>
        </RouterLink>
        <p class="small leading-snug sm:pl-[8.75rem]">
          <span v-if="run.status !== 'finished'" class="font-semibold"
            >{{ run.status === 'open' ? 'going on' : 'given up' }}{{ run.takes ? ';' : '' }}
          </span>
          <span v-if="run.takes" :class="run.takes === 'well' ? '' : 'font-semibold text-stop'"
            >{{ TAKES[run.takes] }} </span><span v-if="run.light"
            >{{ run.takes ? '; ' : '' }}{{ VERDICTS[run.light] }} in the light</span
          >
          <span v-if="run.changed" class="block">changed: {{ run.changed }}</span>
          <span v-if="run.differs.length" class="quiet block"
            >against the one before:
            <template v-for="(one, n) in run.differs" :key="one.what"
              ><template v-if="n">; </template>{{ one.what }} {{ one.before }} → {{ one.now }}</template
            ></span
          >
          <span v-if="run.suspects.length" class="block text-stop"
            >of a lot under suspicion: {{ run.suspects.join(', ') }}</span
          >
        </p>
      </li>
    </ol>
  </section>
</template>
