<script setup lang="ts">
/** On the studio's network one signs in, and then is where one wanted to be. */
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { changeHands, deviceName, type Here } from '@/kit/here'
import { useTried } from '@/kit/tried'

defineProps<{ here: Here }>()
const name = ref('')
const password = ref('')
const shared = ref(false)
const { trouble, busy, said, tried } = useTried()
async function signIn(): Promise<void> {
  const body = { name: name.value, password: password.value, shared: shared.value, device: deviceName() }
  const done = await tried(() => answered(api.POST('/api/makers/sign-in', { body })))
  password.value = ''
  if (done) await changeHands()
}
</script>

<template>
  <div class="mx-auto mt-8 max-w-md">
    <h1 class="text-2xl">Sign in</h1>
    <p v-if="!here.owner_exists" class="mt-3 border-l-4 border-stop pl-3">
      Nobody can yet. At the machine that runs Niddy, type
      <code class="figure mt-1 block font-semibold">./niddy owner "your name"</code>
      in its folder; then sign in here and add the others.
    </p>
    <form class="mt-4 grid gap-4" @submit.prevent="signIn">
      <label
        ><span class="label">Name</span
        ><input
          v-model="name"
          class="field"
          name="username"
          autocomplete="username"
          autocapitalize="none"
          maxlength="60"
          required
          autofocus
          :aria-invalid="said('name') ? 'true' : undefined"
      /></label>
      <label
        ><span class="label">Password</span
        ><input
          v-model="password"
          class="field"
          type="password"
          name="password"
          autocomplete="current-password"
          maxlength="200"
          required
          :aria-invalid="said('name') ? 'true' : undefined"
      /></label>
      <label class="flex min-h-12 items-center gap-3"
        ><input v-model="shared" type="checkbox" class="h-7 w-7 shrink-0 accent-act" /><span
          >Several of us use this device<span class="small quiet block"
            >Others then take over with one tap and their PIN.</span
          ></span
        ></label
      >
      <p v-if="said('name') || trouble" class="refusal" role="alert">{{ said('name') ?? trouble }}</p>
      <button class="btn btn-main min-h-14" :disabled="busy">{{ busy ? 'Signing in' : 'Sign in' }}</button>
    </form>
    <p class="small quiet mt-4">
      Forgotten? A password is set anew at the machine that runs Niddy, or by an owner under Makers. Nothing
      is ever sent anywhere.
    </p>
    <p v-if="here.readable" class="small mt-3 border-l-4 border-stop pl-3">
      Whoever is on this network can read along, and the bench does not come back by itself when the
      connection is lost and the page is loaded again. <span class="figure">./niddy certificate</span> at the
      machine ends both.
    </p>
  </div>
</template>
