<script setup lang="ts">
/** The room of making pigment: processes, and what a new one starts from. */
import { useRouter } from 'vue-router'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { computed } from 'vue'
import { pretty } from '@/kit/formula'
import { TAKES, TEMPLATES, useMaking } from './room'
import TakeIn from '@/rooms/swap/TakeIn.vue'
import Term from '@/kit/Term.vue'

const router = useRouter()
const { data: room, isError } = useMaking()
const going = computed(() => room.value?.runs.filter((one) => one.status === 'open') ?? [])
const done = computed(() => room.value?.runs.filter((one) => one.status !== 'open') ?? [])
const suspects = computed(() => room.value?.raw.filter((one) => one.suspect) ?? [])
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
          >precipitates and <Term of="lake">lakes</Term>: what to weigh, what may come of it, what is left
          over</span
        >
      </h1>
      <RouterLink class="btn btn-main btn-slab px-6" to="/making/new">New process</RouterLink>
    </div>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.4fr_1fr]">
      <div class="space-y-7">
        <section v-if="going.length" aria-labelledby="going">
          <h2 id="going" class="mb-1 text-lg">Going on</h2>
          <RouterLink
            v-for="one in going"
            :key="one.number"
            class="mb-2 flex min-h-20 flex-wrap items-center gap-x-6 border-2 border-ink bg-sheet p-3"
            :to="`/making/runs/${one.number}`"
            ><span class="min-w-48 flex-1 leading-snug"
              ><strong class="text-xl underline underline-offset-4">{{ one.name }}</strong
              ><span class="quiet small block"
                >run {{ one.number }}, begun {{ day(one.started_at) }}</span
              ></span
            ><span class="leading-snug"
              ><span class="quiet">Next: </span><strong>{{ one.says }}</strong
              ><span v-if="one.ready_at" class="small block">ready about {{ day(one.ready_at) }}</span></span
            ></RouterLink
          >
        </section>
        <section aria-labelledby="processes">
          <h2 id="processes" class="mb-1 text-lg">Processes</h2>
          <p v-if="!room.processes.length" class="quiet">
            None yet. Write one down once, from a sheet on the right, and Niddy works out every run of it.
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
        <section v-if="done.length" aria-labelledby="done">
          <h2 id="done" class="mb-1 text-lg">Runs</h2>
          <ul>
            <li v-for="one in done" :key="one.number" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
                :to="`/making/runs/${one.number}`"
                ><span class="min-w-0 flex-1"
                  ><span class="underline underline-offset-4">{{ one.name }}, run {{ one.number }}</span
                  ><span v-if="one.light_due_at" class="quiet small block"
                    >light test: look {{ day(one.light_due_at) }}</span
                  ></span
                ><span
                  v-if="one.takes"
                  class="small"
                  :class="one.takes === 'well' ? '' : 'font-semibold text-stop'"
                  >{{ TAKES[one.takes] }}</span
                ><span class="figure">{{ one.says }}</span></RouterLink
              >
            </li>
          </ul>
        </section>
      </div>
      <div class="space-y-7">
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
        <section aria-labelledby="raw">
          <h2 id="raw" class="mb-1 text-lg">Raw materials</h2>
          <p v-if="!room.raw.length" class="quiet">
            None in stock. Receive them in <RouterLink class="underline" to="/stock">Stock</RouterLink>, as
            raw: runs are weighed from them.
          </p>
          <p v-for="lot in suspects" :key="lot.id" class="mb-1 border-l-4 border-stop pl-3">
            <strong class="text-stop">Under suspicion:</strong> {{ lot.name }}, lot {{ lot.code }}:
            {{ lot.suspect }}
          </p>
          <ul>
            <li v-for="lot in room.raw" :key="lot.id" class="hairline">
              <RouterLink class="flex min-h-12 items-center gap-3 hover:bg-sheet" :to="`/stock/${lot.id}`"
                ><span class="min-w-0 flex-1"
                  ><span class="underline underline-offset-4">{{ lot.name }}</span
                  ><span class="quiet small block"
                    >{{ lot.code }}<template v-if="lot.formula">, {{ pretty(lot.formula) }}</template></span
                  ></span
                ><span class="figure">{{ digits(lot.on_hand, 0) }}</span
                ><span class="quiet">g</span></RouterLink
              >
            </li>
          </ul>
        </section>
        <section aria-labelledby="waste">
          <h2 id="waste" class="mb-1 text-lg">Waste book</h2>
          <RouterLink class="flex min-h-12 items-center underline" to="/making/waste"
            ><span class="figure">{{ digits(room.kept_waste_ml / 1000, 1) }}</span
            >&nbsp;litres are kept for disposal</RouterLink
          >
        </section>
        <TakeIn what="process" />
      </div>
    </div>
  </div>
</template>
