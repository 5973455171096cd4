<script setup lang="ts">
/** The sticks of a pot on the shelf; their labels; a recipe of what came out right. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import { digits } from '@/kit/format'
import { useTried } from '@/kit/tried'
import type { View } from './pot'

const props = defineProps<{ view: View }>()
const router = useRouter()
const queries = useQueryClient()
const name = ref('')
const naming = ref(false)
const { trouble, busy, said, tried } = useTried()
const keep = () =>
  tried(async () => {
    const kept = await answered(
      api.POST('/api/sticks/{number}/recipe', {
        params: { path: { number: props.view.number } },
        body: { name: name.value },
      }),
    )
    for (const key of ['sticks', 'stick-recipe']) void queries.invalidateQueries({ queryKey: [key] })
    await router.push(`/sticks/recipes/${kept.id}`)
  })
</script>

<template>
  <section aria-labelledby="shelf">
    <div class="flex flex-wrap items-center gap-3">
      <h2 id="shelf" class="flex-1 text-lg">On the shelf</h2>
      <RouterLink
        class="btn"
        :to="{
          path: '/labels',
          query: { items: view.items.map((i) => i.id).join(','), size: 'Stick sleeve' },
        }"
        >Print labels</RouterLink
      >
      <RouterLink v-if="view.recipe_id" class="btn" :to="`/sticks/recipes/${view.recipe_id}`"
        >Its recipe</RouterLink
      >
      <button v-else-if="!naming" type="button" class="btn" @click="naming = true">
        Make a recipe of it
      </button>
    </div>
    <div
      v-if="naming && !view.recipe_id"
      class="mt-2 flex flex-wrap items-end gap-3"
      role="group"
      aria-label="A recipe"
    >
      <label class="min-w-60 flex-1"
        ><span class="label">What the recipe is called</span
        ><input
          v-model="name"
          class="field"
          maxlength="80"
          :aria-invalid="said('name') ? 'true' : undefined"
          @keydown.enter.prevent="keep"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <button type="button" class="btn btn-main" :disabled="busy" @click="keep">Keep the recipe</button>
      <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    </div>
    <p v-if="view.cost_a_stick != null">
      Materials <span class="figure font-semibold">{{ Number(view.cost_a_stick).toFixed(2) }}</span>
      {{ view.currency }} a stick, <span class="figure">{{ Number(view.cost).toFixed(2) }}</span> in all<span
        v-if="view.cost_missing.length"
        class="small quiet"
        >, without {{ view.cost_missing.join(', ') }}: no price known</span
      >.
    </p>
    <ul class="mt-1">
      <li v-for="item in view.items" :key="item.id" class="hairline">
        <RouterLink class="flex min-h-12 items-center gap-3" :to="`/shelf/${item.id}`"
          ><span class="figure w-16">{{ item.code }}</span
          ><span class="min-w-0 flex-1"
            >{{ item.container }}<template v-if="item.place">, {{ item.place }}</template></span
          ><span
            ><span class="figure font-semibold">{{
              item.weight_g != null ? digits(item.weight_g, 1) : digits(item.volume_ml, 1)
            }}</span>
            {{ item.weight_g != null ? 'g' : 'ml' }}</span
          ></RouterLink
        >
      </li>
    </ul>
  </section>
</template>
