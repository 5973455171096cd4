<script setup lang="ts">
/** One tap once the slab is clean: the minutes it took teach how long cleaning takes here. */
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { answered, api, Refused } from '@/api/client'
import { newId } from '@/kit/ids'
import { offset } from './room'

const props = defineProps<{ batch: number; endedAt: string; now: string }>()
const queries = useQueryClient()
const said = ref('')
const busy = ref(false)
const id = newId()
/** Who comes back hours later cleaned long ago: nobody knows the minutes any more. */
const LATEST_H = 3
const fresh = computed(() => Date.parse(props.now) - Date.parse(props.endedAt) < LATEST_H * 3_600_000)
async function clean(): Promise<void> {
  busy.value = true
  try {
    const params = { query: { utc_offset_min: offset() } }
    const body = { id, batch_number: props.batch }
    const noted = await answered(api.POST('/api/day/cleaned', { params, body }))
    said.value = `Noted: clean after ${Math.max(1, Math.round(noted.minutes))} min. The day reckons with it.`
    void queries.invalidateQueries({ queryKey: ['day'] })
  } catch (problem) {
    said.value =
      problem instanceof Refused ? problem.words : 'The server does not answer: tap again in a moment.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div v-if="fresh || said" class="flex flex-wrap items-center gap-3">
    <button
      v-if="!said.startsWith('Noted')"
      type="button"
      class="btn btn-slab px-5"
      :disabled="busy"
      @click="clean"
    >
      The slab is clean now
    </button>
    <p v-if="said" role="status">{{ said }}</p>
  </div>
</template>
