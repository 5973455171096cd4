<script setup lang="ts">
/** Colour: the studio's paints in numbers, the white, charts, and the way to a mixture. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { useRouter } from 'vue-router'
import AddPaint from './AddPaint.vue'
import PaintChip from './PaintChip.vue'
import { dE, HOW, nameOf, useMixing, wants } from './room'
import SureBars from './SureBars.vue'
import WhiteBox from './WhiteBox.vue'

const { data: room, isError } = useMixing()
const queries = useQueryClient()
const router = useRouter()
const adding = ref(false)
const here = computed(() => room.value?.here ?? [])
const gone = computed(() => room.value?.gone ?? [])
const read = computed(() => here.value.filter((group) => group.first.lab != null))
const unread = computed(() => here.value.filter((group) => group.first.lab == null))
async function added(id: number): Promise<void> {
  adding.value = false
  void queries.invalidateQueries({ queryKey: ['mixing'] })
  await router.push(`/mixing/paints/${id}`)
}
async function sight(white_id: number | null, shine: 'with' | 'without' | 'off'): Promise<void> {
  queries.setQueryData(
    ['mixing'],
    await answered(api.PUT('/api/mixing/sight', { body: { white_id, shine } })),
  )
  void queries.invalidateQueries({ queryKey: ['mixing'] })
}
useKeys(() => [
  { key: 'f', does: 'find a mixture', act: () => void router.push('/mixing/find') },
  { key: 'n', does: 'a new chart', act: () => void router.push('/mixing/charts/new') },
  { key: 'Escape', does: 'close what is open', act: () => (adding.value = false), when: () => adding.value },
])
</script>

<template>
  <p v-if="isError && !room" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; this screen tries again by itself.
  </p>
  <div v-else-if="room" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Colour<span class="quiet block text-base font-normal"
          >read each paint twice; see every mixture before you mix it</span
        >
      </h1>
      <RouterLink class="btn btn-slab px-6" to="/mixing/charts/new">New chart</RouterLink>
      <RouterLink class="btn btn-main btn-slab px-6" to="/mixing/find">Find a mixture</RouterLink>
    </div>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.35fr_1fr]">
      <section aria-labelledby="paints">
        <div class="flex flex-wrap items-baseline gap-x-3">
          <h2 id="paints" class="flex-1 text-lg">Paints in the studio</h2>
          <p class="small quiet">{{ read.length }} of {{ here.length }} read</p>
        </div>
        <p v-if="!here.length" class="quiet">
          None yet. Tubes and jars on the shelf come here by themselves; add a bought one below. A reader’s
          figures, a photograph with a grey card, or a guess on the screen will do.
        </p>
        <ul class="mt-1">
          <li v-for="{ first, older } in read" :key="first.id" class="hairline">
            <RouterLink
              class="flex min-h-16 items-center gap-4 py-1.5 hover:bg-sheet"
              :to="`/mixing/paints/${first.id}`"
              ><PaintChip :masstone="first.srgb" :tint="first.tint_srgb" :alone="first.white" /><span
                class="min-w-0 flex-1 leading-snug"
                ><strong class="font-semibold underline underline-offset-4">{{ nameOf(first) }}</strong
                ><span class="quiet small block">{{
                  first.white ? 'the white that tints are let down with' : HOW[first.how]
                }}</span
                ><span
                  v-if="wants(first)"
                  class="small block font-semibold"
                  :class="first.trouble ? 'text-stop' : ''"
                  >{{ wants(first) }}</span
                ></span
              ><span v-if="first.strength != null" class="small text-right leading-snug max-sm:hidden"
                ><span class="figure font-semibold">{{ digits(first.strength, 2) }}</span> times<span
                  class="quiet block"
                  >as strong, squares say</span
                ></span
              ><SureBars :how="first.how"
            /></RouterLink>
            <details v-if="older.length" class="mb-1 ml-24">
              <summary class="small quiet min-h-9 py-1.5">
                {{ older.length }} more {{ older.length === 1 ? 'lot' : 'lots' }} of it
              </summary>
              <ul class="mb-2 flex flex-wrap gap-2">
                <li v-for="lot in older" :key="lot.id">
                  <RouterLink class="btn small px-3" :to="`/mixing/paints/${lot.id}`"
                    >batch {{ lot.batch_number }}</RouterLink
                  >
                </li>
              </ul>
            </details>
          </li>
        </ul>
        <h3 v-if="unread.length" class="mt-4 mb-1 font-semibold">Not read yet</h3>
        <ul class="grid gap-x-6 sm:grid-cols-2">
          <li v-for="{ first } in unread" :key="first.id" class="hairline">
            <RouterLink
              class="flex min-h-14 items-center gap-3 py-1 leading-tight hover:bg-sheet"
              :to="`/mixing/paints/${first.id}`"
              ><ColourChip class="h-10 w-14" :colour="first.srgb" /><span
                ><span class="underline underline-offset-4">{{ nameOf(first) }}</span
                ><span class="small quiet block">a guess from its swatch</span></span
              ></RouterLink
            >
          </li>
        </ul>
        <AddPaint v-if="adding" class="mt-3" @added="added" @close="adding = false" />
        <button v-else type="button" class="btn mt-3 px-5" @click="adding = true">Add a paint</button>
        <details v-if="gone.length" class="mt-4">
          <summary class="min-h-12 py-3 font-semibold">
            {{ gone.length }} used up: the charts they are on keep them
          </summary>
          <ul>
            <li v-for="paint in gone" :key="paint.id" class="hairline">
              <RouterLink class="flex min-h-12 items-center gap-3" :to="`/mixing/paints/${paint.id}`"
                ><PaintChip :masstone="paint.srgb" :tint="paint.tint_srgb" />{{ nameOf(paint) }}</RouterLink
              >
            </li>
          </ul>
        </details>
      </section>
      <div class="space-y-7">
        <section aria-labelledby="charts">
          <h2 id="charts" class="mb-1 text-lg">Charts</h2>
          <p v-if="!room.charts.length" class="quiet">
            None yet. A chart is predicted at once; print it, paint it, read it back, and its squares teach
            how strong each paint is.
          </p>
          <ul>
            <li v-for="chart in room.charts" :key="chart.number" class="hairline">
              <RouterLink
                class="flex min-h-16 items-center gap-3 py-1.5 hover:bg-sheet"
                :to="`/mixing/charts/${chart.number}`"
                ><span class="min-w-0 flex-1 leading-snug"
                  ><strong class="font-semibold underline underline-offset-4">{{ chart.name }}</strong
                  ><span class="quiet small block"
                    >chart {{ chart.number }}, {{ day(chart.started_at) }},
                    {{ chart.paints.length }} paints</span
                  ></span
                ><span class="w-36 shrink-0 text-right"
                  ><span class="figure font-semibold">{{ chart.read }}</span> of
                  <span class="figure">{{ chart.squares }}</span><span class="quiet small block"
                    >squares read</span
                  ><span
                    v-if="chart.after != null && chart.before != null"
                    class="small block whitespace-nowrap"
                    ><span class="figure">{{ dE(chart.before) }}</span> to
                    <span class="figure font-semibold">{{ dE(chart.after) }}</span> ΔE00</span
                  ></span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
        <WhiteBox :room="room" :sight="sight" />
        <section class="border-l-4 border-rule pl-4" aria-labelledby="out">
          <h2 id="out" class="mb-1">Take readings elsewhere</h2>
          <p class="small">
            <a class="underline" href="/api/mixing/readings.txt" download>Spectra</a> or
            <a class="underline" href="/api/mixing/readings.txt?spectra=false" download>Lab</a> of every
            paint, as CGATS.17 text.
          </p>
        </section>
        <p class="small quiet">
          Predicted by two constants a paint (Kubelka and Munk) under a surface (Saunderson), seen by the 2°
          observer in D50; differences are ΔE00. 1 is just seen, 3 looks close.
        </p>
      </div>
    </div>
  </div>
</template>
