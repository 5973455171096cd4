<script setup lang="ts">
/** What a painter wants to know of a pigment, before anything of oil: one word each, and what it means. */
import type { Schemas } from '@/api/client'

defineProps<{ traits: readonly Schemas['Trait'][]; oils: string; hazards: readonly string[] }>()
</script>

<template>
  <section aria-label="What it is like">
    <dl class="grid grid-cols-2 gap-x-6 gap-y-4 sm:grid-cols-3 lg:grid-cols-6">
      <div v-for="trait in traits" :key="trait.key">
        <dt class="small quiet">{{ trait.name }}</dt>
        <dd>
          <span class="block text-xl leading-tight font-semibold">{{ trait.word }}</span>
          <svg v-if="trait.level" viewBox="0 0 66 10" class="my-1 h-2.5 w-[66px]" aria-hidden="true">
            <rect
              v-for="n in 3"
              :key="n"
              :x="(n - 1) * 23 + 1"
              y="1"
              width="19"
              height="8"
              :fill="n <= trait.level ? '#171717' : '#fff'"
              stroke="#171717"
            />
          </svg>
          <span class="small quiet block leading-snug">{{ trait.says }}</span>
        </dd>
      </div>
      <div>
        <dt class="small quiet">Goes well with</dt>
        <dd class="text-[0.97rem] leading-snug">{{ oils }}</dd>
      </div>
    </dl>
    <p class="small quiet mt-3">
      General figures, approximate; the tin and its safety data sheet know better.
    </p>
  </section>
</template>
