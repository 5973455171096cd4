<script setup lang="ts">
import { useHome } from '@/api/queries'
import { ago, day, grams, massUnit } from '@/kit/format'
import NotTaken from '@/kit/log/NotTaken.vue'
import Swatch from '@/kit/Swatch.vue'
import DueList from '@/rooms/checks/DueList.vue'
import VerdictMark from '@/rooms/batches/VerdictMark.vue'

const { data: home, isError } = useHome()
</script>

<template>
  <p v-if="isError && !home" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; look at its window.
  </p>
  <div v-else-if="home" class="grid gap-x-12 gap-y-8 pt-6 lg:grid-cols-[1.7fr_1fr]">
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
      <p v-if="!home.on_bench.length" class="text-lg">
        The slab is clean. <RouterLink class="underline" to="/plan">Plan a batch</RouterLink> to begin.
      </p>
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

      <h2 class="mt-8 mb-2 text-lg">Done lately</h2>
      <p v-if="!home.recent.length" class="quiet">No batch is finished yet.</p>
      <ul>
        <li v-for="batch in home.recent" :key="batch.number" class="hairline">
          <RouterLink
            class="flex min-h-14 items-center gap-4 py-1 hover:bg-sheet"
            :to="`/batches/${batch.number}`"
          >
            <span
              class="h-9 w-14 border-4 border-[#bdbdbd]"
              :style="{ background: batch.masstone_srgb }"
              aria-hidden="true"
            />
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

    <div class="space-y-8 lg:pt-2">
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
      <section v-if="home.halos.length" aria-labelledby="halos">
        <h2 id="halos" class="mb-2 text-lg">Halos to read</h2>
        <ul>
          <li v-for="line in home.halos" :key="line.id" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 underline decoration-1 underline-offset-4"
              :to="`/additives/ladders/${line.id}`"
              >{{ line.name }}</RouterLink
            >
          </li>
        </ul>
      </section>
      <section aria-labelledby="next">
        <h2 id="next" class="mb-2 text-lg">Next to grind</h2>
        <p v-if="!home.plans.length" class="quiet mb-2">No plan is kept.</p>
        <ul>
          <li v-for="plan in home.plans" :key="plan.id" class="hairline">
            <RouterLink
              class="flex min-h-12 flex-col justify-center py-1 hover:bg-sheet"
              :to="{ path: '/plan', query: { kept: plan.id } }"
            >
              <span class="font-semibold underline decoration-1 underline-offset-4">{{ plan.name }}</span>
              <span class="quiet small">kept {{ ago(plan.saved_at, home.now) }}</span>
            </RouterLink>
          </li>
        </ul>
        <RouterLink class="btn mt-3" to="/plan">Plan a batch</RouterLink>
      </section>
      <section v-if="home.due.length" aria-labelledby="due">
        <h2 id="due" class="mb-2 text-lg">Due today and this week</h2>
        <DueList :due="home.due.slice(0, 6)" />
        <RouterLink v-if="home.due.length > 6" class="btn btn-quiet" to="/checks"
          >All {{ home.due.length }}</RouterLink
        >
      </section>
      <section v-if="home.pots.length" aria-labelledby="sticks">
        <h2 id="sticks" class="mb-2 text-lg">Sticks</h2>
        <ul>
          <li v-for="pot in home.pots" :key="pot.number" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/sticks/${pot.number}`"
              ><span
                class="h-8 w-11 shrink-0 border-4 border-[#bdbdbd]"
                :style="{ background: pot.masstone_srgb }"
                aria-hidden="true"
              /><span class="min-w-0 flex-1">{{ pot.name }}, pot {{ pot.number }}</span
              ><span class="small font-semibold">{{ pot.waits || 'begun' }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.sludge.dishes.length || home.sludge.cans.length" aria-labelledby="sludge">
        <h2 id="sludge" class="mb-2 text-lg">Sludge</h2>
        <ul>
          <li v-for="dish in home.sludge.dishes" :key="`dish-${dish.number}`" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/sludge/dishes/${dish.number}`"
              ><span
                class="h-8 w-11 shrink-0 border-4 border-[#bdbdbd]"
                :style="{ background: dish.masstone_srgb }"
                aria-hidden="true"
              /><span class="min-w-0 flex-1">{{ dish.name }}, dish {{ dish.number }}</span
              ><span class="small font-semibold">{{
                dish.ready_at ? `dry about ${day(dish.ready_at).slice(0, -5)}` : 'to weigh'
              }}</span></RouterLink
            >
          </li>
          <li v-for="can in home.sludge.cans" :key="`can-${can.number}`" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/sludge/cans/${can.number}`"
              ><span
                class="h-8 w-11 shrink-0 border-4 border-[#bdbdbd]"
                :style="{ background: can.masstone_srgb }"
                aria-hidden="true"
              /><span class="min-w-0 flex-1 leading-tight"
                >{{ can.name
                }}<span v-if="can.enough" class="quiet small block">{{ can.enough.says }}</span></span
              ><span v-if="can.settled.ready" class="small font-semibold">clear to pour</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.making.length" aria-labelledby="making">
        <h2 id="making" class="mb-2 text-lg">Pigment being made</h2>
        <ul>
          <li v-for="run in home.making" :key="run.number" class="hairline">
            <RouterLink
              class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
              :to="`/making/runs/${run.number}`"
              ><span class="min-w-0 flex-1 leading-tight"
                >{{ run.name }}, run {{ run.number
                }}<span class="quiet small block">{{
                  run.status === 'open' ? run.says : 'lift the cover of its light test'
                }}</span></span
              ><span v-if="run.ready_at" class="small font-semibold"
                >ready about {{ day(run.ready_at).slice(0, -5) }}</span
              ><span v-else-if="run.light_due_at" class="small font-semibold">light test</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.at_risk.length" aria-labelledby="risk">
        <h2 id="risk" class="mb-2 text-lg">At risk on the shelf</h2>
        <ul>
          <li v-for="line in home.at_risk" :key="line.id" class="hairline">
            <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="`/shelf/${line.id}`"
              ><span
                class="h-8 w-11 shrink-0 border-4 border-[#bdbdbd]"
                :style="{ background: line.masstone_srgb }"
                aria-hidden="true"
              /><span class="min-w-0 flex-1"
                >{{ line.name }} <span class="quiet small">{{ line.code }}</span></span
              ><span class="small font-semibold">{{
                line.past_use_by ? 'past its use-by' : line.last_outcome ? line.last_seen : ''
              }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <section v-if="home.inspect.length" aria-labelledby="inspect">
        <h2 id="inspect" class="mb-2 text-lg">To inspect on the shelf</h2>
        <ul>
          <li v-for="line in home.inspect.slice(0, 3)" :key="line.id" class="hairline">
            <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="`/shelf/${line.id}`"
              ><span
                class="h-8 w-11 shrink-0 border-4 border-[#bdbdbd]"
                :style="{ background: line.masstone_srgb }"
                aria-hidden="true"
              /><span class="min-w-0 flex-1"
                >{{ line.name }} <span class="quiet small">{{ line.code }}, {{ line.place }}</span></span
              ><span class="small quiet">{{ day(line.next_inspection_on!) }}</span></RouterLink
            >
          </li>
        </ul>
        <RouterLink v-if="home.counts.shelf > 3" class="btn btn-quiet -ml-2" to="/shelf?show=due&sort=due"
          >All {{ home.counts.shelf }}</RouterLink
        >
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
    </div>
  </div>
</template>
