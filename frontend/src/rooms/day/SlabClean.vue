<script setup lang="ts">
/** One tap once the slab is clean after a batch: the minutes it took teach how long cleaning takes here. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { useTried } from '@/kit/tried'
import { offset } from './room'

/** `dirty`: the paint of this batch still lies there, as far as anybody said. */
const props = defineProps<{ batch: number; dirty: boolean }>()
const emit = defineEmits<{ cleaned: [] }>()
const queries = useQueryClient()
const { refusal, trouble, busy, said, tried, once } = useTried()
const noted = ref('')
const minutes = ref<number | null>(null)
/** The minutes are asked for once the clock cannot tell them. */
const asks = ref(false)
async function clean(): Promise<void> {
  const params = { query: { utc_offset_min: offset() } }
  const asked = { batch_number: props.batch, minutes: asks.value ? minutes.value : null }
  const body = { id: once(asked).id, ...asked }
  await tried(async () => {
    const { minutes: took } = await answered(api.POST('/api/day/cleaned', { params, body }))
    noted.value =
      took == null
        ? 'Noted: the slab is clean.'
        : `Noted: cleaning took ${Math.max(1, Math.round(took))} min. The next days count on it.`
    for (const key of ['batch', 'day', 'home']) void queries.invalidateQueries({ queryKey: [key] })
    emit('cleaned')
  })
  asks.value ||= !!said('minutes')
}
</script>

<template>
  <p v-if="noted" role="status">{{ noted }}</p>
  <form v-else-if="dirty" class="flex flex-wrap items-end gap-3" @submit.prevent="clean">
    <label v-if="asks" class="small"
      >Minutes it took<input
        v-model.number="minutes"
        class="field figure mt-1 block w-32"
        type="number"
        inputmode="decimal"
        :aria-invalid="!!said('minutes')"
    /></label>
    <button class="btn btn-slab px-5" :disabled="busy">
      {{ asks ? 'Note it' : 'The slab is clean now' }}
    </button>
    <button v-if="!asks" type="button" class="btn btn-quiet" @click="asks = true">
      Say how long it took
    </button>
    <span v-if="refusal || trouble" class="refusal basis-full" role="alert">{{
      said('minutes') ?? refusal?.words ?? trouble
    }}</span>
  </form>
</template>
