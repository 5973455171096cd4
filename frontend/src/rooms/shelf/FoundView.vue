<script setup lang="ts">
/** A jar nobody can name: its colour, weight and place; then whose it may be. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
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
    }
    const made = await answered(api.POST('/api/shelf/found', { body: { ...jar, id: once(jar).id } }))
    void queries.invalidateQueries({ queryKey: ['shelf'] })
    await router.push(`/shelf/${made.line.id}`)
  })
}
</script>

<template>
  <form class="max-w-3xl pt-5" @submit.prevent="keep">
    <h1 class="mb-2">A jar nobody can name</h1>
    <p class="mb-4 border-l-4 border-stop pl-3">
      <strong>Unknown hazard.</strong> It may hold lead, cadmium or worse: gloves on, lid on, no food about,
      until it is matched. The safety data sheet and licensed disposal come first.
    </p>
    <div class="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <label
        ><span class="label">Colour below the oil, stirred</span
        ><span class="flex gap-2"
          ><input v-model="srgb" type="color" class="h-12 w-16" aria-label="Pick the colour" /><input
            v-model="srgb"
            class="field figure"
            maxlength="7"
            aria-label="The colour as #rrggbb"
            :aria-invalid="said('srgb') ? 'true' : undefined" /></span
        ><span v-if="said('srgb')" class="refusal" role="alert">{{ said('srgb') }}</span></label
      >
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
      <label class="col-span-full"
        ><span class="label">A note</span><input v-model="note" class="field" maxlength="500"
      /></label>
    </div>
    <span
      v-if="refusal && !['srgb', 'volume_ml', 'gross_g', 'tare_g'].some(said)"
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
