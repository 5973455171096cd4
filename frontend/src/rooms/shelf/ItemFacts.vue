<script setup lang="ts">
/** What happened to a tube or jar, and what is known of it. */
import type { Schemas } from '@/api/client'
import { clock, day, digits } from '@/kit/format'

defineProps<{ page: Schemas['ItemPage'] }>()
</script>

<template>
  <section aria-labelledby="log">
    <h2 id="log" class="text-lg">What happened to it</h2>
    <ol>
      <li v-for="event in [...page.events].reverse()" :key="event.id" class="hairline flex gap-3 py-2">
        <span class="quiet small w-32 shrink-0">{{ day(event.at) }}, {{ clock(event.at) }}</span
        ><span
          >{{ event.text
          }}<a
            v-if="event.kind === 'photo'"
            :href="`/api/shelf/${page.line.id}/photos/${event.id}.jpg`"
            target="_blank"
            class="block"
            ><img
              :src="`/api/shelf/${page.line.id}/photos/${event.id}.jpg`"
              alt="picture"
              width="160"
              height="120"
              loading="lazy"
              class="mt-1 h-[120px] w-[160px] border border-rule object-cover" /></a
        ></span>
      </li>
    </ol>
    <dl class="mt-4">
      <div v-if="page.density_g_per_ml" class="hairline flex justify-between py-1.5">
        <dt class="quiet">weight for each ml</dt>
        <dd>
          <span class="figure">{{ digits(page.density_g_per_ml, 2) }}</span> g/ml
        </dd>
      </div>
      <div v-if="page.gross_g" class="hairline flex justify-between py-1.5">
        <dt class="quiet">weighed</dt>
        <dd>
          <span class="figure">{{ digits(page.gross_g, 1) }}</span> g, empty
          <span class="figure">{{ digits(page.tare_g ?? 0, 1) }}</span> g
        </dd>
      </div>
      <div v-if="page.cover" class="hairline flex justify-between py-1.5">
        <dt class="quiet">covered with</dt>
        <dd>{{ page.cover }}</dd>
      </div>
      <div v-if="page.line.last_outcome" class="hairline flex justify-between py-1.5">
        <dt class="quiet">seen last</dt>
        <dd>{{ page.line.last_seen }}</dd>
      </div>
      <div v-if="page.hazards.length" class="hairline flex justify-between gap-4 py-1.5">
        <dt class="quiet">hazards</dt>
        <dd class="text-right">{{ page.hazards.join('; ') }}</dd>
      </div>
      <div v-if="page.label_says" class="hairline flex justify-between gap-4 py-1.5">
        <dt class="quiet">its label says</dt>
        <dd class="text-right">{{ page.label_says }}</dd>
      </div>
      <div v-if="page.note" class="hairline flex justify-between gap-4 py-1.5">
        <dt class="quiet">note</dt>
        <dd class="text-right">{{ page.note }}</dd>
      </div>
    </dl>
  </section>
</template>
