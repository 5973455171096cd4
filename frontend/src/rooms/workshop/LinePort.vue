<script setup lang="ts" generic="R extends { state: string; says: string }">
/** A device that says a line at a time: its port, and what it shows now to try it. */
import { onBeforeUnmount, ref } from 'vue'

const port = defineModel<string>({ required: true })
const props = defineProps<{
  label: string
  kept: string
  name: string
  placeholder: string
  live: string
  event: string
  unit: string
  show: (reading: R) => string
  refusal?: string
}>()
const reading = ref<R>()
const looking = ref(false)
const away = ref(false)
let stream: EventSource | undefined
function stop(): void {
  stream?.close()
  stream = undefined
  looking.value = away.value = false
  reading.value = undefined
}
function look(): void {
  looking.value = true
  stream = new EventSource(props.live)
  stream.addEventListener(props.event, (event) => {
    away.value = false
    reading.value = JSON.parse((event as MessageEvent<string>).data) as R
  })
  stream.addEventListener('error', () => (away.value = true))
}
onBeforeUnmount(stop)
const changed = () => props.kept !== port.value
</script>

<template>
  <label class="col-span-2"
    ><span class="label">{{ label }}</span
    ><input
      v-model="port"
      class="field figure"
      maxlength="100"
      :placeholder="placeholder"
      :aria-invalid="refusal ? 'true' : undefined"
    /><span v-if="refusal" class="refusal" role="alert">{{ refusal }}</span></label
  >
  <div v-if="port" class="col-span-2 flex min-h-14 flex-wrap items-center gap-4">
    <button type="button" class="btn" :disabled="changed()" @click="looking ? stop() : look()">
      {{ looking ? 'Stop looking' : `Look at the ${name.toLowerCase()}` }}
    </button>
    <p v-if="changed()" class="small quiet">once these settings are kept</p>
    <p v-else-if="away" class="text-stop" role="status" :aria-label="name">The server does not answer.</p>
    <p v-else-if="reading" role="status" :aria-label="name">
      <span class="figure text-2xl font-semibold">{{ show(reading) }}</span>
      {{ unit }} <span class="quiet">{{ reading.says }}</span>
    </p>
    <p v-else-if="looking" class="quiet">listening</p>
  </div>
</template>
