<script setup lang="ts">
/** What is measured in a check, drawn. */
import { COLOURS, type Kind } from './kinds'

defineProps<{ kind: Kind; masstone: string }>()
</script>

<template>
  <svg
    viewBox="0 0 220 130"
    class="w-56"
    aria-hidden="true"
    font-size="14"
    fill="none"
    stroke="#171717"
    stroke-width="1.800"
  >
    <template v-if="kind === 'spread'">
      <rect x="30" y="3" width="160" height="124" fill="#fff" />
      <circle cx="110" cy="65" r="44" :fill="masstone" stroke="none" />
      <path d="M66 65h88M110 21v88" stroke="#fff" stroke-width="2" />
      <text x="160" y="60" fill="#171717" stroke="none">1</text>
      <text x="114" y="122" fill="#171717" stroke="none">2</text>
    </template>
    <template v-else-if="kind === 'density'">
      <path d="M40 50h110v30H40zM150 58h14v14h-14M164 65h30M40 58H20M20 46v38" fill="#fff" />
      <rect x="70" y="51" width="79" height="28" :fill="masstone" stroke="none" />
      <path d="M70 44v42" stroke-width="3" />
    </template>
    <template v-else-if="kind === 'string'">
      <path d="M60 16h92l22 7-22 7H60z" fill="#bdbdbd" />
      <path d="M106 30q-8 20-2 38t2 38" :stroke="masstone" stroke-width="5" />
      <path d="M60 118q46-24 96 0z" :fill="masstone" stroke="none" />
      <path d="M178 32v74M172 32h12M172 106h12" />
    </template>
    <template v-else-if="kind === 'fineness'">
      <rect x="14" y="40" width="192" height="48" fill="#fff" />
      <path d="M22 48h176l0 12q-90 24-176 20z" :fill="masstone" stroke="none" />
      <path v-for="n in 5" :key="n" :d="`M${20 + n * 32} 88v8`" />
    </template>
    <template v-else-if="kind === 'bleed'">
      <rect x="40" y="4" width="140" height="122" fill="#fff" />
      <circle cx="110" cy="65" r="46" fill="#e2e2e2" stroke="#8a8a8a" stroke-dasharray="3 3" />
      <circle cx="110" cy="65" r="24" :fill="masstone" stroke="none" />
      <path d="M134 65h22M134 59v12M156 59v12" />
    </template>
    <template v-else-if="kind === 'transparency'">
      <rect x="20" y="24" width="90" height="82" fill="#171717" />
      <rect x="110" y="24" width="90" height="82" fill="#fff" />
      <path d="M30 50q80-14 160 0v30q-80-14-160 0z" :fill="masstone" fill-opacity=".72" stroke="none" />
    </template>
    <template v-else-if="COLOURS.includes(kind)">
      <rect x="14" y="16" width="84" height="98" fill="#777" stroke="none" />
      <rect x="98" y="16" width="108" height="98" fill="#9a9a9a" stroke="none" />
      <rect x="114" y="32" width="76" height="66" :fill="masstone" stroke="none" />
      <text x="22" y="108" fill="#fff" stroke="none">grey card</text>
    </template>
    <template v-else>
      <path d="M20 90q90-26 180 0v14H20z" :fill="masstone" stroke="none" />
      <path
        v-for="n in 9"
        :key="n"
        :d="`M${26 + n * 18} ${92 - Math.sin(n / 3) * 14}q10-6 16 0`"
        stroke="#fff"
        stroke-opacity=".6"
      />
    </template>
  </svg>
</template>
