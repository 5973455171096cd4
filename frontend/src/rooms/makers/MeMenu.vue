<script setup lang="ts">
/** Who is here: hand a shared device on, pair a phone, sign out. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { changeHands, type Here } from '@/kit/here'
import { unreachable } from '@/kit/log/queue'
import { useTried } from '@/kit/tried'
import GivePassword from './GivePassword.vue'
import PairPhone from './PairPhone.vue'
import SwitchTo from './SwitchTo.vue'

defineProps<{ here: Here; me: Schemas['SomebodyHere'] }>()
const { trouble, busy, tried, refusal } = useTried()
const open = ref<'pair' | number>()
async function signOut(): Promise<void> {
  if (await tried(() => answered(api.POST('/api/makers/sign-out')))) await changeHands()
}
const ROLES = { owner: 'owner', maker: 'maker', looker: 'looks and prints' }
</script>

<template>
  <Popover v-slot="{ close }" class="sticky right-0 z-40 shrink-0 bg-page">
    <PopoverButton
      class="flex min-h-14 items-center px-2 font-bold"
      :aria-label="`${me.name} is signed in`"
      @click="open = undefined"
      ><span class="flex h-9 min-w-9 items-center justify-center rounded-full bg-ink px-1.5 text-white">{{
        me.initials || '?'
      }}</span></PopoverButton
    >
    <PopoverPanel
      class="fixed right-2 z-40 grid max-h-[85vh] w-80 max-w-[94vw] overflow-y-auto border-2 border-ink bg-sheet"
    >
      <p class="px-4 py-3 leading-tight">
        <strong>{{ me.name }}</strong><span class="small quiet block"
          >{{ ROLES[me.role] }}{{ me.role === 'owner' && !me.owns ? ', by PIN: as a maker' : '' }}</span
        >
      </p>
      <GivePassword v-if="me.role === 'owner' && !me.owns" class="hairline px-4 py-3" @done="close()" />
      <template v-for="other in here.others ?? []" :key="other.id">
        <button
          v-if="other.ready"
          type="button"
          class="hairline flex min-h-14 items-center gap-3 px-4 text-left hover:bg-act-wash"
          :aria-expanded="open === other.id"
          :disabled="unreachable"
          @click="open = open === other.id ? undefined : other.id"
        >
          <span
            class="flex h-9 min-w-9 items-center justify-center rounded-full border-2 border-ink px-1.5 font-bold"
            >{{ other.initials }}</span>{{ other.name }} takes over
        </button>
        <p v-else class="hairline small quiet flex min-h-12 items-center px-4">
          {{ other.name }}: by password, no PIN that works
        </p>
        <SwitchTo v-if="open === other.id" :other="other" class="px-4 pb-3" @done="close()" />
      </template>
      <button
        v-if="me.by !== 'pin'"
        type="button"
        class="hairline flex min-h-14 items-center px-4 text-left hover:bg-act-wash"
        @click="open = open === 'pair' ? undefined : 'pair'"
      >
        Pair a phone
      </button>
      <PairPhone v-if="open === 'pair'" class="px-4 pb-3" />
      <RouterLink
        to="/makers"
        class="hairline flex min-h-14 items-center px-4 hover:bg-act-wash"
        @click="close()"
        >Makers, devices, who did what</RouterLink
      >
      <button
        type="button"
        class="hairline flex min-h-14 items-center px-4 text-left hover:bg-act-wash"
        :disabled="busy"
        @click="signOut"
      >
        Sign out
      </button>
      <p v-if="trouble || refusal" class="refusal px-4 pb-3" role="alert">{{ refusal?.words ?? trouble }}</p>
    </PopoverPanel>
  </Popover>
</template>
