<script setup lang="ts">
/** An owner who took a shared device over by PIN is a maker there, until the password is given beside it. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { useTried } from '@/kit/tried'

const emit = defineEmits<{ done: [] }>()
const queries = useQueryClient()
const password = ref('')
const { said, trouble, busy, tried } = useTried('nothing was changed')
async function give(): Promise<void> {
  const body = { password: password.value }
  if (!(await tried(() => answered(api.POST('/api/makers/me/proof', { body }))))) return
  password.value = ''
  await queries.invalidateQueries({ queryKey: ['here'] })
  emit('done')
}
</script>

<template>
  <form class="grid gap-2" @submit.prevent="give">
    <label
      ><span class="label">Your password, to do what an owner may for ten minutes</span
      ><input
        v-model="password"
        class="field"
        type="password"
        autocomplete="current-password"
        maxlength="200"
        :aria-invalid="said('password') ? 'true' : undefined"
      /><span v-if="said('password') || trouble" class="refusal" role="alert">{{
        said('password') || trouble
      }}</span></label
    >
    <button class="btn" :disabled="busy || !password">Go on as owner</button>
  </form>
</template>
