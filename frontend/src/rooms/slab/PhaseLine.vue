<script setup lang="ts">
/** Where the session stands, in the maker's own pace; what lies behind can be gone back to. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ phase: Schemas['SessionPhase']; open: boolean; busy?: boolean }>()
defineEmits<{ back: [phase: Schemas['SessionPhase']] }>()
const PHASES: { key: Schemas['SessionPhase']; name: string }[] = [
  { key: 'ready', name: 'Ready' },
  { key: 'powder', name: 'Powder' },
  { key: 'fold', name: 'Fold in' },
  { key: 'wet', name: 'Wet' },
  { key: 'mull', name: 'Mull' },
  { key: 'judge', name: 'Judge' },
  { key: 'right', name: 'Right' },
]
const at = computed(() => PHASES.findIndex((p) => p.key === props.phase))
</script>

<template>
  <ol class="flex" aria-label="Stages of the session">
    <li v-for="(step, n) in PHASES" :key="step.key" class="min-w-0 flex-1">
      <component
        :is="n < at && open ? 'button' : 'span'"
        :type="n < at && open ? 'button' : undefined"
        class="flex min-h-12 w-full flex-col items-center justify-end gap-1 leading-none"
        :class="n === at ? 'font-bold' : n > at ? 'quiet' : ''"
        :disabled="n < at && open ? busy : undefined"
        :aria-current="n === at ? 'step' : undefined"
        :aria-label="n < at && open ? `Go back to: ${step.name}` : undefined"
        @click="n < at && open && $emit('back', step.key)"
      >
        <span
          class="max-sm:text-[0.8rem]"
          :class="n < at && open ? 'underline decoration-1 underline-offset-4' : ''"
          >{{ step.name }}</span
        >
        <svg viewBox="0 0 100 14" preserveAspectRatio="none" class="h-3.5 w-full" aria-hidden="true">
          <path
            d="M0 7H100"
            stroke="#171717"
            :stroke-width="n <= at ? 4 : 1"
            :stroke-dasharray="n > at ? '2 2' : undefined"
            vector-effect="non-scaling-stroke"
          />
          <path
            v-if="n === at"
            d="M50 7H100"
            stroke="#efefef"
            stroke-width="6"
            vector-effect="non-scaling-stroke"
          />
          <path
            v-if="n === at"
            d="M50 7H100"
            stroke="#171717"
            stroke-width="1"
            stroke-dasharray="2 2"
            vector-effect="non-scaling-stroke"
          />
          <path
            v-if="n === at"
            d="M49.900 1v12"
            stroke="#171717"
            stroke-width="6"
            vector-effect="non-scaling-stroke"
          />
        </svg>
      </component>
    </li>
  </ol>
</template>
