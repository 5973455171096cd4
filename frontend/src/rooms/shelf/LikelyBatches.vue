<script setup lang="ts">
/** Whose a found jar may be, each batch with how likely it is. */
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

defineProps<{ likely: Schemas['LikelyBatch'][]; read: boolean; busy?: boolean }>()
defineEmits<{ settle: [number: number]; none: [] }>()
</script>

<template>
  <section aria-labelledby="likely">
    <h2 id="likely" class="text-lg">
      Whose it may be, by colour and weight
      <span v-if="read" class="quiet small font-normal">spread assumed</span>
    </h2>
    <p v-if="!read" class="quiet mb-1 max-w-prose">
      The likeliest first. A colour picked on a screen says too little for figures: compare a smear with each,
      or read the colour.
    </p>
    <ul>
      <li
        v-for="batch in likely"
        :key="batch.number ?? 0"
        class="hairline"
        :class="read ? 'likely-row' : 'flex min-h-14 items-center gap-4 py-1'"
      >
        <span v-if="read" class="text-lg font-semibold whitespace-nowrap"
          >{{ batch.likely < 0.01 ? 'under 1' : digits(100 * batch.likely, 0) }} %</span
        >
        <svg
          v-if="read"
          viewBox="0 0 100 14"
          preserveAspectRatio="none"
          class="h-3.5 w-full"
          aria-hidden="true"
        >
          <rect width="100" height="14" fill="#fff" />
          <rect :width="100 * batch.likely" height="14" fill="#171717" />
        </svg>
        <span
          class="h-9 w-14 shrink-0 max-sm:hidden"
          :class="batch.number ? 'border-4 border-[#bdbdbd]' : ''"
          :style="{ background: batch.masstone_srgb }"
          aria-hidden="true"
        />
        <span class="flex-1 leading-tight"
          ><template v-if="batch.number"
            ><strong class="font-semibold">{{ batch.name }}</strong
            >{{ ' '
            }}<RouterLink class="underline" :to="`/batches/${batch.number}`"
              >batch {{ batch.number }}</RouterLink
            ></template
          ><template v-else>none of them</template>{{ ' '
          }}<span class="small quiet block">{{ batch.says }}</span></span
        >
        <button
          v-if="batch.number"
          type="button"
          class="btn btn-quiet"
          :disabled="busy"
          @click="$emit('settle', batch.number)"
        >
          it is this
        </button>
        <button v-else type="button" class="btn btn-quiet" :disabled="busy" @click="$emit('none')">
          none of these
        </button>
      </li>
    </ul>
  </section>
</template>
