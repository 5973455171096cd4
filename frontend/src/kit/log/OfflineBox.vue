<script setup lang="ts">
/** The server is away: what waits in this browser, and what to mind until it is back. */
import { clock as hour } from '@/kit/format'
import type { Waiting } from '@/kit/log/queue'
import { keepsShell } from '@/kit/shell'

defineProps<{ waiting: Waiting[]; waitsFor: string }>()
const SILENT = 'The server does not answer.'
</script>

<template>
  <section
    class="border-2 border-dashed border-ink bg-sheet p-4"
    data-part="offline"
    aria-labelledby="offline"
  >
    <h2 id="offline" class="text-[1.7rem] leading-[1.1] font-semibold">
      {{ waitsFor && waitsFor !== SILENT ? waitsFor : 'The server is away.' }} Go on by hand.
    </h2>
    <p class="mt-1">
      Every act is kept in this browser and sent when the server is back. The figures below are as it last
      said them.
    </p>
    <p v-if="!keepsShell" class="mt-1 border-l-4 border-stop pl-3">
      <strong>Do not reload or close this page</strong> until the server is back: at this address the browser
      cannot keep the page itself. The acts are kept.
    </p>
    <ol v-if="waiting.length" class="mt-2" aria-label="Acts that wait">
      <li v-for="entry in waiting" :key="entry.act.id" class="flex gap-3">
        <span class="figure quiet">{{ hour(entry.act.made_at) }}</span>{{ entry.words }}
      </li>
    </ol>
    <p v-else class="quiet mt-2">Nothing waits.</p>
    <slot />
  </section>
</template>
