<script setup lang="ts">
/** One tap once the slab is clean: the minutes it took teach how long cleaning takes here. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, refusedHere } from '@/api/client'
import { newId } from '@/kit/ids'
import { offset } from './room'

/** Only after this batch, where one is named. */
const props = defineProps<{ batch?: number }>()
const queries = useQueryClient()
const { data: dirty } = useQuery({
  queryKey: ['day', 'to-clean'],
  queryFn: () => answered(api.GET('/api/day/to-clean')),
})
const number = computed(() => {
  const found = dirty.value?.batch_number
  return found != null && (props.batch == null || props.batch === found) ? found : undefined
})
const noted = ref('')
const refusal = ref<Refused>()
const busy = ref(false)
const minutes = ref<number | null>(null)
/** The minutes are asked for once the clock cannot tell them. */
const asks = ref(false)
const id = newId()
async function clean(): Promise<void> {
  if (number.value == null) return
  busy.value = true
  refusal.value = undefined
  try {
    const params = { query: { utc_offset_min: offset() } }
    const body = { id, batch_number: number.value, minutes: asks.value ? minutes.value : null }
    const { minutes: took } = await answered(api.POST('/api/day/cleaned', { params, body }))
    noted.value = `Noted: cleaning took ${Math.max(1, Math.round(took))} min. The next days reckon with it.`
    void queries.invalidateQueries({ queryKey: ['day'] })
  } catch (problem) {
    refusal.value =
      problem instanceof Refused
        ? problem
        : refusedHere('the server does not answer', 'the same again in a moment')
    asks.value ||= !!refusal.value.at('minutes')
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <p v-if="noted" role="status">{{ noted }}</p>
  <form v-else-if="number != null" class="flex flex-wrap items-end gap-3" @submit.prevent="clean">
    <p v-if="batch == null" class="basis-full">
      Batch {{ number }} is finished, and the slab is to be cleaned.
    </p>
    <label v-if="asks" class="small"
      >Minutes it took<input
        v-model.number="minutes"
        class="field figure mt-1 block w-32"
        type="number"
        inputmode="decimal"
        :aria-invalid="!!refusal?.at('minutes')"
    /></label>
    <button class="btn btn-slab px-5" :disabled="busy">
      {{ asks ? 'Note it' : 'The slab is clean now' }}
    </button>
    <button v-if="!asks" type="button" class="btn btn-quiet" @click="asks = true">
      It took so many minutes
    </button>
    <span v-if="refusal" class="refusal basis-full" role="alert">{{
      refusal.at('minutes') ?? refusal.words
    }}</span>
  </form>
</template>
