<script setup lang="ts">
/** In the clean-up of a batch: its brush rinse goes into a can, in one tap. */
import { ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useQueryClient } from '@tanstack/vue-query'
import { useOnce } from '@/kit/ids'
import { CANS, MUCH, useSludge } from './room'

const props = defineProps<{ batch: number; now: string }>()
const emit = defineEmits<{ rinsed: [] }>()
const queries = useQueryClient()
const { data: room } = useSludge()
const much = ref<Schemas['Much']>('brushful')
const busy = ref(false)
const said = ref('')
const into = ref('')
const { once, settled } = useOnce()
async function rinse(can: Schemas['CanLine']): Promise<void> {
  busy.value = true
  said.value = ''
  const paints = [{ batch_number: props.batch, much: much.value }]
  try {
    const act = {
      kind: 'washing' as const,
      paints,
      ...once([can.number, paints], new Date(props.now)),
      waited: false,
    }
    const path = { number: can.number }
    const seen = await answered(api.POST('/api/sludge/cans/{number}/acts', { params: { path }, body: act }))
    settled()
    queries.setQueryData([CANS, can.number], seen)
    void queries.invalidateQueries({ queryKey: ['sludge'] })
    into.value = can.name
    emit('rinsed')
  } catch (problem) {
    said.value =
      problem instanceof Refused ? problem.words : 'It was not kept: the server does not answer. Tap again.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div v-if="room?.cans.length" class="flex flex-wrap items-center gap-2 pb-2 pl-10">
    <p v-if="into" role="status">
      Kept in <strong>{{ into }}</strong>: {{ MUCH[much] }}.
    </p>
    <template v-else>
      <select v-model="much" class="field w-44" aria-label="How much rinse">
        <option v-for="(name, key) in MUCH" :key="key" :value="key">{{ name }}</option>
      </select>
      <button
        v-for="can in room.cans"
        :key="can.number"
        type="button"
        class="btn"
        :disabled="busy"
        @click="rinse(can)"
      >
        into {{ can.name }}
      </button>
    </template>
    <span v-if="said" class="refusal" role="alert">{{ said }}</span>
  </div>
</template>
