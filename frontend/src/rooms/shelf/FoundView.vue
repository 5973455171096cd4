<script setup lang="ts">
/** I don’t know what is in it, or paint that was bought: what can be read of it, its colour, how much there is. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, type Schemas } from '@/api/client'
import ColourPick from '@/kit/ColourPick.vue'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { useTried } from '@/kit/tried'

const router = useRouter()
const queries = useQueryClient()
const srgb = ref('#7a5a3c')
const container = ref('glass jar')
const volume = ref<number | null>(null)
const what = ref<Schemas['FoundAs']>('unknown')
const WHATS: [Schemas['FoundAs'], string][] = [
  ['unknown', 'Nobody knows what it is'],
  ['bought', 'Paint I bought'],
  ['shut', 'It will not open'],
]
const label = ref('')
const jar = ref<number>()
const full = ref<number>()
const SIZES = [
  [40, 'tube, 40 ml'],
  [150, 'tube, 150 ml'],
  [100, 'little jar, 100 ml'],
  [370, 'jam jar, 370 ml'],
] as const
const FULL = [
  [0.1, 'a little'],
  [0.25, 'a quarter'],
  [0.5, 'half'],
  [0.75, 'three quarters'],
  [1, 'full'],
] as const
const year = ref<number | null>(null)
const month = ref<number | null>(null)
const gross = ref<number | null>(null)
const tare = ref<number | null>(null)
const place = ref('')
const note = ref('')
const name = ref('')
const dated = ref<'' | 'made' | 'bought' | 'guessed'>('')
const on = ref('')
const fromWhom = ref('')
/** A reader's figures, where there is a reader; a colour picked on a screen matches nothing by itself. */
const lab = ref<(number | null)[]>([null, null, null])
const read = computed(() => (lab.value.every((v) => v != null) ? (lab.value as number[]) : null))
const missing = ref<string>()
const FIELDS = [
  'name',
  'srgb',
  'volume_ml',
  'full',
  'year',
  'month',
  'gross_g',
  'tare_g',
  'on',
  'lab.0',
  'lab.1',
  'lab.2',
]
const { refusal, trouble, busy, said, tried, once } = useTried()
async function keep(): Promise<void> {
  const sized = jar.value != null && full.value != null
  missing.value =
    volume.value == null && !sized
      ? 'How much is in it? Try a guess by the height, in ml; or a size and how full it is.'
      : undefined
  await tried(async () => {
    if (volume.value == null && !sized) return
    const tube = volume.value == null && (jar.value === 40 || jar.value === 150)
    const found = {
      what: what.value,
      label: what.value === 'bought' ? label.value : '',
      jar_ml: volume.value == null ? jar.value : null,
      full: volume.value == null ? full.value : null,
      year: on.value ? null : year.value,
      month: on.value || year.value == null ? null : month.value,
      kind: tube ? ('tube' as const) : ('jar' as const),
      container: tube ? `${jar.value} ml tube` : container.value,
      srgb: srgb.value,
      volume_ml: volume.value,
      gross_g: gross.value,
      tare_g: tare.value,
      place: place.value,
      note: note.value,
      name: name.value,
      dated: on.value ? dated.value || ('guessed' as const) : ('' as const),
      on: on.value || null,
      from_whom: fromWhom.value,
      lab: read.value as [number, number, number] | null,
    }
    const made = await answered(api.POST('/api/shelf/found', { body: { ...found, id: once(found).id } }))
    void queries.invalidateQueries({ queryKey: ['shelf'] })
    await router.push(`/shelf/${made.line.id}`)
  })
}
</script>

<template>
  <form class="max-w-3xl pt-5" @submit.prevent="keep">
    <h1 class="mb-2">{{ what === 'bought' ? 'Paint that was bought' : 'I don’t know what is in it' }}</h1>
    <OneOf v-model="what" class="mb-4" label="What it is" :of="WHATS" />
    <p v-if="what !== 'bought'" class="mb-4 border-l-4 border-stop pl-3">
      <strong>Unknown hazard.</strong> It may hold lead, cadmium or worse: gloves on, lid on, no food about,
      until it is matched. The safety data sheet and licensed disposal come first.
    </p>
    <ul v-if="what === 'shut'" class="mb-4 list-disc space-y-1 pl-5">
      <li>
        Stand the lid in warm water for some minutes, then turn it with a rubber glove. No flame, no hot
        plate.
      </li>
      <li>
        Still stuck: tap round the rim with a spoon. Never lever glass; a cracked jar goes to licensed
        disposal.
      </li>
      <li>Wipe a dirty label with a dry cloth, then a little oil; take a picture before.</li>
    </ul>
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <label class="col-span-2"
        ><span class="label">{{
          what === 'bought' ? 'What its label calls it' : 'Name, as far as it can be read'
        }}</span
        ><input
          v-model="name"
          class="field"
          maxlength="80"
          :placeholder="what === 'bought' ? '' : 'nothing, or a part of it'"
          :aria-invalid="said('name') ? 'true' : undefined"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <ColourPick v-model="srgb" label="Its colour" :refusal="said('srgb')" />
      <label v-if="what === 'bought'" class="col-span-full"
        ><span class="label">What its label says of it: pigment index, oil, warnings</span
        ><input v-model="label" class="field" maxlength="200" placeholder="PBr7, linseed oil"
      /></label>
    </div>
    <p class="label mt-3">How much is in it</p>
    <OneOf v-model="jar" label="Its size" :of="SIZES" />
    <OneOf v-model="full" class="mt-2" label="How full it is" :of="FULL" />
    <span v-if="said('full')" class="refusal" role="alert">{{ said('full') }}</span>
    <NumberField
      v-model="volume"
      class="mt-2 w-48"
      label="Or so much"
      unit="ml"
      :refusal="missing ?? said('volume_ml')"
    />
    <details class="mt-4 border-y border-line py-1" :open="Boolean(refusal)">
      <summary class="flex min-h-12 cursor-pointer items-center font-semibold">
        Its date, where it stands, what it weighs
      </summary>
      <div class="grid grid-cols-2 gap-3 pb-3 sm:grid-cols-3">
        <NumberField v-model="year" label="Year on its label" :refusal="said('year')" />
        <NumberField v-model="month" label="Month, if it says" :refusal="said('month')" accepted="1 to 12" />
        <label
          ><span class="label">The date is when it was</span
          ><select v-model="dated" class="field">
            <option value="">not known</option>
            <option value="made">made</option>
            <option value="bought">bought</option>
            <option value="guessed">guessed</option>
          </select></label
        >
        <label v-if="dated"
          ><span class="label">The very day, if known</span
          ><input
            v-model="on"
            type="date"
            class="field"
            :aria-invalid="said('on') ? 'true' : undefined"
          /><span v-if="said('on')" class="refusal" role="alert">{{ said('on') }}</span></label
        >
        <label
          ><span class="label">Who it may be from</span
          ><input v-model="fromWhom" class="field" maxlength="80"
        /></label>
        <label
          ><span class="label">What it is in</span><input v-model="container" class="field" maxlength="80"
        /></label>
        <label
          ><span class="label">Where it stands</span><input v-model="place" class="field" maxlength="80"
        /></label>
        <NumberField v-model="gross" label="Weighs with the jar" unit="g" :refusal="said('gross_g')" />
        <NumberField v-model="tare" label="A jar like it, empty" unit="g" :refusal="said('tare_g')" />
        <fieldset class="col-span-full">
          <legend class="label">Colour by a reader, Lab D50, if you have one</legend>
          <div class="grid max-w-md grid-cols-3 gap-2">
            <NumberField
              v-for="(axis, n) in ['L', 'a', 'b']"
              :key="axis"
              v-model="lab[n]!"
              :label="axis"
              :refusal="said(`lab.${n}`)"
            />
          </div>
        </fieldset>
        <label class="col-span-full"
          ><span class="label">A note</span><input v-model="note" class="field" maxlength="500"
        /></label>
      </div>
    </details>
    <span v-if="refusal && !FIELDS.some(said)" class="refusal" role="alert">{{ refusal.words }}</span>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="mt-4 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">Put it on the shelf</button
      ><RouterLink class="btn btn-slab px-5" to="/shelf">Cancel</RouterLink>
    </div>
  </form>
</template>
