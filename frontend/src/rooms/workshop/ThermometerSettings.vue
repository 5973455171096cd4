<script setup lang="ts">
/** What a pot and a vessel are watched with: a thermometer, a needle of one's own, a pH meter. */
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import type { Acidity, Warmth } from '@/kit/log/follow'
import NumberField from '@/kit/NumberField.vue'
import LinePort from './LinePort.vue'

const settings = defineModel<Schemas['SettingsAsked']>('settings', { required: true })
defineProps<{ said: (field: string) => string | undefined; kept: Schemas['Settings'] }>()
const NONE = '- - -'
const degrees = (read: Warmth) => (read.temperature_c != null ? digits(read.temperature_c, 1) : NONE)
const acidity = (read: Acidity) => (read.ph != null ? digits(read.ph, 2) : NONE)
</script>

<template>
  <fieldset class="col-span-2 grid grid-cols-2 gap-3">
    <legend class="mb-1 text-lg font-semibold">Thermometer, needle and pH meter</legend>
    <LinePort
      v-model="settings.thermometer_port"
      label="Port of the thermometer; empty if it is read by eye"
      name="Thermometer"
      placeholder="/dev/ttyUSB1"
      live="/api/thermometer/live"
      event="temperature"
      unit="°C"
      :show="degrees"
      :kept="kept.thermometer_port ?? ''"
      :refusal="said('thermometer_port')"
    />
    <NumberField
      class="col-span-2"
      :model-value="settings.needle_on_beeswax_dmm ?? null"
      label="How deep your needle goes into plain beeswax at 25 °C; the standard one goes 17"
      unit="0.1 mm"
      :refusal="said('needle_on_beeswax_dmm')"
      accepted="0.1 to 400"
      @update:model-value="settings.needle_on_beeswax_dmm = $event"
    />
    <LinePort
      v-model="settings.ph_port"
      label="Port of the pH meter; empty if you read strips"
      name="pH meter"
      placeholder="/dev/ttyUSB2"
      live="/api/ph-meter/live"
      event="ph"
      unit="pH"
      :show="acidity"
      :kept="kept.ph_port ?? ''"
      :refusal="said('ph_port')"
    />
  </fieldset>
</template>
