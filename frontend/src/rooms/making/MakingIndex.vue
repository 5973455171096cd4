<script setup lang="ts">
/** The room of making pigment: processes, and what a new one starts from. */
import { useRouter } from 'vue-router'
import { day } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { pretty, TEMPLATES, useMaking } from './room'

const router = useRouter()
const { data: room, isError } = useMaking()
useKeys(() => [{ key: 'n', does: 'a new process', act: () => void router.push('/making/new') }])
</script>

<template>
  <p v-if="isError && !room" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; this screen tries again by itself.
  </p>
  <div v-else-if="room" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Making pigment<span class="quiet block text-base font-normal"
          >precipitates and lakes: what to weigh, what may come of it, what is left over</span
        >
      </h1>
      <RouterLink class="btn btn-main btn-slab px-6" to="/making/new">New process</RouterLink>
    </div>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.4fr_1fr]">
      <section aria-labelledby="processes">
        <h2 id="processes" class="mb-1 text-lg">Processes</h2>
        <p v-if="!room.processes.length" class="quiet">
          None yet. Write one down once, from a sheet on the right, and Niddy reckons every run of it.
        </p>
        <ul>
          <li v-for="process in room.processes" :key="process.id" class="hairline">
            <RouterLink
              class="flex min-h-16 items-center gap-4 py-1 hover:bg-sheet"
              :to="`/making/${process.id}`"
            >
              <span class="min-w-0 flex-1 leading-snug"
                ><strong class="font-semibold underline underline-offset-4">{{ process.name }}</strong
                ><span class="quiet small block">{{ process.ingredients.join(', ') }}</span></span
              >
              <span class="text-right leading-snug"
                >{{ process.wanted ? pretty(process.wanted) : ''
                }}<span class="quiet small block"
                  >version {{ process.version }}, {{ day(process.made_at) }}</span
                ></span
              >
            </RouterLink>
          </li>
        </ul>
      </section>
      <section aria-labelledby="start">
        <h2 id="start" class="mb-2 text-lg">Start from</h2>
        <div class="grid gap-2">
          <RouterLink
            v-for="([name, says], key) in TEMPLATES"
            :key="key"
            class="btn btn-slab flex-col items-start gap-0 py-2 text-left"
            :to="{ path: '/making/new', query: { from: key } }"
            >{{ name }}<span class="quiet small font-normal">{{ says }}</span></RouterLink
          >
        </div>
        <p class="mt-4 border-l-4 border-stop pl-3">
          Niddy ships no recipe for anything poisonous. What you write down is yours, with the cautions its
          elements call for. Read the safety data sheets first; local codes and licensed disposal.
        </p>
      </section>
    </div>
  </div>
</template>
