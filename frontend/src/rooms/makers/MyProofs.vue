<script setup lang="ts">
/** One's own password, and a PIN for shared devices. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { useHere } from '@/kit/here'
import { useTried } from '@/kit/tried'

const queries = useQueryClient()
const { here } = useHere()
const old = ref('')
const password = ref('')
const pin = ref('')
const proof = ref('')
const done = ref('')
const ofPassword = useTried('nothing was changed')
const ofPin = useTried('nothing was changed')
async function setPassword(): Promise<void> {
  done.value = ''
  const body = { old: old.value, password: password.value }
  if (await ofPassword.tried(() => answered(api.PUT('/api/makers/me/password', { body })))) {
    old.value = password.value = ''
    done.value = 'Your password is changed; your other devices are signed out.'
    void queries.invalidateQueries({ queryKey: ['devices'] })
  }
}
async function setPin(): Promise<void> {
  done.value = ''
  const body = { pin: pin.value || null, password: proof.value }
  if (await ofPin.tried(() => answered(api.PUT('/api/makers/me/pin', { body })))) {
    done.value = pin.value ? 'Your PIN is set.' : 'You have no PIN now.'
    pin.value = proof.value = ''
    void queries.invalidateQueries({ queryKey: ['makers'] })
  }
}
const share = useTried('nothing was changed')
async function setShared(shared: boolean): Promise<void> {
  await share.tried(() => answered(api.PUT('/api/makers/shared', { body: { shared } })))
  void queries.invalidateQueries({ queryKey: ['here'] })
}
</script>

<template>
  <section aria-labelledby="mine">
    <h2 id="mine" class="mb-1 text-lg">Yours</h2>
    <p v-if="done" role="status" class="mb-2 font-semibold">{{ done }}</p>
    <label class="flex min-h-12 items-center gap-3"
      ><input
        type="checkbox"
        class="h-7 w-7 shrink-0 accent-act"
        :checked="!!here?.others"
        @change="setShared(($event.target as HTMLInputElement).checked)"
      />Several of us use this device: others take over by PIN</label
    >
    <p v-if="share.trouble.value" class="refusal" role="alert">{{ share.trouble.value }}</p>
    <form class="mt-2 grid items-start sm:grid-cols-2 gap-3" @submit.prevent="setPin">
      <label
        ><span class="label">PIN, 4 to 8 digits; empty for none</span
        ><input
          v-model="pin"
          class="field figure"
          inputmode="numeric"
          autocomplete="off"
          maxlength="20"
        /><span v-if="ofPin.said('pin')" class="refusal" role="alert">{{ ofPin.said('pin') }}</span></label
      >
      <label
        ><span class="label">Your password</span
        ><input
          v-model="proof"
          class="field"
          type="password"
          autocomplete="current-password"
          maxlength="200"
        /><span v-if="ofPin.said('password')" class="refusal" role="alert">{{
          ofPin.said('password')
        }}</span></label
      >
      <div class="sm:col-span-2">
        <button class="btn" :disabled="ofPin.busy.value">Set the PIN</button>
        <span v-if="ofPin.trouble.value" class="refusal ml-3" role="alert">{{ ofPin.trouble.value }}</span>
      </div>
    </form>
    <form class="mt-5 grid items-start sm:grid-cols-2 gap-3" @submit.prevent="setPassword">
      <label
        ><span class="label">Password now</span
        ><input
          v-model="old"
          class="field"
          type="password"
          autocomplete="current-password"
          maxlength="200"
        /><span v-if="ofPassword.said('old')" class="refusal" role="alert">{{
          ofPassword.said('old')
        }}</span></label
      >
      <label
        ><span class="label">New password</span
        ><input
          v-model="password"
          class="field"
          type="password"
          autocomplete="new-password"
          maxlength="200"
        /><span v-if="ofPassword.said('password')" class="refusal" role="alert">{{
          ofPassword.said('password')
        }}</span></label
      >
      <div class="sm:col-span-2">
        <button class="btn" :disabled="ofPassword.busy.value">Change the password</button>
        <span v-if="ofPassword.trouble.value" class="refusal ml-3" role="alert">{{
          ofPassword.trouble.value
        }}</span>
      </div>
    </form>
  </section>
</template>
