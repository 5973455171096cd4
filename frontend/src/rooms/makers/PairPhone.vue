<script setup lang="ts">
/** A code for the camera of a phone: good for two minutes, and once. */
import { useIntervalFn } from '@vueuse/core'
import { onMounted, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useTried } from '@/kit/tried'

const { refusal, trouble, busy, tried } = useTried()
const made = ref<Schemas['PairingMade']>()
const left = ref(0)
let until = 0
async function make(): Promise<void> {
  await tried(async () => {
    made.value = await answered(api.POST('/api/makers/pairing'))
    until = performance.now() + made.value.lasts_s * 1000
    left.value = made.value.lasts_s
  })
}
useIntervalFn(() => (left.value = Math.max(0, Math.round((until - performance.now()) / 1000))), 1000)
onMounted(make)
</script>

<template>
  <div>
    <template v-if="made && left > 0">
      <img :src="made.picture" alt="Code for a phone" class="mx-auto h-60 w-60 bg-white" />
      <p class="small mt-1">
        Point the phone's camera at it. It works once, for
        <span class="figure">{{ left }}</span> s more.
      </p>
    </template>
    <template v-else-if="made">
      <p class="small">The code is too old now.</p>
      <button type="button" class="btn mt-1" :disabled="busy" @click="make">A new one</button>
    </template>
    <p v-if="refusal || trouble" class="refusal" role="alert">{{ refusal?.words ?? trouble }}</p>
  </div>
</template>
