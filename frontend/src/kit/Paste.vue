<script setup lang="ts">
/** The heap on the slab as it looks at a stage: dry islands, crumbs, wet curds, coarse paste, even paste. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

const props = withDefaults(
  defineProps<{
    stage: Schemas['Stage'] | 'powder' | 'empty'
    colour: string
    size?: number
    quiet?: boolean
  }>(),
  { size: 120 },
)
const WORDS: Record<string, string> = {
  empty: 'a clean slab',
  powder: 'dry powder with a crater',
  dry_islands: 'dry islands in oil',
  crumbs: 'crumbs',
  wet_curds: 'wet curds, no dust left',
  coarse_paste: 'coarse paste',
  even_paste: 'even paste',
}
/** Fixed scatter, so that the same stage always looks the same. */
const scatter = Array.from({ length: 46 }, (_, n) => {
  const turn = n * 2.399963
  const far = Math.sqrt(n / 46)
  return { x: 60 + Math.cos(turn) * far * 48, y: 56 + Math.sin(turn) * far * 26, r: 2 + ((n * 7) % 5) * 0.7 }
})
const pieces = computed(() => {
  switch (props.stage) {
    case 'dry_islands':
      return scatter.filter((_, n) => n % 5 === 0).map((p) => ({ ...p, r: p.r * 2.6 }))
    case 'crumbs':
      return scatter.map((p) => ({ ...p, r: p.r * 1.1 }))
    case 'wet_curds':
      return scatter.filter((_, n) => n % 2 === 0).map((p) => ({ ...p, r: p.r * 2.3 }))
    default:
      return []
  }
})
</script>

<template>
  <svg
    viewBox="0 0 120 92"
    :width="size"
    :height="size * 0.766"
    role="img"
    :aria-label="quiet ? undefined : `The paste: ${WORDS[stage]}`"
    :aria-hidden="quiet || undefined"
  >
    <path d="M2 78h116" stroke="#8a8a8a" stroke-width="2" />
    <g v-if="stage === 'powder'">
      <path d="M14 78C26 44 40 34 47 34c5 9 21 9 26 0 7 0 21 10 33 44z" :fill="colour" />
      <path d="M47 34c5 9 21 9 26 0" fill="none" stroke="#000" stroke-opacity=".35" stroke-width="1.5" />
      <g :fill="colour">
        <circle v-for="n in 9" :key="n" :cx="10 + n * 11" :cy="75 - (n % 3) * 3" r="1.2" />
      </g>
    </g>
    <g v-else-if="stage === 'dry_islands'">
      <ellipse cx="60" cy="58" rx="52" ry="20" :fill="colour" opacity=".55" />
      <circle
        v-for="(p, n) in pieces"
        :key="n"
        :cx="p.x"
        :cy="p.y"
        :r="p.r"
        :fill="colour"
        stroke="#fff"
        stroke-width="1.4"
        stroke-dasharray="1 2"
      />
    </g>
    <g v-else-if="stage === 'crumbs'">
      <circle
        v-for="(p, n) in pieces"
        :key="n"
        :cx="p.x"
        :cy="p.y + 4"
        :r="p.r"
        :fill="colour"
        stroke="#fff"
        stroke-opacity=".5"
        stroke-width=".8"
      />
    </g>
    <g v-else-if="stage === 'wet_curds'">
      <g v-for="(p, n) in pieces" :key="n">
        <circle :cx="p.x" :cy="p.y + 4" :r="p.r" :fill="colour" stroke="#000" stroke-opacity=".25" />
        <path
          :d="`M${p.x - p.r * 0.45} ${p.y + 3}q${p.r * 0.3} -${p.r * 0.5} ${p.r * 0.7} -${p.r * 0.4}`"
          stroke="#fff"
          stroke-opacity=".7"
          fill="none"
        />
      </g>
    </g>
    <g v-else-if="stage === 'coarse_paste'">
      <path d="M10 74c0-20 16-38 50-38s50 16 50 38z" :fill="colour" />
      <g fill="#000" fill-opacity=".35">
        <circle
          v-for="(p, n) in scatter.filter((_, n) => n % 3 === 0)"
          :key="n"
          :cx="22 + (p.x - 12) * 0.8"
          :cy="50 + (p.y - 30) * 0.42"
          r="1.5"
        />
      </g>
      <path d="M24 60q18-10 36-6t36 0" stroke="#fff" stroke-opacity=".45" stroke-width="2" fill="none" />
    </g>
    <g v-else-if="stage === 'even_paste'">
      <path d="M8 76c2-14 14-20 24-24 8-4 10-18 24-18 10 0 8 8 16 12 12 6 36 10 40 30z" :fill="colour" />
      <path
        d="M22 66c14-10 24-8 30-16s12-6 16-2M40 70c16-8 34-8 52-6"
        stroke="#fff"
        stroke-opacity=".55"
        stroke-width="2.200"
        fill="none"
        stroke-linecap="round"
      />
    </g>
  </svg>
</template>
