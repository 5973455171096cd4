<script setup lang="ts">
/** What to beware of with these paints on the palette, and whose contents nobody logged. */
import type { Schemas } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'

defineProps<{ beware: Schemas['MixingBeware'] }>()
const ALWAYS = 'Gloves on, no food or brush in the mouth, wipe wet, nothing in the drain.'
</script>

<template>
  <div v-if="beware.cautions.length || beware.unlogged.length" class="border-l-4 border-stop pl-4">
    <p v-if="beware.unlogged.length" class="mb-2">
      <strong>{{ beware.unlogged.join(', ') }}</strong>: nobody logged what is in it. Go by its label and
      safety data sheet; a jar without either as if it held the worst.
    </p>
    <CautionList :cautions="beware.cautions" :always="ALWAYS" :deference="beware.deference" />
  </div>
</template>
