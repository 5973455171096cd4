<script setup lang="ts">
/** The room of sludge: cans that clear, dishes that dry, cakes in stock, and what all of it saved. */
import { computed, ref } from 'vue'
import ColourChip from '@/kit/ColourChip.vue'
import { about, day, digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import CanDrawing from './CanDrawing.vue'
import CanForm from './CanForm.vue'
import { useSludge } from './room'
import SavedBox from './SavedBox.vue'
import Term from '@/kit/Term.vue'

const { data: room, isError } = useSludge()
const adding = ref(false)
const open = computed(() => (room.value?.dishes ?? []).filter((d) => d.status === 'open'))
const done = computed(() => (room.value?.dishes ?? []).filter((d) => d.status !== 'open').slice(0, 6))
useKeys(() => [
  { key: 'n', does: 'a new can', act: () => (adding.value = true) },
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
        Sludge<span class="quiet block text-base font-normal"
          >what settles in the brush-washing can: solvent to reuse, and a grey for a tube</span
        >
      </h1>
      <button v-if="!adding" type="button" class="btn btn-slab px-6" @click="adding = true">New can</button>
    </div>
    <CanForm v-if="adding" class="mb-5" @close="adding = false" />
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.45fr_1fr]">
      <div class="space-y-7">
        <section aria-labelledby="cans">
          <h2 id="cans" class="mb-1 text-lg">Cans</h2>
          <p v-if="!room.cans.length" class="quiet">
            None yet. Begin one, log each washing in two taps, and Niddy says when it is clear, what is in it,
            and when it is enough for a tube.
          </p>
          <ul>
            <li v-for="can in room.cans" :key="can.number" class="hairline">
              <RouterLink
                class="flex min-h-16 items-center gap-4 py-2 hover:bg-sheet"
                :to="`/sludge/cans/${can.number}`"
              >
                <CanDrawing
                  small
                  class="h-24 shrink-0"
                  :level="can.level"
                  :clear="can.settled.clear_now"
                  :end="can.settled.clear_in_the_end"
                  :colour="can.masstone_srgb"
                />
                <span class="min-w-0 flex-1 leading-snug"
                  ><strong class="font-semibold underline underline-offset-4">{{ can.name }}</strong
                  ><span class="quiet small block"
                    >can {{ can.number }}, {{ can.solvent_name.toLowerCase()
                    }}<template v-if="can.place">; {{ can.place }}</template
                    >; {{ can.washings }} washings<template v-if="can.leans"
                      >, {{ can.leans === 'neutral' ? 'a neutral grey' : `leans ${can.leans}` }}</template
                    ></span
                  ><span v-if="can.enough" class="small block">{{ can.enough.says }}</span></span
                >
                <span class="w-36 shrink-0 text-right font-semibold max-sm:w-24">{{
                  can.settled.ready ? 'clear enough to pour' : can.settled.says ? 'still settling' : ''
                }}</span>
              </RouterLink>
            </li>
          </ul>
        </section>
        <section v-if="open.length" aria-labelledby="dishes">
          <h2 id="dishes" class="mb-1 text-lg">Dishes that dry</h2>
          <ul>
            <li v-for="dish in open" :key="dish.number" class="hairline">
              <RouterLink
                class="flex min-h-16 items-center gap-x-4 py-1 hover:bg-sheet max-sm:flex-wrap"
                :to="`/sludge/dishes/${dish.number}`"
                ><ColourChip class="h-10 w-14" :colour="dish.masstone_srgb" /><span
                  class="min-w-0 flex-1 leading-snug max-sm:basis-[70%]"
                  ><strong class="font-semibold underline underline-offset-4">{{ dish.name }}</strong
                  ><span class="quiet small block"
                    >dish {{ dish.number }}<template v-if="dish.place">, {{ dish.place }}</template></span
                  ></span
                ><span class="text-right"
                  ><template v-if="dish.now_g != null"
                    ><span class="figure font-semibold">{{ digits(dish.now_g, 1) }}</span> g now<span
                      v-if="dish.dry_g != null"
                      class="quiet small block"
                      >about {{ digits(dish.dry_g, 0) }} g dry</span
                    ></template
                  ><template v-else>not weighed yet</template></span
                ><span class="w-36 shrink-0 text-right font-semibold max-sm:w-auto max-sm:flex-1"
                  ><template v-if="dish.ready_at">dry about {{ about(dish.ready_at) }}</template></span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
        <section aria-labelledby="cakes">
          <h2 id="cakes" class="mb-1 text-lg"><Term of="cake">Cakes</Term> in stock</h2>
          <p v-if="!room.cakes.length" class="quiet">
            None yet: a dish that is dry and strained becomes a lot of pigment.
          </p>
          <ul>
            <li v-for="cake in room.cakes" :key="cake.lot.id" class="hairline">
              <RouterLink
                class="flex min-h-14 items-center gap-4 py-1 hover:bg-sheet"
                :to="`/sludge/cakes/${cake.lot.id}`"
                ><ColourChip
                  v-if="cake.leans"
                  class="h-10 w-14"
                  :colour="cake.lot.masstone_srgb ?? '#8a8a8a'"
                /><span class="min-w-0 flex-1 leading-snug"
                  ><strong class="font-semibold underline underline-offset-4">{{ cake.lot.name }}</strong
                  ><span class="quiet small block"
                    >lot {{ cake.lot.code }}, {{ day(cake.lot.received_on) }};
                    {{
                      !cake.leans
                        ? 'colour not known yet'
                        : cake.leans === 'neutral'
                          ? 'a neutral grey'
                          : `leans ${cake.leans}`
                    }}</span
                  ></span
                ><span class="text-right"
                  ><span class="figure font-semibold">{{ grams(cake.lot.on_hand) }}</span> {{ massUnit() }}
                  <span class="quiet small block">left</span></span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
        <section v-if="done.length" aria-labelledby="past">
          <h2 id="past" class="mb-1 text-lg">Dishes done with</h2>
          <ul>
            <li v-for="dish in done" :key="dish.number" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3 hover:bg-sheet"
                :to="`/sludge/dishes/${dish.number}`"
                ><span class="min-w-0 flex-1">{{ dish.name }}, dish {{ dish.number }}</span
                ><span class="quiet small"
                  >{{ day(dish.started_at) }};
                  {{ dish.status === 'finished' ? 'into stock' : 'for disposal' }}</span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
      </div>
      <div class="space-y-7">
        <SavedBox :saved="room.saved" />
        <section class="border-l-4 border-stop pl-4" aria-labelledby="beware">
          <h2 id="beware" class="mb-1">Take care</h2>
          <p>
            Solvent: airflow, no flame, closed cans, none on the skin. Oily or solvent-wet paper can catch
            fire by itself: a water-filled metal can with a lid. Never the drain. Lead, cadmium or mercury in
            it: tools of its own. A mask once it is dry, licensed disposal.
          </p>
          <p class="small mt-1 font-semibold">
            Follow the safety data sheets, local codes and licensed disposal.
          </p>
        </section>
      </div>
    </div>
  </div>
</template>
