<script setup lang="ts">
/** One's eye in short: which way it leans, how it scatters, and whether the real slab may use it. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import EyeLean from './EyeLean.vue'
import FigureValue from '@/kit/FigureValue.vue'

const props = defineProps<{ eye: Schemas['EyeSeen']; whole?: boolean }>()
const queries = useQueryClient()
const problem = ref('')
async function use(yes: boolean): Promise<void> {
  problem.value = ''
  try {
    await answered(api.PUT('/api/practice/eye', { body: { maker: props.eye.maker, use: yes } }))
    void queries.invalidateQueries({ queryKey: ['judging'] })
    await queries.invalidateQueries({ queryKey: ['practice'] })
  } catch (failed) {
    problem.value = failed instanceof Refused ? failed.words : 'The server does not answer.'
  }
}
</script>

<template>
  <section aria-labelledby="eye" class="lg:border-l lg:border-line lg:pl-6">
    <h2 id="eye" class="mb-2 text-lg">Your eye</h2>
    <EyeLean :eye="eye" />
    <p class="mt-2 text-lg leading-snug">{{ eye.says }}</p>
    <div v-if="eye.judgements" class="mt-2 grid grid-cols-2 gap-x-5">
      <FigureValue :figure="eye.leans" />
      <FigureValue :figure="eye.scatters" />
    </div>
    <p v-if="eye.judgements" class="quiet small mt-1">
      From <span class="figure">{{ eye.judgements }}</span>
      {{ eye.judgements === 1 ? 'paste' : 'pastes' }} you named.
    </p>
    <p v-if="!eye.may_use" class="mt-3">
      Name {{ eye.needs }} more {{ eye.needs === 1 ? 'paste' : 'pastes' }}, and the real slab may use your
      eye.
    </p>
    <template v-else>
      <button type="button" class="btn mt-3 w-full" :aria-pressed="eye.used" @click="use(!eye.used)">
        {{ eye.used ? 'The slab uses it: stop that' : 'Let the slab use it' }}
      </button>
      <p class="small quiet mt-1">
        What you see on new batches is then corrected by how far you lean, and counts for less the more you
        scatter. The slab says so.
      </p>
    </template>
    <p v-if="problem" class="refusal" role="alert">{{ problem }}</p>
    <RouterLink v-if="!whole && eye.judgements" class="btn btn-quiet mt-2 -ml-3" to="/practice/eye"
      >Every paste you named</RouterLink
    >
  </section>
</template>
