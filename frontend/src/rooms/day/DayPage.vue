<script setup lang="ts">
/** Another day than today, to plan it. */
import { useHome } from '@/api/queries'
import DayPlan from './DayPlan.vue'

defineProps<{ on: string }>()
const { data: home } = useHome()
</script>

<template>
  <div class="max-w-4xl pt-6">
    <DayPlan :on="on" :studio="home?.studio_name ?? ''" />
  </div>
</template>
