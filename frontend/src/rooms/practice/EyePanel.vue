<script setup lang="ts">
/** One's eye in short: which way it leans, how it scatters, and whether the real slab may use it. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import EyeLean from './EyeLean.vue'
import { digits } from '@/kit/format'

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
    <EyeLean :bias="eye.bias" :sd="eye.sd" :known="eye.judgements > 0" />
    <p class="mt-2 text-lg leading-snug">{{ eye.says }}</p>
    <p v-if="eye.judgements" class="quiet mt-1">
      bias <span class="figure">{{ eye.bias > 0 ? '+' : '' }}{{ digits(eye.bias, 3) }}</span> (±
      <span class="figure">{{ digits(1.645 * eye.bias_sd, 3) }}</span>), spread
      <span class="figure">{{ digits(eye.sd, 3) }}</span> of reduced PVC; from
      <span class="figure">{{ eye.judgements }}</span>
      {{ eye.judgements === 1 ? 'judgement' : 'judgements' }}
    </p>
    <p v-if="!eye.may_use" class="mt-3">
      {{ eye.needs }} more {{ eye.needs === 1 ? 'judgement' : 'judgements' }}, and the real slab may use it.
    </p>
    <template v-else>
      <button type="button" class="btn mt-3 w-full" :aria-pressed="eye.used" @click="use(!eye.used)">
        {{ eye.used ? 'The slab uses it: stop that' : 'Let the slab use it' }}
      </button>
      <p class="small quiet mt-1">
        Looks at new batches are then corrected by the bias and count by the spread; the slab says so.
      </p>
    </template>
    <p v-if="problem" class="refusal" role="alert">{{ problem }}</p>
    <RouterLink v-if="!whole && eye.judgements" class="btn btn-quiet mt-2 -ml-3" to="/practice/eye"
      >Every paste you named</RouterLink
    >
  </section>
</template>
