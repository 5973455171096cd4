<script setup lang="ts">
/** The head of a pot: its colour, its set, and whether every act is saved. */
import type { View } from './pot'
import ColourChip from '@/kit/ColourChip.vue'

defineProps<{ view: View; waits: number; followed: boolean; offline: boolean; lasting: boolean }>()
</script>

<template>
  <div class="pt-3 pb-2">
    <div class="flex flex-wrap items-center gap-x-4">
      <ColourChip class="h-10 w-16" :colour="view.masstone_srgb" />
      <h1 class="min-w-[50%] flex-1">
        {{ view.name }}{{ ' '
        }}<span class="quiet text-base font-normal sm:whitespace-nowrap"
          >pot {{ view.number }}, of
          <RouterLink class="underline" :to="`/sticks/bases/${view.base_id}`"
            >{{ view.base_name }}, version {{ view.base_version }}</RouterLink
          ></span
        >
      </h1>
      <p class="small quiet" role="status">
        <strong v-if="waits" class="text-stop"
          >{{ waits }} {{ waits === 1 ? 'act waits' : 'acts wait' }} for the server</strong
        ><template v-else-if="followed">every act saved</template
        ><template v-else>{{ offline ? 'the server is away' : 'reaching the server' }}</template>
        <strong v-if="!lasting" class="block text-stop"
          >This browser keeps nothing: leave the page open.</strong
        >
      </p>
    </div>
    <nav
      v-if="view.siblings.length > 1"
      class="mt-2 flex flex-wrap gap-1.5"
      aria-label="The set, in casting order"
    >
      <RouterLink
        v-for="pot in view.siblings"
        :key="pot.number"
        class="flex min-h-12 items-center gap-2 border border-rule bg-white pr-3"
        :class="pot.number === view.number ? 'outline-2 outline-ink' : ''"
        :aria-current="pot.number === view.number ? 'page' : undefined"
        :to="`/sticks/${pot.number}`"
        ><span class="h-12 w-6" :style="{ background: pot.masstone_srgb }" aria-hidden="true" /><span
          class="small leading-tight"
          >{{ pot.name
          }}<span class="quiet block">{{
            pot.status === 'open' ? 'to cast' : pot.status === 'finished' ? 'cast' : 'given up'
          }}</span></span
        ></RouterLink
      >
    </nav>
  </div>
</template>
