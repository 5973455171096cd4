<script setup lang="ts">
/** The first question of a plan: how the paint should stand, in seven drawings; or what it is for. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import BodyDrawing from '@/kit/BodyDrawing.vue'
import Term from '@/kit/Term.vue'

const props = defineProps<{ colour: string; body?: Schemas['Body'] }>()
const reduced = defineModel<number>('reduced', { required: true })
const purpose = defineModel<Schemas['Purpose'] | null>('purpose', { default: null })
const { data: choices } = useQuery({
  queryKey: ['bodies'],
  queryFn: () => answered(api.GET('/api/plan/bodies')),
  staleTime: Infinity,
})
const says = computed(() => choices.value?.purposes.find((use) => use.purpose === purpose.value)?.says)
/** The body that is asked for, by the nearest middle where no plan says it yet. */
const chosen = computed(
  () =>
    props.body ??
    choices.value?.bodies.reduce((a, b) =>
      Math.abs(b.reduced_pvc - reduced.value) < Math.abs(a.reduced_pvc - reduced.value) ? b : a,
    ).body,
)
function use(choice: Schemas['PurposeChoice']): void {
  purpose.value = purpose.value === choice.purpose ? null : choice.purpose
  if (purpose.value) reduced.value = choice.reduced_pvc
}
</script>

<template>
  <section aria-labelledby="body-first" class="min-h-[8rem]">
    <h2 id="body-first" class="mb-1 text-lg">
      How should it stand on the knife? <Term of="body">Body</Term>
    </h2>
    <div class="flex flex-wrap items-start gap-x-6 gap-y-2">
      <div class="grid grid-cols-4 gap-1.5 sm:grid-cols-7" role="group" aria-label="Body">
        <button
          v-for="choice in choices?.bodies"
          :key="choice.body"
          type="button"
          class="btn min-h-[92px] w-full min-w-[5.1rem] flex-col gap-0 px-1 py-1 text-[0.95rem]"
          :class="chosen === choice.body ? 'bg-act-wash! outline-3 outline-act' : ''"
          :aria-pressed="chosen === choice.body"
          @click="reduced = choice.reduced_pvc"
        >
          <BodyDrawing :body="choice.body" :colour="colour" />
          {{ choice.body }}<span class="small quiet font-normal">{{ choice.says }}</span>
        </button>
      </div>
      <div class="min-w-56 flex-1" role="group" aria-label="What it is for">
        <div class="flex flex-wrap gap-1.5">
          <button
            v-for="choice in choices?.purposes"
            :key="choice.purpose"
            type="button"
            class="btn px-3"
            :class="purpose === choice.purpose ? 'bg-ink! text-white' : ''"
            :aria-pressed="purpose === choice.purpose"
            @click="use(choice)"
          >
            {{ choice.name }}
          </button>
        </div>
        <p class="small quiet mt-1">{{ says ?? 'Or choose what it is for.' }}</p>
      </div>
    </div>
  </section>
</template>
