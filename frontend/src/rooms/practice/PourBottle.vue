<script setup lang="ts">
/** The practice bottle: held down it pours onto the practice balance, let go it still drips a little. */
import type { PracticeBalance } from './balance'

defineProps<{ balance: PracticeBalance; powder?: boolean }>()
</script>

<template>
  <div class="mb-3 flex flex-wrap items-stretch gap-2" role="group" aria-label="Practice bottle">
    <button
      type="button"
      class="btn btn-slab flex-1 touch-none gap-3 px-5 text-xl select-none"
      :class="balance.pouring.value ? 'bg-act-wash! outline-3 outline-act' : ''"
      @pointerdown.prevent="balance.tilt()"
      @pointerup="balance.level()"
      @pointerleave="balance.level()"
      @pointercancel="balance.level()"
      @contextmenu.prevent
      @keydown.space.prevent.stop="balance.tilt()"
      @keyup.space.prevent.stop="balance.level()"
      @blur="balance.level()"
    >
      <svg viewBox="0 0 64 44" width="64" height="44" aria-hidden="true">
        <g :transform="balance.pouring.value ? 'rotate(70 24 20)' : ''">
          <path
            d="M14 40V20q0-6 6-8V5h8v7q6 2 6 8v20z"
            fill="#fff"
            stroke="#171717"
            stroke-width="2"
            stroke-linejoin="round"
          />
          <path d="M15 26h18v13H15z" :fill="powder ? '#9a9a9a' : '#c8b36a'" />
        </g>
        <path
          v-if="balance.pouring.value"
          d="M45 24q3 8 2 18"
          fill="none"
          :stroke="powder ? '#777' : '#a98f35'"
          stroke-width="3"
          :stroke-dasharray="powder ? '2 3' : undefined"
        />
      </svg>
      {{ powder ? 'Hold to shake in' : 'Hold to pour' }}
    </button>
    <button type="button" class="btn btn-slab px-5" @click="balance.drop()">
      {{ powder ? 'A pinch' : 'One drop' }}
    </button>
  </div>
</template>
