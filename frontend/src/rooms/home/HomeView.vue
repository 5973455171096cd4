<script setup lang="ts">
/** Home is three things: what is on the bench now, what today asks for, what needs attention. */
import { useHome } from '@/api/queries'
import { ago, grams, massUnit } from '@/kit/format'
import ColourChip from '@/kit/ColourChip.vue'
import NotTaken from '@/kit/log/NotTaken.vue'
import Swatch from '@/kit/Swatch.vue'
import DayBrief from '@/rooms/day/DayBrief.vue'
import FirstQuestion from './FirstQuestion.vue'

const { data: home, isError } = useHome()
</script>

<template>
  <p v-if="isError && !home" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; look at its window.
  </p>
  <FirstQuestion v-else-if="home?.empty" />
  <div v-else-if="home" class="grid gap-x-12 gap-y-6 pt-6 lg:grid-cols-[1.5fr_1fr]">
    <section class="min-w-0" aria-labelledby="on-bench">
      <p v-if="home.studio_name" class="quiet">{{ home.studio_name }}</p>
      <h1 id="on-bench" class="mb-3">On the bench</h1>
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
      <div v-if="!home.on_bench.length" class="mb-4 flex flex-wrap items-center gap-3">
        <p v-if="!home.open_pots.length" class="mr-2 text-lg">Nothing is on the slab.</p>
        <RouterLink class="btn btn-main btn-slab px-6" to="/plan">Plan a batch</RouterLink>
      </div>
      <article
        v-for="open in home.on_bench"
        :key="open.batch.number"
        class="mb-4 border-2 border-ink bg-sheet"
      >
        <div class="flex items-center gap-4 p-3 pb-2">
          <Swatch
            class="max-sm:hidden"
            :masstone="open.batch.masstone_srgb"
            :undertone="open.undertone_srgb"
            :name="open.batch.name"
            :width="150"
            :height="56"
          />
          <ColourChip class="h-12 w-16 sm:hidden" :colour="open.batch.masstone_srgb" />
          <div class="min-w-0 flex-1">
            <h2 class="text-xl">{{ open.batch.name }}</h2>
            <p class="quiet small">
              batch {{ open.batch.number }}, begun {{ ago(open.batch.started_at, home.now) }};
              <span class="figure">{{ grams(open.batch.pigment_g + open.batch.oil_g) }}</span>
              {{ massUnit() }} on the slab
            </p>
          </div>
        </div>
        <div class="flex flex-wrap items-center gap-x-6 gap-y-2 border-t border-line px-3 py-2">
          <p class="min-w-48 flex-1 text-lg">
            <strong
              >{{ open.line }}<template v-if="open.told">, {{ open.told }}</template
              ><template v-else-if="open.grams != null"
                >, <span class="figure">{{ grams(open.grams) }}</span> {{ massUnit() }}</template
              ></strong
            >
            <span class="quiet small block">{{ open.reason }}</span>
          </p>
          <RouterLink class="btn btn-main px-6 text-lg max-sm:w-full" :to="`/slab/${open.batch.number}`"
            >Go to the slab</RouterLink
          >
        </div>
      </article>
      <RouterLink
        v-for="pot in home.open_pots"
        :key="pot.number"
        class="mb-3 flex min-h-14 items-center gap-4 border-2 border-ink bg-sheet px-3 py-2"
        :to="`/sticks/${pot.number}`"
        ><ColourChip class="h-9 w-12" :colour="pot.masstone_srgb" /><span class="min-w-0 flex-1 leading-tight"
          ><strong>{{ pot.name }}</strong
          ><span class="quiet small block"
            >pot {{ pot.number }}, begun {{ ago(pot.started_at, home.now) }}</span
          ></span
        ><span class="font-semibold underline underline-offset-4">Go to the pot</span></RouterLink
      >
    </section>
    <div class="min-w-0 space-y-6 lg:pt-2">
      <section v-if="home.attention.length" aria-labelledby="attention">
        <h2 id="attention" class="mb-1 text-xl">Needs attention</h2>
        <ul>
          <li v-for="one in home.attention" :key="one.says" class="hairline">
            <RouterLink class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet" :to="one.page"
              ><span
                class="h-8 shrink-0 border-l-4"
                :class="one.harm ? 'border-stop' : 'border-rule'"
                aria-hidden="true"
              /><span class="underline decoration-1 underline-offset-4">{{ one.says }}</span></RouterLink
            >
          </li>
        </ul>
      </section>
      <DayBrief
        :said="[
          ...home.attention.map((one) => one.page),
          ...home.open_pots.map((pot) => `/sticks/${pot.number}`),
        ]"
      />
    </div>
  </div>
</template>
