<script setup lang="ts">
/** From when to when one works, breaks, and at how many slabs. */
import { ref, watch } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { clockOf, type Day } from './room'
import { rowKey } from '@/kit/rows'

const props = defineProps<{ day: Day; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ keep: [hours: Schemas['HoursAsked']]; close: [] }>()
const start = ref('')
const end = ref('')
const slabs = ref(1)
const breaks = ref<{ from: string; to: string }[]>([])
watch(
  () => props.day.on_date,
  () => {
    start.value = clockOf(props.day.start_min)
    end.value = clockOf(props.day.end_min)
    slabs.value = props.day.slabs
    breaks.value = props.day.breaks.map((r) => ({ from: clockOf(r.from_min), to: clockOf(r.to_min) }))
  },
  { immediate: true },
)
const missing = ref('')
function minute(text: string): number {
  const [h, m] = text.split(':').map(Number)
  return (h ?? NaN) * 60 + (m ?? NaN)
}
function keep(): void {
  const all = [start.value, end.value, ...breaks.value.flatMap((r) => [r.from, r.to])].map(minute)
  missing.value = all.some(Number.isNaN) ? 'A time is missing. Try hours and minutes, as 09:30.' : ''
  if (missing.value) return
  emit('keep', {
    start_min: minute(start.value),
    end_min: minute(end.value),
    slabs: slabs.value,
    breaks: breaks.value.map((r) => ({ from_min: minute(r.from), to_min: minute(r.to) })),
  })
}
const said = (field: string) => props.refusal?.at(field)
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-3" @submit.prevent="keep" @keydown.esc="emit('close')">
    <div class="flex flex-wrap gap-3">
      <label class="small"
        >From<input
          v-model="start"
          class="field figure mt-1 block w-32"
          type="time"
          :aria-invalid="!!said('start_min')"
      /></label>
      <label class="small"
        >To<input
          v-model="end"
          class="field figure mt-1 block w-32"
          type="time"
          :aria-invalid="!!said('end_min')"
      /></label>
      <label class="small"
        >Slabs<select v-model.number="slabs" class="field mt-1 block w-24">
          <option v-for="n in 4" :key="n" :value="n">{{ n }}</option>
        </select></label
      >
    </div>
    <span v-if="said('start_min') ?? said('end_min')" class="refusal" role="alert">{{
      said('start_min') ?? said('end_min')
    }}</span>
    <div v-for="(rest, n) in breaks" :key="rowKey(rest)" class="mt-2 flex flex-wrap items-end gap-3">
      <label class="small"
        >Break from<input v-model="rest.from" class="field figure mt-1 block w-32" type="time"
      /></label>
      <label class="small"
        >to<input v-model="rest.to" class="field figure mt-1 block w-32" type="time"
      /></label>
      <button type="button" class="btn btn-quiet" @click="breaks.splice(n, 1)">No break</button>
      <span v-if="said(`breaks.${n}`)" class="refusal basis-full" role="alert">{{
        said(`breaks.${n}`)
      }}</span>
    </div>
    <span v-if="said('breaks') && !breaks.some((_, n) => said(`breaks.${n}`))" class="refusal" role="alert">{{
      said('breaks')
    }}</span>
    <span v-if="missing" class="refusal" role="alert">{{ missing }}</span>
    <div class="mt-3 flex flex-wrap gap-2">
      <button class="btn btn-main px-5" :disabled="busy">Keep these hours</button>
      <button type="button" class="btn" @click="breaks.push({ from: '15:00', to: '15:15' })">
        Another break
      </button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
