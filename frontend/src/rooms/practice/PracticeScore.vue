<script setup lang="ts">
/** What came of a practice, beside what the ladder would have done with the very same lot. */
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import { useBegin } from './room'

defineProps<{ practice: Schemas['PracticeNow']; score: Schemas['Score'] }>()
const { begin, busy, refusal } = useBegin()
function told(row: Schemas['Compared'], figure: number | null | undefined): string {
  if (figure == null) return ''
  return `${row.unit === '%' && figure > 0 ? '+' : ''}${digits(figure, row.digits)}`
}
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
        <tr v-for="row in practice.compared" :key="row.name" class="hairline">
          <th class="py-1.5 text-left font-normal">{{ row.name }}</th>
          <td
            class="pl-4 text-right text-xl font-semibold whitespace-nowrap"
            :class="row.mine_says ? '' : 'figure'"
          >
            <span v-if="row.as_good" class="font-sans text-base" title="as good as the ladder">✓ </span
            >{{ row.mine_says || told(row, row.mine) }}
          </td>
          <td class="pl-4 text-right text-xl" :class="row.ladder_says ? '' : 'figure'">
            {{ row.ladder_says || told(row, row.ladder) }}
          </td>
          <td class="quiet small pl-3">{{ row.unit }}</td>
        </tr>
      </tbody>
    </table>
    <p class="quiet mt-2">
      {{ practice.lot_says }}
      {{ practice.advised ? 'You had Niddy beside you.' : 'You did it without advice.' }}
    </p>
    <details class="mt-1">
      <summary class="btn btn-quiet -ml-3 inline-flex">How these were got</summary>
      <dl class="max-w-2xl">
        <template v-for="row in practice.compared" :key="row.name">
          <dt class="font-semibold">{{ row.name }}{{ row.unit ? `, ${row.unit}` : '' }}</dt>
          <dd class="mb-1.5">{{ row.how }}</dd>
        </template>
      </dl>
    </details>
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
