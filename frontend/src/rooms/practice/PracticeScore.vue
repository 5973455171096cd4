<script setup lang="ts">
/** What came of a practice, beside what the ladder would have done with the very same lot. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { useBegin } from './room'

const props = defineProps<{ practice: Schemas['PracticeNow']; score: Schemas['Score'] }>()
const { begin, busy, refusal } = useBegin()
type Row = { name: string; mine: string; ladder: string; unit: string; better: boolean | null }
const signed = (value: number, places: number) => `${value > 0 ? '+' : ''}${digits(value, places)}`
const rows = computed<Row[]>(() => {
  const { mine, ladder } = props.score
  const all: (Row | false)[] = [
    { name: 'Ended as', mine: mine.body, ladder: ladder.body, unit: '', better: mine.right },
    {
      name: 'Oil at the end, from the middle',
      mine: signed(mine.oil_error_pct, 0),
      ladder: signed(ladder.oil_error_pct, 0),
      unit: '%',
      better: Math.abs(mine.oil_error_pct) <= Math.abs(ladder.oil_error_pct) + 2,
    },
    {
      name: 'Went over by',
      mine: digits(mine.overshoot_g, 1),
      ladder: digits(ladder.overshoot_g, 1),
      unit: 'g of oil',
      better: mine.overshoot_g <= ladder.overshoot_g + 0.05,
    },
    {
      name: 'which is',
      mine: digits(mine.overshoot_tubes, 1),
      ladder: digits(ladder.overshoot_tubes, 1),
      unit: 'tubes nobody wanted',
      better: null,
    },
    {
      name: 'Corrections',
      mine: String(mine.corrections),
      ladder: String(ladder.corrections),
      unit: '',
      better: mine.corrections <= ladder.corrections,
    },
    props.practice.exercise === 'loads' && {
      name: 'Loads apart',
      mine: digits(mine.apart, 3),
      ladder: digits(ladder.apart, 3),
      unit: 'reduced PVC',
      better: mine.apart <= ladder.apart + 0.01,
    },
    props.practice.exercise === 'overshot' && {
      name: 'Spent',
      mine: digits(mine.spent, 2),
      ladder: digits(ladder.spent, 2),
      unit: '',
      better: mine.spent <= ladder.spent * 1.1,
    },
    {
      name: 'Minutes',
      mine: digits(mine.minutes, 0),
      ladder: digits(ladder.minutes, 0),
      unit: 'min',
      better: null,
    },
  ]
  return all.filter((row): row is Row => !!row)
})
const drops = computed(() => Math.round(100 * (props.score.drop_factor - 1)))
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-labelledby="score">
    <h2 id="score" class="text-[1.7rem] leading-tight">{{ score.lesson }}</h2>
    <table class="mt-3 w-full max-w-2xl">
      <thead class="small quiet text-left">
        <tr>
          <th class="font-normal">On this very lot</th>
          <th class="pl-4 text-right font-normal">you</th>
          <th class="pl-4 text-right font-normal">the ladder</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in rows" :key="row.name" class="hairline">
          <th class="py-1.5 text-left font-normal">{{ row.name }}</th>
          <td
            class="pl-4 text-right text-xl font-semibold whitespace-nowrap"
            :class="row.unit || /\d/.test(row.mine) ? 'figure' : ''"
          >
            <span v-if="row.better" class="font-sans text-base" title="as good as the ladder">✓ </span
            >{{ row.mine }}
          </td>
          <td class="pl-4 text-right text-xl" :class="row.unit || /\d/.test(row.ladder) ? 'figure' : ''">
            {{ row.ladder }}
          </td>
          <td class="quiet small pl-3">{{ row.unit }}</td>
        </tr>
      </tbody>
    </table>
    <p class="quiet mt-2">
      This lot takes <span class="figure">{{ digits(score.lot_g_per_100g, 0) }}</span> g of oil per 100 g at
      rub-out.<template v-if="practice.exercise === 'spoons'">
        A drop here weighs {{ Math.abs(drops) }} % {{ drops > 0 ? 'more' : 'less' }} than the list says; a
        spoon holds <span class="figure">{{ digits(100 * score.spoon_factor, 0) }}</span> % of what it
        says.</template
      >
      {{ practice.advised ? 'You had Niddy beside you.' : 'You did it without advice.' }}
    </p>
    <div class="mt-3 flex flex-wrap gap-2">
      <button
        type="button"
        class="btn btn-main btn-slab px-5"
        :disabled="busy"
        @click="begin(practice.exercise, practice.maker, { advised: practice.advised })"
      >
        Another lot
      </button>
      <button
        type="button"
        class="btn btn-slab px-5"
        :disabled="busy"
        @click="begin(practice.exercise, practice.maker, { seed: practice.seed, advised: false })"
      >
        The same paste, without advice
      </button>
      <RouterLink class="btn btn-slab px-5" to="/practice">All exercises</RouterLink>
    </div>
    <p v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</p>
  </section>
</template>
