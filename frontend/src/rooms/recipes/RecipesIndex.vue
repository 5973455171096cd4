<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { answered, api } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day } from '@/kit/format'
import ReleaseMark from '@/rooms/checks/ReleaseMark.vue'
import TakeIn from '@/rooms/swap/TakeIn.vue'

const { data: recipes } = useQuery({
  queryKey: ['recipes'],
  queryFn: () => answered(api.GET('/api/recipes')),
})
</script>

<template>
  <div class="pt-5">
    <div class="mb-3 flex flex-wrap items-center gap-4">
      <h1 class="flex-1">Recipes</h1>
      <RouterLink class="btn" to="/compare">Compare two batches</RouterLink
      ><RouterLink class="btn btn-main" to="/recipes/new">New recipe</RouterLink>
    </div>
    <p v-if="recipes && !recipes.length" class="max-w-prose">
      A recipe is the promise of what a paint should be like. Make one of a good batch: open its page and
      choose "Make a recipe of it".
    </p>
    <ul>
      <li
        v-for="recipe in recipes ?? []"
        :key="recipe.id"
        class="hairline flex flex-wrap items-center gap-x-5 gap-y-1 py-2"
      >
        <ColourChip class="h-12 w-20" :colour="recipe.masstone_srgb" />
        <RouterLink
          class="min-w-60 flex-1 text-lg font-semibold underline decoration-1 underline-offset-4"
          :to="`/recipes/${recipe.id}`"
          >{{ recipe.name }}
          <span class="quiet text-base font-normal">version {{ recipe.version }}</span></RouterLink
        >
        <span
          ><span class="figure">{{ recipe.batches }}</span
          >{{ ' '
          }}<span class="quiet"
            >{{ recipe.batches === 1 ? 'batch' : 'batches'
            }}<template v-if="recipe.last_at">, last {{ day(recipe.last_at) }}</template></span
          ></span
        >
        <ReleaseMark v-if="recipe.last_release" :release="recipe.last_release as 'release'" />
        <RouterLink class="btn" :to="`/recipes/${recipe.id}/again`">Same again</RouterLink>
        <RouterLink class="btn btn-quiet" :to="`/recipes/${recipe.id}/consistency`">How alike</RouterLink>
      </li>
    </ul>
    <TakeIn what="recipe" class="mt-8" />
  </div>
</template>
