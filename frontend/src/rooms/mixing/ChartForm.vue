<script setup lang="ts">
/** A new chart: which paints across and down, how they are mixed, which rows are let down with white. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, type Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { librarySource } from '@/kit/source'
import { useTried } from '@/kit/tried'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import PaintChip from './PaintChip.vue'
import { digits } from '@/kit/format'
import { everyPaint, nameOf, BY, useMixing, type Line } from './room'

const MOST = 24
const { data: room } = useMixing()
const router = useRouter()
const queries = useQueryClient()
const picked = ref<number[]>([])
const name = ref('')
const row = ref<number | null>(1)
const column = ref<number | null>(1)
const lower = ref<Schemas['Lower']>('with_white')
const white = ref<number | null>(1)
const rows = ref<number[]>([1, 4, 10])
const thin = ref(false)
const { refusal, trouble, busy, said, tried, once } = useTried('what you chose is kept')
const groups = computed(() => (room.value?.here ?? []).filter(({ first }) => !first.white))
const open = ref<string[]>([])
const paints = computed(() => new Map(everyPaint(room.value).map((paint) => [paint.id, paint])))
const toggle = (id: number) =>
  (picked.value = picked.value.includes(id)
    ? picked.value.filter((one) => one !== id)
    : [...picked.value, id])
const LOWER: [Schemas['Lower'], string][] = [
  ['with_white', 'the pair with white'],
  ['other_way', 'the pair the other way round'],
  ['empty', 'nothing'],
]
const WHITE_ROWS = [0.5, 1, 2, 4, 10, 20]
const toggleRow = (parts: number) =>
  (rows.value = (
    rows.value.includes(parts) ? rows.value.filter((one) => one !== parts) : [...rows.value, parts]
  ).sort((a, b) => a - b))
/** Weight or volume: as this studio measures, until the maker says otherwise. */
const chosenBy = ref<Schemas['PartsBy']>()
const by = computed(() => chosenBy.value ?? room.value?.by ?? 'weight')
const layout = computed(() => ({
  row_parts: row.value ?? 0,
  column_parts: column.value ?? 0,
  lower: lower.value,
  white_parts: white.value ?? 0,
  white_rows: rows.value,
  by: by.value,
  thin: thin.value,
}))
const sheet = computed(() => ({ ...layout.value, paints: picked.value.length }))
const { data: toBe } = useQuery({
  queryKey: ['mixing', 'sheet', sheet],
  queryFn: () => answered(api.POST('/api/mixing/charts/preview', { body: sheet.value })),
  enabled: computed(() => picked.value.length > 0),
  placeholderData: (before) => before,
  retry: false,
})
/** The place a paint has on the chart, 0 where it has none. */
const placeOf = (line: Line) => picked.value.indexOf(line.id) + 1
async function added(body: { source: string; white: boolean }): Promise<void> {
  await tried(async () => {
    const asked = { tinting: 'medium' as const, swatch_srgb: '#808080', ...body }
    const made = await answered(api.POST('/api/mixing/paints', { body: { ...asked, id: once(body).id } }))
    await queries.invalidateQueries({ queryKey: ['mixing'] })
    if (!body.white) picked.value.push(made.id)
  })
}
const addBy = (source: string) => added({ source, white: false })
const usualWhite = () => added({ source: librarySource('titanium-white-rutile'), white: true })
async function make(): Promise<void> {
  await tried(async () => {
    const body = {
      name: name.value,
      paint_ids: picked.value,
      ...layout.value,
    }
    const made = await answered(api.POST('/api/mixing/charts', { body: { ...body, id: once(body).id } }))
    void queries.invalidateQueries({ queryKey: ['mixing'] })
    void queries.invalidateQueries({ queryKey: ['home'] })
    await router.push(`/mixing/charts/${made.number}`)
  })
}
</script>

<template>
  <form v-if="room" class="pt-5" @submit.prevent="make">
    <h1 class="mb-3">New chart</h1>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1.3fr_1fr]">
      <section aria-labelledby="which">
        <h2 id="which" class="mb-1 text-lg">
          Paints, in the order you tap them{{ ' '
          }}<span class="quiet font-normal"> {{ picked.length }} of up to {{ MOST }}</span>
        </h2>
        <ul class="grid gap-2 sm:grid-cols-2">
          <template v-for="{ first, older } in groups" :key="first.id">
            <li
              v-for="line in open.includes(first.name) ? [first, ...older] : [first]"
              :key="line.id"
              class="flex"
            >
              <button
                type="button"
                class="flex min-h-16 min-w-0 flex-1 items-center gap-3 border-2 px-2 text-left leading-tight"
                :class="placeOf(line) ? 'border-act bg-act-wash' : 'border-line bg-sheet'"
                :aria-pressed="!!placeOf(line)"
                :disabled="!placeOf(line) && picked.length >= MOST"
                @click="toggle(line.id)"
              >
                <PaintChip :masstone="line.srgb" :tint="line.tint_srgb" />
                <span class="min-w-0 flex-1">{{ nameOf(line) }}</span>
                <span v-if="placeOf(line)" class="figure text-xl font-semibold">{{
                  String.fromCharCode(64 + placeOf(line))
                }}</span>
              </button>
              <button
                v-if="line === first && older.length && !open.includes(first.name)"
                type="button"
                class="btn btn-quiet small"
                :aria-label="`${older.length} more lots of ${first.name}`"
                @click="open.push(first.name)"
              >
                +{{ older.length }}
              </button>
            </li>
          </template>
        </ul>
        <MaterialPicker
          :key="picked.length"
          class="mt-2 max-w-md"
          model-value=""
          kind="pigment"
          :label="groups.length ? 'Or another, by its pigment' : 'A paint, by its pigment'"
          :refusal="said('source') ?? said('name')"
          @update:model-value="addBy"
        />
        <p class="small quiet">Its colour is the library's until it is read: a guess, and said so.</p>
        <span v-if="said('paint_ids') || said('paints')" class="refusal" role="alert">{{
          picked.length ? (said('paint_ids') ?? said('paints')) : 'No paint is chosen. Choose 1 to 24.'
        }}</span>
      </section>
      <div class="space-y-5">
        <label class="block"
          ><span class="label">Name</span
          ><input v-model="name" class="field" maxlength="120" placeholder="by its paints, if left empty"
        /></label>
        <fieldset>
          <legend class="label">Parts on this chart</legend>
          <OneOf :model-value="by" :of="BY" @update:model-value="chosenBy = $event" />
        </fieldset>
        <fieldset>
          <legend class="label">Above the line of paints alone, parts</legend>
          <div class="flex items-end gap-2">
            <NumberField v-model="row" class="w-28" label="of the row’s" :refusal="said('row_parts')" />
            <span class="pb-3">to</span>
            <NumberField
              v-model="column"
              class="w-28"
              label="of the column’s"
              :refusal="said('column_parts')"
            />
          </div>
        </fieldset>
        <fieldset>
          <legend class="label">Below the line</legend>
          <OneOf v-model="lower" :of="LOWER" />
          <NumberField
            v-if="lower === 'with_white'"
            v-model="white"
            class="mt-2 w-60"
            label="White to one part of the pair"
            unit="parts"
            :refusal="said('white_parts')"
          />
        </fieldset>
        <fieldset>
          <legend class="label">Rows of each paint with white, parts of white to one of paint</legend>
          <div class="flex flex-wrap gap-1.5">
            <button
              v-for="parts in WHITE_ROWS"
              :key="parts"
              type="button"
              class="btn figure min-w-14 px-3"
              :class="rows.includes(parts) ? 'bg-ink! text-white' : ''"
              :aria-pressed="rows.includes(parts)"
              @click="toggleRow(parts)"
            >
              {{ parts }}
            </button>
          </div>
          <span v-if="said('white_rows')" class="refusal" role="alert">{{ said('white_rows') }}</span>
        </fieldset>
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="thin" type="checkbox" class="size-6" />A thin column: each paint over white and
          black</label
        >
        <p
          v-if="!room.white_ready && (rows.length || lower === 'with_white')"
          class="border-l-4 border-stop pl-3"
        >
          <template v-if="room.white_id == null"
            >Which white? One of your own is chosen under
            <RouterLink class="underline" to="/mixing">Colour</RouterLink>.
            <button type="button" class="btn mt-2" :disabled="busy" @click="usualWhite">
              A usual titanium white
            </button></template
          ><template v-else
            >Your white is not read yet: it is taken for a usual one.
            <RouterLink class="underline" :to="`/mixing/paints/${room.white_id}`">Read it</RouterLink> when
            you can.</template
          >
        </p>
        <p aria-live="polite">
          <template v-if="picked.length && toBe"
            ><span class="figure text-3xl font-semibold">{{ toBe.squares }}</span> squares<span class="quiet"
              >, <span class="figure">{{ digits(toBe.side_mm, 0) }}</span> mm each on one A4 sheet</span
            ></template
          ><span v-else class="quiet">Tap the paints that go on it.</span>
        </p>
        <div>
          <button class="btn btn-main btn-slab px-8" :disabled="busy || !picked.length">Predict it</button>
          <p v-if="said('white_id')" class="refusal" role="alert">{{ said('white_id') }}</p>
          <p v-else-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
          <p
            v-else-if="
              refusal &&
              !['paint_ids', 'paints', 'row_parts', 'column_parts', 'white_parts', 'white_rows'].some(said)
            "
            class="refusal"
            role="alert"
          >
            {{ refusal.words }}
          </p>
        </div>
        <p v-if="picked.length" class="small quiet">
          Across and down: {{ picked.map((id) => paints.get(id)?.name).join(', ') }}
        </p>
      </div>
    </div>
  </form>
</template>
