<script setup lang="ts">
/** A cake in stock: what is in it, and which of the studio's paints brings its colour where it is wanted. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { digits, grams, massUnit } from '@/kit/format'

const props = defineProps<{ number: number }>()
const path = { lot_id: props.number }
const { data, error } = useQuery({
  queryKey: ['lot', props.number],
  queryFn: () => answered(api.GET('/api/materials/lots/{lot_id}', { params: { path } })),
})
const lot = computed(() => data.value?.lot)
const GREYS: [Schemas['Grey'], string][] = [
  ['neutral', 'a neutral grey'],
  ['warm', 'a warm grey'],
  ['cool', 'a cool grey'],
]
const grey = ref<Schemas['Grey']>('neutral')
const own = ref('')
const looks = ref('')
/** Most of it was never logged: its colour is what somebody sees. */
const unseen = computed(() => lot.value?.cake?.colour_known === false && !looks.value)
const asked = computed(() => ({ wish: grey.value, srgb: own.value || null, looks: looks.value || null }))
const { data: steering, error: refused } = useQuery({
  queryKey: ['steer', props.number, asked],
  enabled: () => !!lot.value && !unseen.value,
  queryFn: () =>
    answered(api.POST('/api/sludge/cakes/{lot_id}/steer', { params: { path }, body: asked.value })),
  placeholderData: (before) => before,
})
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
</script>

<template>
  <section v-if="gone || (lot && !lot.cake)" class="py-12">
    <h1>There is no cake of sludge {{ number }}.</h1>
    <RouterLink class="underline" to="/sludge">All of the sludge</RouterLink>
  </section>
  <p v-else-if="error && !data" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="lot?.cake" class="pt-4">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <ColourChip v-if="!unseen" class="h-16 w-28" :colour="looks || (lot.masstone_srgb ?? '#8a8a8a')" />
      <h1 class="min-w-60 flex-1">
        {{ lot.name
        }}<span class="quiet block text-base font-normal"
          >lot {{ lot.code }}, from
          <RouterLink class="underline" :to="`/sludge/dishes/${lot.cake.dish_number}`"
            >dish {{ lot.cake.dish_number }}</RouterLink
          ></span
        >
      </h1>
      <p class="text-right">
        <span class="figure text-4xl font-semibold">{{ grams(lot.on_hand) }}</span>{{ ' '
        }}<span class="quiet">{{ massUnit() }} left</span
        ><span v-if="lot.liquid_share" class="small block"
          ><span class="figure">{{ digits(100 * lot.liquid_share, 0) }}</span> % of it liquid</span
        >
      </p>
    </div>
    <div class="mb-5 flex flex-wrap gap-3">
      <RouterLink class="btn btn-main px-6" :to="{ path: '/plan', query: { lot: number } }"
        >Plan a batch of it</RouterLink
      >
      <RouterLink v-if="!lot.liquid_share" class="btn px-6" to="/rub-out">Rub it out</RouterLink>
      <RouterLink class="btn px-6" :to="`/stock/${number}`">The lot</RouterLink>
      <RouterLink class="btn px-6" :to="`/lineage/lots/${number}`">Where it went</RouterLink>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1.5fr_1fr]">
      <section aria-labelledby="steer">
        <h2 id="steer" class="mb-2 text-xl">Steer its colour</h2>
        <label class="mb-3 flex min-h-12 flex-wrap items-center gap-x-3"
          ><span :class="unseen ? 'text-lg font-semibold' : 'quiet'">{{
            unseen ? 'What colour is a dab of it? Nobody logged what is in it.' : 'The cake looks like this'
          }}</span
          ><input
            type="color"
            class="h-14 w-20 border-2 border-rule bg-white p-1"
            aria-label="The colour of the cake"
            :value="looks || (unseen ? '#808080' : (lot.masstone_srgb ?? '#808080'))"
            @change="looks = ($event.target as HTMLInputElement).value"
        /></label>
        <div
          v-if="!unseen"
          class="flex flex-wrap items-end gap-2"
          role="group"
          aria-label="What it should be"
        >
          <button
            v-for="[key, name] in GREYS"
            :key="key"
            type="button"
            class="btn btn-slab px-4"
            :class="grey === key && !own ? 'border-4 border-act bg-act-wash' : ''"
            :aria-pressed="grey === key && !own"
            @click="((grey = key), (own = ''))"
          >
            {{ name }}
          </button>
          <label class="flex min-h-12 items-center gap-2"
            ><span class="quiet">or this colour</span
            ><input
              type="color"
              class="h-14 w-20 border-2 border-rule bg-white p-1"
              aria-label="Another colour"
              :value="own || lot.masstone_srgb || '#808080'"
              @change="own = ($event.target as HTMLInputElement).value"
          /></label>
        </div>
        <span v-if="refused && !steering" class="refusal" role="alert">{{
          refused instanceof Refused ? refused.words : 'The server does not answer.'
        }}</span>
        <template v-if="steering">
          <p class="mt-3 text-lg">
            It {{ steering.leans === 'neutral' ? 'is neutral already' : `leans ${steering.leans}` }}, and is
            <strong>{{ steering.says }}</strong> what is wanted<span class="quiet">
              (ΔE00 <span class="figure">{{ digits(steering.off, 1) }}</span>)</span
            >
          </p>
          <div
            class="mt-2 flex h-14 max-w-md border-4 border-[#bdbdbd]"
            role="img"
            aria-label="The cake beside what is wanted"
          >
            <span class="flex-1" :style="{ background: steering.cake_srgb }" />
            <span class="flex-1" :style="{ background: steering.aim_srgb }" />
          </div>
          <p class="small quiet flex max-w-md">
            <span class="flex-1">the cake</span><span class="flex-1">wanted</span>
          </p>
          <p v-if="!steering.ways.length" class="mt-3 text-lg">No paint you have would bring it closer.</p>
          <ol v-else class="mt-3" aria-label="Ways">
            <li
              v-for="way in steering.ways"
              :key="way.paint.id"
              class="hairline flex items-center gap-3 py-1.5"
            >
              <span class="flex h-12 w-28 shrink-0 border-4 border-[#bdbdbd]" aria-hidden="true"
                ><span class="flex-1" :style="{ background: way.paint.masstone_srgb }" /><span
                  class="flex-[2]"
                  :style="{ background: way.masstone_srgb }"
              /></span>
              <span class="min-w-0 flex-1"
                ><strong>{{ way.paint.name }}</strong
                ><span class="quiet small block"
                  >{{ way.says }} it, ΔE00 <span class="figure">{{ digits(way.off, 1) }}</span><template
                    v-if="way.read && way.may_be_off != null"
                    >, may be off by <span class="figure">{{ digits(way.may_be_off, 0) }}</span>; the paint
                    was read</template
                  ></span
                ></span
              >
              <span class="text-right"
                ><span class="figure text-2xl font-semibold">{{
                  digits(way.g_per_100g, way.g_per_100g < 3 ? 2 : 1)
                }}</span>
                g<span class="quiet small block">to 100 g of the cake</span></span
              >
            </li>
          </ol>
          <p class="small quiet mt-2">
            A guess for the eye: the cake by its swatch, paints nobody read by general figures. Begin with
            half of it and look. <RouterLink class="underline" to="/mixing">Read your paints</RouterLink> and
            it comes nearer.
          </p>
        </template>
      </section>
      <div class="space-y-4">
        <section aria-labelledby="parts">
          <h2 id="parts" class="mb-1">What was washed off</h2>
          <ul>
            <li v-for="part in lot.cake.parts" :key="part.name" class="hairline flex gap-2 py-0.5">
              <span class="min-w-0 flex-1">{{ part.name }}</span><span class="figure"
                >{{ digits(100 * part.share, 0) }} %</span
              >
            </li>
            <li
              v-if="lot.cake.unknown_share > 0.004"
              class="hairline flex gap-2 py-0.5 font-semibold text-stop"
            >
              <span class="flex-1">nobody knows what</span
              ><span class="figure">{{ digits(100 * lot.cake.unknown_share, 0) }} %</span>
            </li>
          </ul>
        </section>
        <section aria-labelledby="hazards">
          <h2 id="hazards" class="mb-1">Hazards of all that went in</h2>
          <p>
            <strong>{{ lot.hazards.join(', ').replaceAll('-', ' ') || 'none known' }}</strong>
          </p>
          <p class="small mt-1">
            Tools of its own, a mask while it is dry, licensed disposal of what is left. Follow the safety
            data sheets and local codes.
          </p>
        </section>
        <p v-if="lot.cake.wet_enough" class="border-l-4 border-ink pl-3">
          Old oil may be enough for it: it may need no oil at all, or dry chalk.
        </p>
        <p class="quiet">
          What oil it takes is expected, and wide. Its first rub-out, or batch, teaches the next cake of the
          same can.
        </p>
      </div>
    </div>
  </div>
</template>
