<script setup lang="ts">
/** A maker, new or changed: name, initials, role; a first password, or a new one for who lost theirs. */
import { ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useTried } from '@/kit/tried'

type Makers = readonly Schemas['MakerKept'][]
const props = defineProps<{ maker?: Schemas['MakerKept'] }>()
const emit = defineEmits<{ kept: [makers: Makers]; cancelled: [] }>()
const name = ref(props.maker?.name ?? '')
const initials = ref(props.maker?.initials ?? '')
const role = ref<Schemas['MakerRole']>(props.maker?.role ?? 'maker')
const password = ref('')
const { trouble, refusal, busy, said, tried } = useTried()
async function keep(): Promise<void> {
  const body = { name: name.value, initials: initials.value, role: role.value }
  await tried(async () => {
    if (!props.maker) {
      const made = { ...body, password: password.value }
      emit('kept', await answered(api.POST('/api/makers', { body: made })))
      return
    }
    const params = { path: { maker_id: props.maker.id } }
    if (password.value) {
      const secret = { password: password.value }
      await answered(api.PUT('/api/makers/{maker_id}/password', { params, body: secret }))
      password.value = ''
    }
    emit('kept', await answered(api.PUT('/api/makers/{maker_id}', { params, body })))
  })
}
const FIELDS = ['name', 'initials', 'role', 'password']
</script>

<template>
  <form class="mt-2 grid grid-cols-[1fr_6rem] gap-3 border-2 border-rule bg-sheet p-3" @submit.prevent="keep">
    <label
      ><span class="label">Name to sign in with</span
      ><input
        v-model="name"
        class="field"
        maxlength="60"
        autofocus
        autocomplete="off"
        :aria-invalid="said('name') ? 'true' : undefined"
      /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
    >
    <label
      ><span class="label">Initials</span
      ><input v-model="initials" class="field" maxlength="4" autocomplete="off" /><span
        v-if="said('initials')"
        class="refusal"
        role="alert"
        >{{ said('initials') }}</span
      ></label
    >
    <label class="col-span-2"
      ><span class="label">Role</span
      ><select v-model="role" class="field">
        <option value="owner">owner: everything, also makers and settings</option>
        <option value="maker">maker: works</option>
        <option value="looker">looker: sees and prints</option>
      </select>
      <span v-if="said('role')" class="refusal" role="alert">{{ said('role') }}</span></label
    >
    <label class="col-span-2"
      ><span class="label">{{
        maker ? 'New password, if lost' : 'First password; they change it themselves'
      }}</span
      ><input
        v-model="password"
        class="field"
        type="password"
        autocomplete="new-password"
        maxlength="200"
        :aria-invalid="said('password') ? 'true' : undefined"
      /><span v-if="said('password')" class="refusal" role="alert">{{ said('password') }}</span></label
    >
    <p v-if="trouble || (refusal && !FIELDS.some(said))" class="refusal col-span-2" role="alert">
      {{ trouble || refusal?.words }}
    </p>
    <div class="col-span-2 flex gap-3">
      <button class="btn btn-main" :disabled="busy">Keep</button>
      <button type="button" class="btn" @click="emit('cancelled')">Cancel</button>
    </div>
  </form>
</template>
