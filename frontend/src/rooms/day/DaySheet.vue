<script setup lang="ts">
/** The day on one sheet of paper; seen only when printed. */
import { digits } from '@/kit/format'
import { clockOf, dateSaid, type Day } from './room'

defineProps<{ day: Day; studio: string }>()
</script>

<template>
  <article class="hidden print:block" aria-label="Day for printing">
    <h1 class="text-2xl">{{ dateSaid(day.on_date) }}</h1>
    <p>
      {{ studio ? `${studio}; ` : '' }}{{ clockOf(day.start_min) }} to {{ clockOf(day.end_min) }};
      {{ digits(day.cleaning.value, 0) }} min of cleaning; {{ day.says }}
    </p>
    <table class="my-3 w-full border-collapse text-left">
      <tbody>
        <tr v-for="line in day.lines" :key="line.key" class="border-t border-ink align-top">
          <td class="py-1.5 pr-3 text-xl">&#9633;</td>
          <td class="figure py-1.5 pr-4 text-xl whitespace-nowrap">{{ clockOf(line.start_min ?? 0) }}</td>
          <th class="py-1.5 font-semibold">
            <span class="font-normal">{{ line.what }}</span> {{ line.name }}
            <span class="block text-sm font-normal">
              {{ line.says
              }}<template v-if="line.hazard">
                Hazardous: its own cloths; see its data sheet, local codes and licensed disposal.</template
              ></span
            >
          </th>
          <td class="figure py-1.5 text-right whitespace-nowrap">{{ digits(line.minutes, 0) }} min</td>
          <td class="py-1.5 pl-4 whitespace-nowrap">
            <template v-if="line.cleaning_min >= 0.5">clean {{ digits(line.cleaning_min, 0) }} min</template>
            <template v-if="day.slabs > 1 && line.at_slab">, slab {{ line.slab + 1 }}</template>
          </td>
        </tr>
        <tr v-for="rest in day.breaks" :key="rest.from_min" class="border-t border-line">
          <td></td>
          <td class="figure py-1 whitespace-nowrap">{{ clockOf(rest.from_min) }}</td>
          <td class="py-1" colspan="3">break until {{ clockOf(rest.to_min) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="day.left_over.length">
      Does not fit: {{ day.left_over.map((line) => `${line.what} ${line.name}`).join('; ') }}.
    </p>
  </article>
</template>
