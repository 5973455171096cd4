<script setup lang="ts">
/** A PIN, on keys big enough for a glove. */
import { ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { changeHands } from '@/kit/here'
import { flush, unreachable } from '@/kit/log/queue'
import { useTried } from '@/kit/tried'

const props = defineProps<{ other: Schemas['OtherHere'] }>()
const emit = defineEmits<{ done: [] }>()
const pin = ref('')
const { refusal, trouble, busy, tried } = useTried()
const FEWEST = 4
const MOST = 8
async function take(): Promise<void> {
  // What the one before made goes out under the right name first.
  await flush()
  if (unreachable.value) return
  const body = { maker_id: props.other.id, pin: pin.value }
  const done = await tried(() => answered(api.POST('/api/makers/switch', { body })))
  pin.value = ''
  if (done) {
    // First, since with the other's hands this list is another.
    emit('done')
    await changeHands()
  }
}
</script>

<template>
  <form @submit.prevent="take">
    <label class="block"
      ><span class="label">PIN of {{ other.name }}</span
      ><input
        v-model="pin"
        class="field figure text-center text-2xl tracking-[0.4em]"
        type="password"
        inputmode="numeric"
        autocomplete="off"
        :maxlength="MOST"
    /></label>
    <div class="mt-2 grid grid-cols-3 gap-2">
      <button
        v-for="key in ['1', '2', '3', '4', '5', '6', '7', '8', '9']"
        :key="key"
        type="button"
        class="btn figure min-h-14 text-xl"
        @click="pin = (pin + key).slice(0, MOST)"
      >
        {{ key }}
      </button>
      <button type="button" class="btn min-h-14" @click="pin = ''">Clear</button>
      <button type="button" class="btn figure min-h-14 text-xl" @click="pin = (pin + '0').slice(0, MOST)">
        0
      </button>
      <button class="btn btn-main min-h-14" :disabled="busy || pin.length < FEWEST">Go</button>
    </div>
    <p v-if="refusal || trouble" class="refusal mt-2" role="alert">{{ refusal?.words ?? trouble }}</p>
  </form>
</template>
