<script setup lang="ts">
import { useTimeout } from '@vueuse/core'
import { useRoute, useRouter } from 'vue-router'
import { computed, watch } from 'vue'
import { useHome, useWorkshop } from './api/queries'
import { showMassIn } from './kit/format'
import KeysHelp from './kit/KeysHelp.vue'
import { keysOpen, useKeys } from './kit/keys'
import { refusedByRole, useHere } from './kit/here'
import CraftsMenu from './rooms/CraftsMenu.vue'
import MeMenu from './rooms/makers/MeMenu.vue'
import SignIn from './rooms/makers/SignIn.vue'
import { crafts, stations, waiting, type Station } from './rooms'

const route = useRoute()
const router = useRouter()
const { here, me, mustSignIn, isError } = useHere()
/** The page is there before the rooms behind it are: then it says so. */
const slow = useTimeout(700)
const { data: home } = useHome()
const { data: workshop } = useWorkshop()
watch(workshop, (kept) => kept && showMassIn(kept.settings.mass_unit === 'oz' ? 'oz' : 'g'))

/** The top line has the stations of the craft in hand; all else is behind the menu. */
const craft = computed(() => crafts.find((one) => one.key === route.meta.station))
const line = computed<Station[]>(() => (craft.value ? [craft.value, ...craft.value.stations] : stations))
const isHere = (one: Station) => (craft.value ? route.fullPath === one.to : route.meta.station === one.key)

useKeys(() => [
  { key: '0', does: 'go to the bench (home)', act: () => void router.push('/') },
  ...stations.map((station, n) => ({
    key: String(n + 1),
    does: `go to ${station.name}`,
    act: () => void router.push(station.to),
  })),
  { key: '9', does: 'go to Batches', act: () => void router.push('/batches') },
])
</script>

<template>
  <a href="#main" class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-white focus:p-3"
    >Skip to the work</a
  >
  <header class="no-print border-b-2 border-ink bg-page">
    <nav aria-label="The work" class="mx-auto flex max-w-[1400px] items-stretch overflow-x-auto px-3 sm:px-6">
      <RouterLink
        to="/"
        class="flex shrink-0 items-center gap-2 py-2 pr-2 text-xl font-bold lg:pr-6"
        :aria-current="route.path === '/' ? 'page' : undefined"
      >
        <img src="/mark.svg" alt="" width="30" height="30" />
        <span class="hidden lg:inline">Niddy</span>
        <span class="sr-only lg:hidden">Niddy, the bench</span>
      </RouterLink>
      <template v-if="!mustSignIn"
        ><RouterLink
          v-for="(station, n) in line"
          :key="station.key"
          :to="station.to"
          class="station"
          :class="isHere(station) ? 'font-bold' : ''"
          :aria-current="isHere(station) ? 'page' : undefined"
        >
          <span v-if="n" class="absolute bottom-0 left-0 h-2.5 border-l-2 border-ink" aria-hidden="true" />
          {{ station.name }}
          <span class="small quiet font-normal">{{ waiting(station, home) || '\u00a0' }}</span>
          <svg
            v-if="isHere(station)"
            viewBox="0 0 22 12"
            class="absolute bottom-0 left-1/2 h-3 w-[22px] -translate-x-1/2"
            aria-hidden="true"
          >
            <path d="M0 12h22L11 0z" fill="#171717" />
          </svg>
        </RouterLink>
        <span class="flex-1" />
        <RouterLink
          to="/batches"
          class="hidden min-h-14 shrink-0 items-center px-3 lg:flex"
          :class="route.meta.station === 'batches' ? 'font-bold' : ''"
          :aria-current="route.meta.station === 'batches' ? 'page' : undefined"
          >Batches</RouterLink
        >
        <RouterLink
          to="/workshop"
          class="hidden min-h-14 items-center px-3 lg:flex"
          :class="route.meta.station === 'workshop' ? 'font-bold' : ''"
          :aria-current="route.meta.station === 'workshop' ? 'page' : undefined"
          >Workshop</RouterLink
        >
        <CraftsMenu :home="home" />
        <button type="button" class="hidden min-h-14 items-center pl-3 lg:flex" @click="keysOpen.help = true">
          <kbd class="keycap mr-1.5">?</kbd> keys
        </button>
        <MeMenu v-if="here && me" :here="here" :me="me" />
      </template>
    </nav>
  </header>
  <p
    v-if="refusedByRole"
    class="refusal sticky top-0 z-30 border-b-2 border-stop bg-sheet px-3 py-3 text-lg sm:px-6"
    role="alert"
  >
    {{ refusedByRole }}.
  </p>
  <div
    v-for="pot in mustSignIn ? [] : (home?.left_alone ?? [])"
    :key="pot.number"
    class="refusal sticky top-0 z-30 flex flex-wrap items-center gap-x-4 border-b-4 border-stop bg-white p-3 text-lg"
    role="alert"
    data-part="left-alone"
  >
    <p class="min-w-60 flex-1 font-semibold">
      {{ pot.name }}, pot {{ pot.number }}: nothing done for {{ pot.minutes }} minutes. {{ pot.says }}
    </p>
    <RouterLink class="btn" :to="`/sticks/${pot.number}`">To the pot</RouterLink>
  </div>
  <main id="main" class="mx-auto max-w-[1400px] px-3 pb-10 sm:px-6">
    <p v-if="slow && !here && !isError" class="py-6 text-lg" role="status">Reading your records.</p>
    <SignIn v-if="here && mustSignIn && !route.meta.open" :here="here" />
    <RouterView v-else :key="`${me?.id} ${route.path}`" />
  </main>
  <KeysHelp />
</template>
