<script setup lang="ts">
/** A jar nobody can name for sure: what can be read of it, its colour, weight and place; then whose it may be. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import ColourPick from '@/kit/ColourPick.vue'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'

const router = useRouter()
const queries = useQueryClient()
const srgb = ref('#7a5a3c')
const container = ref('glass jar')
const volume = ref<number | null>(null)
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
const { refusal, trouble, busy, said, tried, once } = useTried()
async function keep(): Promise<void> {
  missing.value =
    volume.value == null ? 'How much is in it? Accepted: a guess by the height, in ml.' : undefined
  await tried(async () => {
    if (volume.value == null) return
    const jar = {
      kind: 'jar' as const,
      container: container.value,
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
    const made = await answered(api.POST('/api/shelf/found', { body: { ...jar, id: once(jar).id } }))
    void queries.invalidateQueries({ queryKey: ['shelf'] })
    await router.push(`/shelf/${made.line.id}`)
  })
}
</script>

<template>
  <form class="max-w-3xl pt-5" @submit.prevent="keep">
    <h1 class="mb-2">A jar nobody can name for sure</h1>
    <p class="mb-4 border-l-4 border-stop pl-3">
      <strong>Unknown hazard.</strong> It may hold lead, cadmium or worse: gloves on, lid on, no food about,
      until it is matched. The safety data sheet and licensed disposal come first.
    </p>
    <details class="mb-4 border-y border-line py-1">
      <summary class="min-h-10 py-2 font-semibold">The lid will not open, or the label is dirty</summary>
      <ul class="list-disc space-y-1 pb-2 pl-5">
        <li>
          Wipe the label with a dry cloth, then a little oil; take a picture before anything else touches it.
        </li>
        <li>
          Stand the lid in warm water for some minutes, then turn it with a rubber glove. No flame, no hot
          plate.
        </li>
        <li>
          Still stuck: tap round the rim with a spoon. Never lever glass; a cracked jar goes to licensed
          disposal.
        </li>
      </ul>
    </details>
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <label class="col-span-2"
        ><span class="label">Name, as far as it can be read</span
        ><input v-model="name" class="field" maxlength="80" placeholder="nothing, or a part of it"
      /></label>
      <label
        ><span class="label">Who it may be from</span><input v-model="fromWhom" class="field" maxlength="80"
      /></label>
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
        ><span class="label">Date</span
        ><input v-model="on" type="date" class="field" :aria-invalid="said('on') ? 'true' : undefined" /><span
          v-if="said('on')"
          class="refusal"
          role="alert"
          >{{ said('on') }}</span
        ></label
      >
      <ColourPick
        v-model="srgb"
        class="col-start-1"
        label="Colour below the oil, stirred"
        :refusal="said('srgb')"
      />
      <label
        ><span class="label">What it is in</span><input v-model="container" class="field" maxlength="80"
      /></label>
      <label
        ><span class="label">Where it stands</span><input v-model="place" class="field" maxlength="80"
      /></label>
      <NumberField
        v-model="volume"
        label="How much is in it"
        unit="ml"
        :refusal="missing ?? said('volume_ml')"
      />
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
    <span
      v-if="
        refusal && !['srgb', 'volume_ml', 'gross_g', 'tare_g', 'on', 'lab.0', 'lab.1', 'lab.2'].some(said)
      "
      class="refusal"
      role="alert"
      >{{ refusal.words }}</span
    >
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="mt-4 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">Put it on the shelf</button
      ><RouterLink class="btn btn-slab px-5" to="/shelf">Cancel</RouterLink>
    </div>
  </form>
</template>
