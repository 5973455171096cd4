<script setup lang="ts">
/** One base: its versions, what readings say of it, what was cast of it, its blocks in stock. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, api, Refused } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits } from '@/kit/format'
import BaseFacts from './BaseFacts.vue'
import MeltBlock from './MeltBlock.vue'
import { VERDICTS } from './room'
import HandOver from '@/rooms/swap/HandOver.vue'

const props = defineProps<{ number: number }>()
const version = ref<number>()
watch(
  () => props.number,
  () => (version.value = undefined),
)
const { data: page, error } = useQuery({
  queryKey: ['base', () => props.number, version],
  queryFn: () =>
    answered(
      api.GET('/api/sticks/bases/{base_id}', {
        params: { path: { base_id: props.number }, query: { version: version.value ?? null } },
      }),
    ),
})
const shown = computed(() => page.value?.shown)
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const melting = ref(false)
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no base {{ number }}.</h1>
    <RouterLink class="underline" to="/sticks">All of the sticks</RouterLink>
  </section>
  <div v-else-if="page && shown" class="pt-5">
    <div class="mb-3 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ shown.name
        }}<span class="quiet block text-base font-normal"
          >a base, version {{ shown.version }}<template v-if="shown.why">: {{ shown.why }}</template
          ><template v-if="shown.note">; {{ shown.note }}</template></span
        >
      </h1>
      <HandOver :id="number" kind="base" />
      <RouterLink class="btn btn-main btn-slab px-6" :to="{ path: '/sticks/plan', query: { base: number } }"
        >Plan sticks of it</RouterLink
      >
      <RouterLink class="btn btn-slab px-5" :to="`/sticks/bases/${number}/change`">New version</RouterLink>
      <button v-if="!melting" type="button" class="btn btn-slab px-5" @click="melting = true">
        Cast a block
      </button>
    </div>
    <div
      v-if="page.versions.length > 1"
      class="mb-3 flex flex-wrap gap-1.5"
      role="group"
      aria-label="Versions"
    >
      <button
        v-for="v in page.versions"
        :key="v"
        type="button"
        class="btn px-3"
        :class="v === shown.version ? 'bg-ink! text-white' : ''"
        :aria-pressed="v === shown.version"
        @click="version = v"
      >
        version {{ v }}
      </button>
    </div>
    <MeltBlock v-if="melting" class="mb-5" :base="shown" @done="melting = false" />
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[1fr_1fr]">
      <section aria-label="What it comes to"><BaseFacts :base="shown" /></section>
      <div class="space-y-6">
        <section aria-labelledby="cast">
          <h2 id="cast" class="mb-1 text-lg">Cast of this version</h2>
          <p v-if="!shown.cast.length" class="quiet">Nothing yet.</p>
          <ul>
            <li v-for="pot in shown.cast" :key="pot.number" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3 py-1 hover:bg-sheet"
                :to="`/sticks/${pot.number}`"
              >
                <ColourChip class="h-8 w-10" :colour="pot.masstone_srgb" />
                <span class="min-w-0 flex-1"
                  >{{ pot.name }} <span class="quiet small">{{ day(pot.started_at) }}</span></span
                >
                <span class="small text-right whitespace-nowrap"
                  ><template v-if="pot.dent_dmm != null"
                    >dent <span class="figure font-semibold">{{ digits(pot.dent_dmm, 0) }}</span> of
                    {{ digits(pot.target_dmm, 0) }} wanted</template
                  ></span
                >
                <strong class="w-20 text-right">{{
                  pot.verdict ? VERDICTS[pot.verdict] : pot.status === 'open' ? 'begun' : ''
                }}</strong>
              </RouterLink>
            </li>
          </ul>
        </section>
        <section aria-labelledby="blocks">
          <h2 id="blocks" class="mb-1 text-lg">Blocks in stock</h2>
          <p v-if="!shown.blocks.length" class="quiet">None: sticks of it are melted fresh.</p>
          <ul>
            <li v-for="block in shown.blocks" :key="block.lot_id" class="hairline">
              <RouterLink class="flex min-h-12 items-center gap-3" :to="`/stock/${block.lot_id}`"
                ><span class="flex-1 underline underline-offset-4">{{ block.code }}</span
                ><span
                  ><span class="figure font-semibold">{{ digits(block.on_hand_g, 0) }}</span> g</span
                ></RouterLink
              >
            </li>
          </ul>
        </section>
        <p class="small quiet">
          Hot wax burns: water bath where it will do, thermometer, lid at hand, no water into it. Follow the
          safety data sheets, local codes and licensed disposal.
        </p>
      </div>
    </div>
  </div>
</template>
