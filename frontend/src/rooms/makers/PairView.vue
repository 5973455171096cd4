<script setup lang="ts">
/** What a phone opens that read the code: it is signed in, once and for all. */
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import { changeHands, deviceName } from '@/kit/here'
import { useTried } from '@/kit/tried'

const router = useRouter()
const { refusal, trouble, busy, tried } = useTried()
const token = ref(window.location.hash.slice(1))
async function pair(): Promise<void> {
  const body = { token: token.value, device: deviceName() }
  if (await tried(() => answered(api.POST('/api/makers/pair', { body })))) {
    await changeHands()
    await router.replace('/')
  }
}
onMounted(() => {
  // Used or not, the code is not left in the address.
  window.history.replaceState(window.history.state, '', '/pair')
  if (token.value) void pair()
})
</script>

<template>
  <div class="mx-auto mt-8 max-w-md">
    <h1 class="text-2xl">Sign this phone in</h1>
    <p v-if="busy" class="mt-3" role="status">One moment.</p>
    <p v-else-if="refusal" class="refusal mt-3 text-lg" role="alert">{{ refusal.words }}</p>
    <template v-else-if="trouble">
      <p class="refusal mt-3 text-lg" role="alert">{{ trouble }}</p>
      <button type="button" class="btn mt-3" @click="pair">Try again</button>
    </template>
    <p v-else-if="!token" class="mt-3">
      On a device that is signed in, open the menu with your initials, tap Pair a phone, and point this
      phone's camera at the code.
    </p>
    <p class="mt-6"><RouterLink to="/" class="underline">To the bench</RouterLink></p>
  </div>
</template>
