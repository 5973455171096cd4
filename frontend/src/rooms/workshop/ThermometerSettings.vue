<script setup lang="ts">
/** What the pot of wax is watched with: a thermometer that says its degrees, and a needle of one's own. */
import { onBeforeUnmount, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import type { Warmth } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'

const settings = defineModel<Schemas['SettingsAsked']>('settings', { required: true })
const props = defineProps<{ said: (field: string) => string | undefined; kept: Schemas['Settings'] }>()
const reading = ref<Warmth>()
const looking = ref(false)
let stream: EventSource | undefined
function stop(): void {
  stream?.close()
  stream = undefined
  looking.value = false
  reading.value = undefined
}
function look(): void {
  looking.value = true
  stream = new EventSource('/api/thermometer/live')
  stream.addEventListener('temperature', (event) => (reading.value = JSON.parse(event.data) as Warmth))
  stream.addEventListener(
    'error',
    () => (reading.value = { temperature_c: null, state: 'gone', says: 'The server does not answer.' }),
  )
}
onBeforeUnmount(stop)
const changed = () => props.kept.thermometer_port !== settings.value.thermometer_port
</script>

<template>
  <fieldset class="col-span-2 grid grid-cols-2 gap-3">
    <legend class="mb-1 text-lg font-semibold">Thermometer and needle, for sticks</legend>
    <label class="col-span-2"
      ><span class="label">Port of the thermometer; empty if it is read by eye</span
      ><input
        v-model="settings.thermometer_port"
        class="field figure"
        maxlength="100"
        placeholder="/dev/ttyUSB1"
        :aria-invalid="said('thermometer_port') ? 'true' : undefined"
      /><span v-if="said('thermometer_port')" class="refusal" role="alert">{{
        said('thermometer_port')
      }}</span></label
    >
    <div v-if="settings.thermometer_port" class="col-span-2 flex min-h-14 flex-wrap items-center gap-4">
      <button type="button" class="btn" :disabled="changed()" @click="looking ? stop() : look()">
        {{ looking ? 'Stop looking' : 'Look at its degrees' }}
      </button>
      <p v-if="changed()" class="small quiet">once these settings are kept</p>
      <p v-else-if="reading" role="status" aria-label="Thermometer">
        <span class="figure text-2xl font-semibold">{{
          reading.temperature_c != null ? digits(reading.temperature_c, 1) : '- - -'
        }}</span>
        °C <span :class="reading.temperature_c == null ? 'text-stop' : 'quiet'">{{ reading.says }}</span>
      </p>
      <p v-else-if="looking" class="quiet">listening</p>
    </div>
    <NumberField
      class="col-span-2"
      :model-value="settings.needle_on_beeswax_dmm ?? null"
      label="How deep your needle goes into plain beeswax at 25 °C; the standard one goes 17"
      unit="0.1 mm"
      :refusal="said('needle_on_beeswax_dmm')"
      accepted="0.1 to 400"
      @update:model-value="settings.needle_on_beeswax_dmm = $event"
    />
  </fieldset>
</template>
