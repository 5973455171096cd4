<script setup lang="ts">
/** The moulds: what each takes, by the water it holds or by its size inside. */
import { useQueryClient } from '@tanstack/vue-query'
import { reactive, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import UsualMoulds from './UsualMoulds.vue'

defineProps<{ moulds: Schemas['MouldKept'][] }>()
const queries = useQueryClient()
const adding = ref(false)
const by = ref<'water' | 'round' | 'square'>('water')
const asked = reactive({
  name: '',
  water_g: null as number | null,
  across: null as number | null,
  length_mm: null as number | null,
})
const { trouble, busy, said, tried } = useTried()
const again = () => queries.invalidateQueries({ queryKey: ['sticks'] })
async function add(): Promise<void> {
  const done = await tried(() =>
    answered(
      api.POST('/api/sticks/moulds', {
        body: {
          name: asked.name,
          water_g: by.value === 'water' ? asked.water_g : null,
          diameter_mm: by.value === 'round' ? asked.across : null,
          side_mm: by.value === 'square' ? asked.across : null,
          length_mm: by.value === 'water' ? null : asked.length_mm,
        },
      }),
    ),
  )
  if (!done) return
  adding.value = false
  asked.name = ''
  asked.water_g = asked.across = asked.length_mm = null
  await again()
}
async function retire(mould: Schemas['MouldKept']): Promise<void> {
  await tried(() =>
    answered(api.DELETE('/api/sticks/moulds/{mould_id}', { params: { path: { mould_id: mould.id } } })),
  )
  await again()
}
const WAYS = [
  ['water', 'grams of water'],
  ['round', 'round, by size'],
  ['square', 'square, by size'],
] as const
</script>

<template>
  <section aria-labelledby="moulds">
    <div class="mb-1 flex items-center gap-3">
      <h2 id="moulds" class="flex-1 text-lg">Moulds</h2>
      <button v-if="!adding" type="button" class="btn btn-quiet" @click="adding = true">Add a mould</button>
    </div>
    <p v-if="!moulds.length && !adding" class="quiet">
      None yet. Fill one with water to the brim: its grams are its ml. Or one of these:
    </p>
    <UsualMoulds v-if="!moulds.length || adding" class="mb-2" :moulds="moulds" />
    <ul>
      <li v-for="mould in moulds" :key="mould.id" class="hairline flex min-h-12 items-center gap-3">
        <span class="flex-1">{{ mould.name }}</span>
        <span
          ><span class="figure font-semibold">{{ digits(mould.ml, 1) }}</span> ml</span
        >
        <button
          type="button"
          class="btn btn-quiet small"
          :aria-label="`Put ${mould.name} away`"
          :disabled="busy"
          @click="retire(mould)"
        >
          put away
        </button>
      </li>
    </ul>
    <div
      v-if="adding"
      class="mt-2 space-y-3 border-2 border-ink bg-sheet p-3"
      role="group"
      aria-label="Add a mould"
    >
      <label class="block"
        ><span class="label">What you call it</span
        ><input
          v-model="asked.name"
          class="field"
          maxlength="60"
          :aria-invalid="said('name') ? 'true' : undefined"
        />
        <span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <div class="flex flex-wrap gap-1.5" role="group" aria-label="How it was measured">
        <button
          v-for="[key, says] in WAYS"
          :key="key"
          type="button"
          class="btn px-3"
          :class="by === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="by === key"
          @click="by = key"
        >
          {{ says }}
        </button>
      </div>
      <NumberField
        v-if="by === 'water'"
        v-model="asked.water_g"
        label="Water it takes to the brim"
        unit="g"
        :refusal="said('water_g')"
        accepted="0.1 to 5000 g"
        @enter="add"
      />
      <div v-else class="grid grid-cols-2 gap-3">
        <NumberField
          v-model="asked.across"
          :label="by === 'round' ? 'Diameter inside' : 'Side inside'"
          unit="mm"
          :refusal="said('diameter_mm') ?? said('side_mm')"
        />
        <NumberField
          v-model="asked.length_mm"
          label="Length inside"
          unit="mm"
          :refusal="said('length_mm') ?? said('water_g')"
          @enter="add"
        />
      </div>
      <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
      <div class="flex gap-3">
        <button type="button" class="btn btn-main" :disabled="busy" @click="add">Keep the mould</button>
        <button type="button" class="btn btn-quiet" @click="adding = false">Close</button>
      </div>
    </div>
  </section>
</template>
