<script setup lang="ts">
/** All of a day: today, with what was done and what comes after, or another one to plan it. */
import { useHome } from '@/api/queries'
import DayAside from './DayAside.vue'
import DayPlan from './DayPlan.vue'

defineProps<{ on?: string }>()
const { data: home } = useHome()
</script>

<template>
  <div class="grid gap-x-12 gap-y-8 pt-6 lg:grid-cols-[1.9fr_1fr] print:block">
    <DayPlan :on="on" :studio="home?.studio_name ?? ''" />
    <div v-if="!on" class="no-print space-y-8"><DayAside /></div>
  </div>
</template>
