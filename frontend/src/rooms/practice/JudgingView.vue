<script setup lang="ts">
/** Judging only: a paste under the knife, seven bodies to name it by, and what it was. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import BodyDrawing from '@/kit/BodyDrawing.vue'
import { newId } from '@/kit/ids'
import { useKeys } from '@/kit/keys'
import EyePanel from './EyePanel.vue'
import KnifeLift from './KnifeLift.vue'
import { BODIES, throwAway, useBegin } from './room'
import { useRouter } from 'vue-router'

const props = defineProps<{ number: number }>()
const router = useRouter()
const queries = useQueryClient()
const key = ['judging', props.number]
const { data: view, error } = useQuery({
  queryKey: key,
  queryFn: () =>
    answered(api.GET('/api/practice/judging/{number}', { params: { path: { number: props.number } } })),
})
const { begin, busy: beginning } = useBegin()
const gone = computed(() => error.value instanceof Refused)
const busy = ref(false)
const problem = ref('')
const last = computed(() => view.value?.judged.at(-1))
async function judge(body: Schemas['Body']): Promise<void> {
  if (!view.value?.seen || busy.value) return
  busy.value = true
  problem.value = ''
  try {
    const seen = await answered(
      api.POST('/api/practice/judging/{number}', {
        params: { path: { number: props.number } },
        body: { id: newId(), place: view.value.place, body },
      }),
    )
    queries.setQueryData(key, seen)
    if (!seen.seen) void queries.invalidateQueries({ queryKey: ['practice'] })
  } catch (failed) {
    problem.value =
      failed instanceof Refused ? failed.words : 'The server does not answer: tap again in a moment.'
    void queries.invalidateQueries({ queryKey: key })
  } finally {
    busy.value = false
  }
}
async function away(): Promise<void> {
  await throwAway(props.number)
  void queries.invalidateQueries({ queryKey: ['practice'] })
  await router.push('/practice')
}
/** A colour of no pigment in particular, another for each paste, so that no colour teaches its body. */
const COLOURS = ['#7d4a2b', '#2c4a7a', '#8f2f2f', '#3d5a3a', '#c79a2e', '#5a3d63', '#333438', '#b9b1a2']
const colour = computed(() => COLOURS[(view.value?.place ?? 0) % COLOURS.length]!)
useKeys(() =>
  BODIES.map((body, n) => ({
    key: String(n + 1),
    does: `it is ${body}`,
    act: () => void judge(body),
    when: () => !!view.value?.seen,
  })),
)
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no such practice.</h1>
    <RouterLink class="underline" to="/practice">All exercises</RouterLink>
  </section>
  <div v-else-if="view" class="grid gap-x-10 gap-y-5 pt-5 lg:grid-cols-[1fr_21rem]">
    <div>
      <div class="flex flex-wrap items-baseline gap-x-4">
        <h1 class="flex-1">Name the body</h1>
        <p class="figure text-xl">
          {{ view.seen ? view.place : view.judged.length }}
          <span class="quiet font-sans text-base">of {{ view.of }}, {{ view.right }} right</span>
        </p>
      </div>
      <template v-if="view.seen">
        <div class="mt-3 grid items-center gap-x-6 gap-y-2 border border-rule bg-sheet p-4 sm:grid-cols-2">
          <div class="flex min-h-44 justify-center"><KnifeLift :seen="view.seen" :colour="colour" /></div>
          <ul class="text-lg leading-snug">
            <li v-for="line in view.seen.says" :key="line">{{ line }}</li>
          </ul>
        </div>
        <div class="mt-3 grid grid-cols-2 gap-2 sm:grid-cols-4 lg:grid-cols-7" role="group" aria-label="Body">
          <button
            v-for="body in BODIES"
            :key="body"
            type="button"
            class="btn btn-slab flex-col gap-0 px-1"
            :disabled="busy"
            @click="judge(body)"
          >
            <BodyDrawing :body="body" colour="#777" />{{ body }}
          </button>
        </div>
      </template>
      <section v-else class="mt-3 border-2 border-ink bg-sheet p-4">
        <h2 class="text-[1.7rem] leading-tight">
          {{
            view.status === 'abandoned'
              ? 'Thrown away.'
              : `${view.right} of ${view.of} right. ${view.eye.says}`
          }}
        </h2>
        <div class="mt-3 flex flex-wrap gap-2">
          <button
            type="button"
            class="btn btn-main btn-slab px-5"
            :disabled="beginning"
            @click="begin('judging', view.maker)"
          >
            Another forty
          </button>
          <RouterLink class="btn btn-slab px-5" to="/practice/eye">Every paste you named</RouterLink>
          <RouterLink class="btn btn-slab px-5" to="/practice">All exercises</RouterLink>
        </div>
      </section>
      <p v-if="last" class="mt-3 text-lg" role="status">
        <span class="figure">{{ last.place }}</span>:
        <strong :class="last.right ? '' : 'text-stop'">{{ last.says }}</strong>
      </p>
      <p v-if="problem" class="refusal" role="alert">{{ problem }}</p>
      <p v-if="view.seen" class="mt-4 flex flex-wrap items-center gap-3">
        <RouterLink class="btn btn-quiet -ml-3" to="/practice">Go on another time</RouterLink>
        <button type="button" class="btn btn-quiet" @click="away">Throw away</button>
      </p>
    </div>
    <EyePanel :eye="view.eye" />
  </div>
</template>
