<script setup lang="ts">
/** Acts of a device that was away while another finished the batch: taken into the record, or left out in words. */
import { useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { clock, day } from '@/kit/format'
import { useTried } from '@/kit/tried'

const props = defineProps<{ number: number; late: Schemas['LateNow'][] }>()
const queries = useQueryClient()
const words = reactive<Record<string, string>>({})
const asked = ref('')
const { refusal, trouble, busy, tried } = useTried('nothing was changed')
const decide = (id: string, take_in: boolean) => {
  asked.value = id
  return tried(async () => {
    const path = { number: props.number, act_id: id }
    const body = { take_in, words: words[id] ?? '' }
    const seen = await answered(api.POST('/api/slab/{number}/late/{act_id}', { params: { path }, body }))
    queries.setQueryData(['slab', props.number], seen)
    for (const key of ['batch', 'story', 'home']) void queries.invalidateQueries({ queryKey: [key] })
  })
}
</script>

<template>
  <section v-if="late.length" class="mb-4 border-2 border-stop bg-sheet p-4" aria-labelledby="late">
    <h2 id="late" class="text-lg">Came late</h2>
    <p class="quiet small mb-2">
      Sent by a device that was away while the batch was finished. Nothing of it counts until you decide.
    </p>
    <ul>
      <li v-for="act in late" :key="act.id" class="hairline py-2">
        <p>
          <strong>{{ act.text }}</strong><span class="quiet small"
            >, made {{ day(act.made_at) }} {{ clock(act.made_at) }}</span
          >
        </p>
        <div class="mt-1 flex flex-wrap items-end gap-3">
          <button
            v-if="act.can_take"
            type="button"
            class="btn"
            :disabled="busy"
            @click="decide(act.id, true)"
          >
            Take it in
          </button>
          <label class="min-w-48 flex-1"
            ><span class="label">Why it is left out</span
            ><input v-model="words[act.id]" class="field" maxlength="300"
          /></label>
          <button type="button" class="btn btn-quiet" :disabled="busy" @click="decide(act.id, false)">
            Leave it out
          </button>
        </div>
        <template v-if="asked === act.id">
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
          <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        </template>
      </li>
    </ul>
  </section>
</template>
