<script setup lang="ts">
/** What a cake of some sludge would be, or is: colour, parts, oil it takes, hazards, whether to ask first. */
import type { Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { digits } from '@/kit/format'

defineProps<{ cake: Schemas['CakeGuess']; title: string }>()
const named = (keys: string[]) => keys.join(', ').replaceAll('-', ' ')
</script>

<template>
  <section :aria-label="title">
    <h2 class="mb-1">{{ title }}</h2>
    <div class="flex items-center gap-3">
      <ColourChip v-if="cake.colour_known" class="h-12 w-16" :colour="cake.masstone_srgb" />
      <p v-if="!cake.colour_known" class="leading-snug">
        Colour not known yet<span class="quiet small block"
          >a dab of it on white paper tells, once it is dry</span
        >
      </p>
      <p v-else class="leading-snug">
        {{ cake.leans === 'neutral' ? 'a neutral grey' : `leans ${cake.leans}`
        }}<span class="quiet small block">a guess from what was washed off</span>
      </p>
    </div>
    <ul class="mt-2">
      <li v-for="part in cake.parts.slice(0, 7)" :key="part.name" class="hairline flex gap-2 py-0.5">
        <span class="min-w-0 flex-1">{{ part.name }}</span><span class="figure"
          >{{ digits(100 * part.share, 0) }} %</span
        >
      </li>
      <li v-if="cake.parts.length > 7" class="quiet small hairline py-0.5">
        and {{ cake.parts.length - 7 }} more
      </li>
      <li v-if="cake.unknown_share > 0.004" class="hairline flex gap-2 py-0.5 font-semibold text-stop">
        <span class="flex-1">nobody knows what</span
        ><span class="figure">{{ digits(100 * cake.unknown_share, 0) }} %</span>
      </li>
    </ul>
    <p class="mt-2">
      Takes about
      <strong class="figure">{{ digits(cake.oil_absorption.median, 0) }}</strong> g of oil to 100 g,
      <span class="figure">{{ digits(cake.oil_absorption.low!, 0) }}</span> to
      <span class="figure">{{ digits(cake.oil_absorption.high!, 0) }}</span><span class="quiet small"
        >, expected; its first rub-out tells</span
      >
    </p>
    <p v-if="cake.wet_enough" class="mt-1 border-l-4 border-ink pl-2">
      Old oil may be enough: it may need none, or dry chalk.
    </p>
    <p v-if="cake.hazards.length" class="mt-1">
      Hazards of all that went in: <strong>{{ named(cake.hazards) }}</strong>
    </p>
    <p v-if="cake.asked_first.length" class="mt-2 border-l-4 border-stop pl-2">
      <strong class="text-stop">{{ cake.asked_first.join(', ') }}:</strong> ask first whether it should become
      paint at all. The other way is licensed disposal.
    </p>
  </section>
</template>
