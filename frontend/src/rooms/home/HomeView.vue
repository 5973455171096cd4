<script setup lang="ts">
import { computed } from 'vue'
import { useHome } from '@/api/queries'
import ColourChip from '@/kit/ColourChip.vue'
import { ago, day, grams, massUnit } from '@/kit/format'
import NotTaken from '@/kit/log/NotTaken.vue'
import Swatch from '@/kit/Swatch.vue'
import DayAside from '@/rooms/day/DayAside.vue'
import DayPlan from '@/rooms/day/DayPlan.vue'
import VerdictMark from '@/rooms/batches/VerdictMark.vue'

const { data: home, isError } = useHome()
const clean = computed(() => home.value?.slabs.every((slab) => slab.surface !== 'to_clean'))
</script>

<template>
  <p v-if="isError && !home" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; look at its window.
  </p>
  <div v-else-if="home" class="grid gap-x-12 gap-y-8 pt-6 lg:grid-cols-[1.9fr_1fr] print:block">
    <section aria-labelledby="on-bench">
      <p v-if="home.studio_name" class="quiet">{{ home.studio_name }}</p>
      <h1 id="on-bench" class="mb-4">On the bench</h1>
      <NotTaken />
      <section
        v-if="home.came_late.length"
        class="mb-4 border-2 border-stop bg-sheet p-3"
        aria-labelledby="came-late"
      >
        <h2 id="came-late" class="text-lg">Came late: take it in or leave it out</h2>
        <RouterLink
          v-for="line in home.came_late"
          :key="line.number"
          class="flex min-h-12 items-center underline"
          :to="`/slab/${line.number}`"
          >{{ line.name }}, batch {{ line.number }}: {{ line.acts }}
          {{ line.acts === 1 ? 'act' : 'acts' }}</RouterLink
        >
      </section>
      <div v-if="!home.on_bench.length" class="mb-5 flex flex-wrap items-center gap-3">
        <p v-if="clean" class="mr-2 text-lg">The slab is clean.</p>
        <RouterLink class="btn btn-main btn-slab px-6" to="/plan">Plan a batch</RouterLink>
        <RouterLink class="btn btn-slab px-6" to="/practice">Practise first, nothing is lost</RouterLink>
      </div>
      <article
        v-for="open in home.on_bench"
        :key="open.batch.number"
        class="mb-4 border-2 border-ink bg-sheet"
      >
        <div class="flex flex-wrap items-center gap-4 p-4 pb-3">
          <Swatch
            :masstone="open.batch.masstone_srgb"
            :undertone="open.undertone_srgb"
            :name="open.batch.name"
            :width="170"
            :height="64"
          />
          <div class="min-w-0 flex-1">
            <h2 class="text-xl">{{ open.batch.name }}</h2>
            <p class="quiet">
              batch {{ open.batch.number }}, begun {{ ago(open.batch.started_at, home.now) }}, in
              {{ open.batch.oil_name }}
            </p>
          </div>
          <p class="text-right">
            <span class="figure text-2xl font-semibold">{{
              grams(open.batch.pigment_g + open.batch.oil_g)
            }}</span>{{ ' ' }}<span class="quiet">{{ massUnit() }} on the slab</span>
          </p>
        </div>
        <div class="flex flex-wrap items-center gap-x-6 gap-y-2 border-t border-line px-4 py-3">
          <p class="flex-1 text-lg">
            <span class="quiet">Next: </span
            ><strong
              >{{ open.line }}<template v-if="open.told">, {{ open.told }}</template
              ><template v-else-if="open.grams != null"
                >, <span class="figure">{{ grams(open.grams) }}</span> {{ massUnit() }}</template
              ></strong
            >
            <span class="quiet small block">{{ open.reason }}</span>
          </p>
          <RouterLink class="btn btn-main px-6 text-lg" :to="`/slab/${open.batch.number}`"
            >Go to the slab</RouterLink
          >
        </div>
      </article>

      <DayPlan class="mt-6" :studio="home.studio_name" />
    </section>

    <div class="no-print space-y-8 lg:pt-2">
      <section v-if="home.past_use_by.length" class="border-l-4 border-stop pl-4" aria-labelledby="spoiled">
        <h2 id="spoiled" class="mb-1 text-lg text-stop">Past its use-by: throw it away</h2>
        <ul>
          <li v-for="batch in home.past_use_by" :key="batch.number" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/batches/${batch.number}`"
              ><span class="flex-1 font-semibold underline decoration-1 underline-offset-4"
                >{{ batch.name }}, batch {{ batch.number }}</span
              ><span class="small">use by {{ day(batch.use_by!) }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <DayAside />
      <section v-if="home.cans.some((can) => can.enough)" aria-labelledby="enough">
        <h2 id="enough" class="mb-2 text-lg">Sludge</h2>
        <ul>
          <li v-for="can in home.cans.filter((one) => one.enough)" :key="can.number" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/sludge/cans/${can.number}`"
              ><ColourChip class="h-8 w-11" :colour="can.masstone_srgb" /><span
                class="min-w-0 flex-1 leading-tight"
                >{{ can.name }}<span class="quiet small block">{{ can.enough!.says }}</span></span
              ><span v-if="can.settled.ready" class="small font-semibold">clear to pour</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.at_risk.length" aria-labelledby="risk">
        <h2 id="risk" class="mb-2 text-lg">At risk on the shelf</h2>
        <ul>
          <li v-for="line in home.at_risk" :key="line.id" class="hairline">
            <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="`/shelf/${line.id}`"
              ><ColourChip class="h-8 w-11" :colour="line.masstone_srgb" /><span class="min-w-0 flex-1"
                >{{ line.name }} <span class="quiet small">{{ line.code }}</span></span
              ><span class="small font-semibold">{{
                line.past_use_by ? 'past its use-by' : line.last_outcome ? line.last_seen : ''
              }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.low.length" aria-labelledby="low">
        <h2 id="low" class="mb-2 text-lg">Running low</h2>
        <ul>
          <li v-for="lot in home.low" :key="lot.id" class="hairline flex min-h-12 items-center gap-3">
            <RouterLink class="flex-1 underline decoration-1 underline-offset-4" :to="`/stock/${lot.id}`"
              >{{ lot.name }}, lot {{ lot.code }}</RouterLink
            >
            <span class="figure">{{ grams(lot.on_hand) }}</span><span class="quiet"
              >{{ massUnit() }} left</span
            >
          </li>
        </ul>
      </section>
      <section aria-labelledby="lately">
        <h2 id="lately" class="mb-2 text-lg">Finished lately</h2>
        <p v-if="!home.recent.length" class="quiet">No batch is finished yet.</p>
        <ul>
          <li v-for="batch in home.recent" :key="batch.number" class="hairline">
            <RouterLink
              class="flex min-h-14 items-center gap-4 py-1 hover:bg-sheet"
              :to="`/batches/${batch.number}`"
            >
              <ColourChip class="h-9 w-14" :colour="batch.masstone_srgb" />
              <span class="flex-1"
                ><strong class="font-semibold">{{ batch.name }}</strong
                >{{ ' '
                }}<span class="quiet small">batch {{ batch.number }}, {{ day(batch.started_at) }}</span></span
              >
              <span class="figure small"
                >{{ batch.tubes_filled }}
                <span class="quiet font-sans">{{ batch.tubes_filled === 1 ? 'tube' : 'tubes' }}</span></span
              >
              <VerdictMark v-if="batch.verdict" :verdict="batch.verdict" />
            </RouterLink>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>
