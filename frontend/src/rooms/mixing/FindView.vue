<script setup lang="ts">
/** Find a mixture: a wanted colour, and which of the studio's paints come to it, in parts by weight. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import ColourPick from '@/kit/ColourPick.vue'
import ColourReading, { type Colour } from '@/kit/ColourReading.vue'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import FoundMixture from './FoundMixture.vue'
import MixingBeware from './MixingBeware.vue'
import { BY, dE, everyPaint, nameOf, PARTS_BY, useMixing } from './room'

type From = 'picker' | 'reading' | 'shelf' | 'grey'
const FROM: [From, string][] = [
  ['picker', 'Pick it'],
  ['reading', 'A reading or photograph'],
  ['shelf', 'A tube or jar'],
  ['grey', 'A grey from two'],
]
const route = useRoute()
const { data: room } = useMixing()
const numbered = (name: string) => Number(route.query[name]) || undefined
const item = ref(numbered('item'))
const paint = ref(numbered('paint'))
const from = ref<From>(item.value || paint.value ? 'shelf' : 'picker')
const picked = ref(typeof route.query.srgb === 'string' ? route.query.srgb : '#6c7f5a')
const colour = ref<Colour>({})
const taken = ref<Colour>()
const words = ref('')
const grey = ref<(number | '')[]>(['', ''])
const most = ref<1 | 2 | 3>(3)
const white = ref(true)
const guesses = ref(false)
const without = ref<number[]>([])
const total = ref<number | null>(40)
/** Weight or volume: as this studio measures, until the maker says otherwise. */
const by = ref<Schemas['PartsBy']>()

const asked = computed<Schemas['FindAsked'] | undefined>(() => {
  const how = {
    by: by.value,
    most: most.value,
    white: white.value,
    guesses: guesses.value,
    without_ids: without.value,
    total_g: total.value ?? 40,
  }
  if (from.value === 'picker') return { ...how, colour: { srgb: picked.value } }
  if (from.value === 'reading') return taken.value ? { ...how, colour: taken.value } : undefined
  if (from.value === 'shelf')
    return item.value
      ? { ...how, item_id: item.value }
      : paint.value
        ? { ...how, paint_id: paint.value }
        : undefined
  return grey.value.every((one) => one !== '') ? { ...how, grey_of: grey.value as number[] } : undefined
})
const settled = refDebounced(asked, 250)
const {
  data: found,
  error,
  isFetching,
} = useQuery({
  queryKey: ['mixing', 'find', settled],
  queryFn: () => answered(api.POST('/api/mixing/find', { body: settled.value! })),
  enabled: computed(() => !!settled.value),
  placeholderData: (before) => before,
})
const refusal = computed(() => (error.value instanceof Refused ? error.value : undefined))
/** A refusal with no field on this side of the screen stands where the mixtures would. */
const besideAField = computed(
  () =>
    !!refusal.value &&
    ((from.value === 'picker' && !!refusal.value.at('colour')) ||
      !!refusal.value.at('total_g') ||
      !!refusal.value.at('grey_of')),
)
const search = refDebounced(
  computed(() => words.value.trim()),
  200,
)
const { data: shelf } = useQuery({
  queryKey: ['shelf', 'for-colour', search],
  queryFn: () => answered(api.GET('/api/shelf', { params: { query: { words: search.value, limit: 10 } } })),
  enabled: computed(() => from.value === 'shelf'),
})
watch(from, () => (words.value = ''))
const choices = computed(() => (room.value?.here ?? []).map(({ first }) => first))
function leaveOut(id: number): void {
  without.value = [...without.value, id]
}
const out = computed(() => everyPaint(room.value).filter((one) => without.value.includes(one.id)))
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-3">Find a mixture</h1>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[22rem_1fr]">
      <section aria-label="What is wanted" class="space-y-4">
        <div class="grid grid-cols-2 gap-1.5" role="group" aria-label="Where the colour comes from">
          <button
            v-for="[key, name] in FROM"
            :key="key"
            type="button"
            class="btn px-2"
            :class="from === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="from === key"
            @click="from = key"
          >
            {{ name }}
          </button>
        </div>
        <div v-if="from === 'picker'">
          <ColourPick
            v-model="picked"
            large
            label="The colour you want, as this screen shows it"
            :refusal="refusal?.at('colour')"
          />
          <span class="small quiet">A guess: screens differ, and paint is no light.</span>
        </div>
        <form
          v-else-if="from === 'reading'"
          class="flex flex-wrap items-end gap-2"
          @submit.prevent="taken = { ...colour }"
        >
          <ColourReading v-model="colour" guess="#6c7f5a" :refusal="refusal" under="colour." />
          <button class="btn btn-main w-full">Find it</button>
        </form>
        <div v-else-if="from === 'shelf'">
          <label class="block"
            ><span class="label">Name, code or place on the shelf</span
            ><input v-model="words" class="field" maxlength="80"
          /></label>
          <ul class="mt-1 max-h-80 overflow-y-auto">
            <li v-for="one in shelf?.items ?? []" :key="one.id">
              <button
                type="button"
                class="flex min-h-12 w-full items-center gap-3 text-left hover:bg-act-wash"
                :class="item === one.id ? 'bg-act-wash font-semibold' : ''"
                :aria-pressed="item === one.id"
                @click="((item = one.id), (paint = undefined))"
              >
                <ColourChip class="h-9 w-12" :colour="one.masstone_srgb" />{{ one.name }}, {{ one.code }}
              </button>
            </li>
          </ul>
          <p v-if="shelf && !shelf.items.length" class="quiet">Nothing on the shelf by that word.</p>
        </div>
        <div v-else class="space-y-2">
          <label v-for="n in [0, 1]" :key="n" class="block"
            ><span class="label">{{ n ? 'and' : 'One paint' }}</span
            ><select v-model="grey[n]" class="field">
              <option value="">choose a paint</option>
              <option v-for="one in choices" :key="one.id" :value="one.id">{{ nameOf(one) }}</option>
            </select></label
          >
          <span v-if="refusal?.at('grey_of')" class="refusal" role="alert">{{ refusal.at('grey_of') }}</span>
        </div>
        <template v-if="from !== 'grey'">
          <fieldset>
            <legend class="label">Paints in it, at the most</legend>
            <div class="flex gap-1.5">
              <button
                v-for="n in [1, 2, 3] as const"
                :key="n"
                type="button"
                class="btn figure min-w-14"
                :class="most === n ? 'bg-ink! text-white' : ''"
                :aria-pressed="most === n"
                @click="most = n"
              >
                {{ n }}
              </button>
              <button
                type="button"
                class="btn flex-1 px-2"
                :class="white ? 'bg-ink! text-white' : ''"
                :aria-pressed="white"
                @click="white = !white"
              >
                and white
              </button>
            </div>
          </fieldset>
          <label class="flex min-h-12 items-center gap-3"
            ><input v-model="guesses" type="checkbox" class="h-6 w-6" />also paints nobody read</label
          >
        </template>
        <fieldset>
          <legend class="label">Parts</legend>
          <OneOf wide :model-value="by ?? found?.by ?? room?.by" :of="BY" @update:model-value="by = $event" />
        </fieldset>
        <NumberField
          v-model="total"
          class="w-40"
          label="For so much paint"
          unit="g"
          :refusal="refusal?.at('total_g')"
        />
        <p v-if="out.length" class="small">
          Left out:
          <button
            v-for="one in out"
            :key="one.id"
            type="button"
            class="btn btn-quiet"
            @click="without = without.filter((id) => id !== one.id)"
          >
            {{ one.name }}, use it again
          </button>
        </p>
      </section>
      <section aria-label="Mixtures" :aria-busy="isFetching">
        <p v-if="refusal && !besideAField" class="refusal text-lg" role="alert">{{ refusal.words }}</p>
        <p v-else-if="error && !refusal" class="refusal text-lg" role="alert">
          The server does not answer; try again.
        </p>
        <p v-else-if="!asked" class="quiet text-lg">Say which colour you want; the mixtures stand here.</p>
        <p v-else-if="!found" class="quiet text-lg">Mixing every paint with every other…</p>
        <template v-if="found && asked && !refusal">
          <p class="small quiet mb-2">
            From {{ found.chosen_from }} paints in the studio<template v-if="found.wanted_off > 4"
              >; the wanted colour itself is a guess, ±{{ dE(found.wanted_off) }} ΔE00</template
            ><template v-if="found.left_out"
              >; {{ found.left_out }} that nobody read {{ found.left_out === 1 ? 'is' : 'are' }} left
              out</template
            >.
          </p>
          <ol class="space-y-4">
            <FoundMixture
              v-for="(mixture, n) in found.mixtures"
              :key="n"
              :mixture="mixture"
              :wanted="found.wanted_srgb"
              :first="n === 0"
              :by="found.by"
              :may-leave="from !== 'grey'"
              @leave="leaveOut"
            />
          </ol>
          <MixingBeware class="mt-4" :beware="found.beware" />
          <p class="small quiet mt-3">
            Parts are {{ PARTS_BY[found.by]
            }}<template v-if="found.by === 'volume'">: spoons or dabs of one size</template>. Begin with the
            largest, add the strong ones a little at a time: a prediction is not the paint under the knife.
          </p>
        </template>
      </section>
    </div>
  </div>
</template>
