<script setup lang="ts">
import { computed, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useHome } from '@/api/queries'
import ColourChip from '@/kit/ColourChip.vue'
import { ago, grams, massUnit } from '@/kit/format'

const router = useRouter()
const { data: home } = useHome()
const open = computed(() => home.value?.on_bench ?? [])
// With one batch open there is nothing to choose.
watch(open, (batches) => batches.length === 1 && void router.replace(`/slab/${batches[0]!.batch.number}`), {
  immediate: true,
})
</script>

<template>
  <section v-if="home" class="pt-6">
    <h1 class="mb-4">Slab</h1>
    <p v-if="!open.length" class="text-lg">
      The slab is clean. <RouterLink class="underline" to="/plan">Plan a batch</RouterLink> and take it here.
    </p>
    <RouterLink
      v-for="{ batch } in open"
      :key="batch.number"
      class="hairline flex min-h-[72px] items-center gap-4 hover:bg-sheet"
      :to="`/slab/${batch.number}`"
    >
      <ColourChip class="h-12 w-20" :colour="batch.masstone_srgb" />
      <span class="flex-1 text-xl font-semibold"
        >{{ batch.name }}
        <span class="quiet block text-base font-normal"
          >batch {{ batch.number }}, begun {{ ago(batch.started_at, home.now) }}</span
        ></span
      >
      <span class="figure text-xl">{{ grams(batch.pigment_g + batch.oil_g) }}</span> {{ massUnit() }}
    </RouterLink>
  </section>
</template>
