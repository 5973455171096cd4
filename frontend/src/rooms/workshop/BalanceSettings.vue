<script setup lang="ts">
/** The bench balance: where it is plugged in, how its lines read, and a look at what it says. */
import { onBeforeUnmount, ref } from 'vue'
import type { Schemas } from '@/api/client'
import { digits } from '@/kit/format'

const settings = defineModel<Schemas['SettingsAsked']>('settings', { required: true })
defineProps<{ said: (field: string) => string | undefined; kept: Schemas['Settings'] }>()
const RATES = [1200, 2400, 4800, 9600, 19200, 38400, 57600, 115200] as const
const PLAIN = 'weight=12.34 g; steady'

const reading = ref<Schemas['BalanceReading']>()
const tried = ref(false)
let stream: EventSource | undefined
function stop(): void {
  stream?.close()
  stream = undefined
  reading.value = undefined
  tried.value = false
}
function look(): void {
  stop()
  tried.value = true
  stream = new EventSource('/api/balance/live')
  stream.addEventListener(
    'weight',
    (event) => (reading.value = JSON.parse(event.data) as Schemas['BalanceReading']),
  )
  stream.addEventListener(
    'error',
    () =>
      (reading.value = {
        state: 'gone',
        weight_g: null,
        says: 'The server does not answer.',
        jumped_g: null,
      }),
  )
}
onBeforeUnmount(stop)
</script>

<template>
  <fieldset class="col-span-2 grid grid-cols-2 gap-3">
    <legend class="mb-1 text-lg font-semibold">Balance</legend>
    <label class="col-span-2"
      ><span class="label">Port; empty if there is no balance</span
      ><input
        v-model="settings.balance_port"
        class="field figure"
        maxlength="100"
        placeholder="/dev/ttyUSB0"
        :aria-invalid="said('balance_port') ? 'true' : undefined"
      /><span v-if="said('balance_port')" class="refusal" role="alert">{{
        said('balance_port')
      }}</span></label
    >
    <template v-if="settings.balance_port">
      <label
        ><span class="label">Rate</span
        ><select v-model="settings.balance_baud" class="field">
          <option v-for="rate in RATES" :key="rate" :value="rate">{{ rate }} baud</option>
        </select></label
      >
      <label
        ><span class="label">Unit where its line names none</span
        ><select v-model="settings.balance_unit" class="field">
          <option v-for="unit in ['g', 'kg', 'mg', 'oz']" :key="unit">{{ unit }}</option>
        </select></label
      >
      <label class="col-span-2"
        ><span class="label"
          >Pattern of its lines; empty for the plain protocol, <code>{{ PLAIN }}</code></span
        ><input
          v-model="settings.balance_pattern"
          class="field figure"
          maxlength="400"
          spellcheck="false"
          :aria-invalid="said('balance_pattern') ? 'true' : undefined"
        /><span v-if="said('balance_pattern')" class="refusal" role="alert">{{
          said('balance_pattern')
        }}</span></label
      >
      <p class="small quiet col-span-2 max-w-prose">
        A regular expression with the named groups <code>weight</code> and, where the line has them,
        <code>unit</code>, <code>steady</code>, <code>moving</code>, <code>over</code>. Without
        <code>steady</code> and <code>moving</code> four equal readings count as rest.
      </p>
      <label
        ><span class="label">Sent to tare it</span
        ><input v-model="settings.balance_tare" class="field figure" maxlength="40"
      /></label>
      <div class="col-span-2 flex min-h-14 flex-wrap items-center gap-4">
        <button
          type="button"
          class="btn"
          :disabled="
            kept.balance_port !== settings.balance_port || kept.balance_pattern !== settings.balance_pattern
          "
          @click="tried ? stop() : look()"
        >
          {{ tried ? 'Stop looking' : 'Look at its weight' }}
        </button>
        <p
          v-if="
            kept.balance_port !== settings.balance_port || kept.balance_pattern !== settings.balance_pattern
          "
          class="small quiet"
        >
          once these settings are kept
        </p>
        <p v-else-if="reading" role="status" aria-label="Balance">
          <span class="figure text-2xl font-semibold">{{
            reading.weight_g != null ? digits(reading.weight_g, 2) : '- - -'
          }}</span>
          g, {{ reading.state.replace('_', ' ') }}.
          <span :class="reading.weight_g == null ? 'text-stop' : 'quiet'">{{ reading.says }}</span>
        </p>
        <p v-else-if="tried" class="quiet">listening</p>
      </div>
    </template>
  </fieldset>
</template>
