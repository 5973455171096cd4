<script setup lang="ts">
/** A paint that is no batch of the studio: a bought tube by its name, or a tube or jar of the shelf. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { useTried } from '@/kit/tried'
import { TINTS } from './tints'

const emit = defineEmits<{ added: [id: number]; close: [] }>()
const name = ref('')
const swatch = ref('#808080')
const tinting = ref<Schemas['PaintChange']['tinting']>('medium')
const words = ref('')
const { said, trouble, busy, refusal, tried, once } = useTried()
const asked = computed(() => words.value.trim())
const { data: found } = useQuery({
  queryKey: ['shelf', 'for-colour', asked],
  queryFn: () => answered(api.GET('/api/shelf', { params: { query: { words: asked.value, limit: 8 } } })),
  enabled: computed(() => asked.value.length > 1),
})
const keep = (what: { name: string } | { item_id: number }) =>
  tried(async () => {
    const body = { ...what, white: false, tinting: tinting.value, swatch_srgb: swatch.value }
    const made = await answered(api.POST('/api/mixing/paints', { body: { ...body, id: once(body).id } }))
    emit('added', made.id)
  })
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" aria-label="Add a paint" @submit.prevent="keep({ name })">
    <h3 class="text-lg font-semibold">Add a paint</h3>
    <p class="small quiet">Your own tubes and jars come by themselves.</p>
    <div class="mt-2 grid gap-3 sm:grid-cols-[1fr_auto_auto]">
      <label
        ><span class="label">Name of a bought paint</span
        ><input
          v-model="name"
          class="field"
          maxlength="120"
          placeholder="Titanium white, bought tube"
          :aria-invalid="said('name') ? 'true' : undefined"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <label
        ><span class="label">Tints</span
        ><select v-model="tinting" class="field">
          <option v-for="[key, says] in TINTS" :key="key" :value="key">{{ says }}</option>
        </select></label
      >
      <label
        ><span class="label">Looks about</span
        ><input v-model="swatch" type="color" class="h-12 w-20" aria-label="Its colour, a guess"
      /></label>
    </div>
    <div class="mt-3 flex flex-wrap gap-2">
      <button class="btn btn-main px-6" :disabled="busy">Add it</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Not now</button>
    </div>
    <label class="mt-3 block max-w-md"
      ><span class="label">or a tube or jar of the shelf</span
      ><input v-model="words" class="field" maxlength="80" placeholder="name, code or place"
    /></label>
    <ul v-if="found && asked.length > 1" class="mt-1">
      <li v-for="item in found.items" :key="item.id">
        <button
          type="button"
          class="flex min-h-12 w-full items-center gap-3 text-left hover:bg-act-wash"
          :disabled="busy"
          @click="keep({ item_id: item.id })"
        >
          <ColourChip class="h-9 w-12" :colour="item.masstone_srgb" />{{ item.name }}, {{ item.code }}
        </button>
      </li>
      <li v-if="!found.items.length" class="quiet">Nothing on the shelf by that word.</li>
    </ul>
    <p v-if="trouble || (refusal && !said('name'))" class="refusal" role="alert">
      {{ trouble || refusal?.words }}
    </p>
  </form>
</template>
