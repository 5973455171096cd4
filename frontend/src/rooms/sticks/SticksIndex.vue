<script setup lang="ts">
/** The room of sticks: pots on the heat, trials that wait, sets that were cast, bases, recipes, moulds. */
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import MouldsList from './MouldsList.vue'
import { useRoom, VERDICTS } from './room'
import TakeIn from '@/rooms/swap/TakeIn.vue'
import Term from '@/kit/Term.vue'

const router = useRouter()
const { data: room, isError } = useRoom()
const open = computed(() => (room.value?.pots ?? []).filter((p) => p.status === 'open'))
const waiting = computed(() => (room.value?.pots ?? []).filter((p) => p.waits && p.status !== 'open'))
const sets = computed(() => {
  const found = new Map<number, { name: string; pots: NonNullable<typeof room.value>['pots'] }>()
  for (const pot of room.value?.pots ?? []) {
    if (pot.set_id == null || pot.status === 'abandoned') continue
    const set = found.get(pot.set_id) ?? { name: pot.set_name, pots: [] }
    set.pots.push(pot)
    found.set(pot.set_id, set)
  }
  return [...found.entries()].sort((a, b) => b[0] - a[0])
})
const chosen = ref<number[]>([])
const beside = () => router.push({ path: '/sticks/bases/beside', query: { of: chosen.value.map(String) } })
useKeys(() => [
  { key: 'n', does: 'plan a stick or a set', act: () => void router.push('/sticks/plan') },
  { key: 'b', does: 'a new base', act: () => void router.push('/sticks/bases/new') },
])
</script>

<template>
  <p v-if="isError && !room" class="refusal py-10 text-lg" role="alert">
    The server does not answer. Nothing is lost; this screen tries again by itself.
  </p>
  <div v-else-if="room" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Sticks<span class="quiet block text-base font-normal"
          >pigment, <Term of="drying oil">drying oil</Term> and a <Term of="base">base</Term> of wax, melted
          and cast: paint that draws</span
        >
      </h1>
      <RouterLink class="btn btn-main btn-slab px-6" to="/sticks/plan">Plan a stick or a set</RouterLink>
      <RouterLink class="btn btn-slab px-6" to="/sticks/bases/new">New base</RouterLink>
    </div>
    <div class="grid gap-x-12 gap-y-7 lg:grid-cols-[1.35fr_1fr]">
      <div class="space-y-7">
        <section v-if="open.length" aria-labelledby="on-heat">
          <h2 id="on-heat" class="mb-1 text-lg">Pots begun</h2>
          <ul>
            <li v-for="pot in open" :key="pot.number" class="hairline">
              <RouterLink
                class="flex min-h-16 items-center gap-4 py-1 hover:bg-sheet"
                :to="`/sticks/${pot.number}`"
              >
                <ColourChip class="h-10 w-14" :colour="pot.masstone_srgb" />
                <span class="flex-1"
                  ><strong class="font-semibold underline underline-offset-4">{{ pot.name }}</strong
                  ><span class="quiet small block">pot {{ pot.number }}, {{ pot.set_name }}</span></span
                >
                <span v-if="pot.waits" class="font-semibold">{{ pot.waits }}</span>
                <span class="text-right"
                  >dent <span class="figure font-semibold">{{ digits(pot.target_dmm, 0) }}</span><span
                    class="quiet small block"
                    >wanted, 0.1 mm</span
                  ></span
                >
              </RouterLink>
            </li>
          </ul>
        </section>
        <section v-if="waiting.length" aria-labelledby="trials">
          <h2 id="trials" class="mb-1 text-lg">To look at</h2>
          <ul>
            <li v-for="pot in waiting" :key="pot.number" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
                :to="`/sticks/${pot.number}`"
                ><strong>{{ pot.waits }}</strong
                ><span class="flex-1">{{ pot.name }}, pot {{ pot.number }}</span></RouterLink
              >
            </li>
          </ul>
        </section>
        <section aria-labelledby="sets">
          <h2 id="sets" class="mb-1 text-lg">Sets</h2>
          <p v-if="!sets.length" class="quiet">
            None yet. Choose a base, colours and moulds; Niddy says what to weigh, how hot, and what to cast
            first.
          </p>
          <div v-for="[id, set] in sets" :key="id" class="hairline py-2">
            <h3 class="font-semibold">
              {{ set.name }}
              <span class="quiet small font-normal">{{ day(set.pots.at(-1)!.started_at) }}</span>
            </h3>
            <ul class="mt-1 flex flex-wrap gap-2">
              <li v-for="pot in [...set.pots].reverse()" :key="pot.number">
                <RouterLink
                  class="flex min-h-12 w-40 items-stretch border border-rule bg-white"
                  :to="`/sticks/${pot.number}`"
                >
                  <span class="w-8 shrink-0" :style="{ background: pot.masstone_srgb }" aria-hidden="true" />
                  <span class="small min-w-0 flex-1 px-2 py-1 leading-tight"
                    ><span class="block font-semibold">{{ pot.name }}</span
                    ><span class="quiet"
                      ><template v-if="pot.dent_dmm != null">dent {{ digits(pot.dent_dmm, 0) }}, </template
                      >{{
                        pot.status === 'open'
                          ? 'begun'
                          : pot.verdict
                            ? VERDICTS[pot.verdict]
                            : 'not tried yet'
                      }}</span
                    ></span
                  >
                </RouterLink>
              </li>
            </ul>
          </div>
        </section>
      </div>
      <div class="space-y-7">
        <section aria-labelledby="bases">
          <div class="mb-1 flex items-center gap-3">
            <h2 id="bases" class="flex-1 text-lg">Bases</h2>
            <button
              v-if="room.bases.length > 1"
              type="button"
              class="btn small"
              :disabled="chosen.length < 2 || chosen.length > 6"
              @click="beside"
            >
              {{ chosen.length < 2 ? 'Tick two to compare' : `Compare ${chosen.length}` }}
            </button>
          </div>
          <p v-if="!room.bases.length" class="quiet">
            None yet. <RouterLink class="underline" to="/sticks/bases/new">Begin with two waxes</RouterLink>:
            beeswax and a hard one.
          </p>
          <ul>
            <li v-for="base in room.bases" :key="base.id" class="hairline flex items-center gap-2 py-1">
              <label v-if="room.bases.length > 1" class="flex h-12 w-10 items-center justify-center"
                ><input v-model="chosen" type="checkbox" :value="base.id" class="h-6 w-6" />
                <span class="sr-only">Compare {{ base.name }}</span></label
              >
              <RouterLink class="min-w-0 flex-1 py-1" :to="`/sticks/bases/${base.id}`"
                ><strong class="font-semibold underline underline-offset-4">{{ base.name }}</strong
                ><span class="quiet small"> version {{ base.version }}</span
                ><span class="small block">{{ base.parts.join(', ') }}</span></RouterLink
              >
              <span class="text-right"
                >dent <span class="figure font-semibold">{{ digits(base.dent_dmm, 0) }}</span><span
                  class="quiet small block"
                  >{{ base.readings ? `${base.readings} readings` : 'worked out' }},
                  {{ base.pots }} pots</span
                ></span
              >
            </li>
          </ul>
        </section>
        <section aria-labelledby="recipes">
          <h2 id="recipes" class="mb-1 text-lg">Recipes of sticks</h2>
          <p v-if="!room.recipes.length" class="quiet">None yet. A pot that came out right becomes one.</p>
          <ul>
            <li v-for="recipe in room.recipes" :key="recipe.id" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
                :to="`/sticks/recipes/${recipe.id}`"
                ><span class="flex-1 font-semibold underline underline-offset-4">{{ recipe.name }}</span
                ><span class="small quiet"
                  >{{ recipe.base_name }}, dent {{ digits(recipe.target_dmm, 0) }}</span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
        <MouldsList :moulds="room.moulds" />
        <p class="small quiet">
          Waxes and resins are approximate general figures until readings of your own say otherwise.
        </p>
        <TakeIn what="base" />
      </div>
    </div>
  </div>
</template>
