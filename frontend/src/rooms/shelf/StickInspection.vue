<script setup lang="ts">
/** An inspection of a paint stick: bloom, sweating oil, a skin, cracks; all by eye. */
import { ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'

type Look = Omit<Schemas['StickInspectAsked'], 'id' | 'made_on'>
defineProps<{ page: Schemas['ItemPage']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [look: Look]; close: [] }>()
const SKINS = [
  ['none', 'no skin'],
  ['skin', 'a skin'],
  ['through', 'hard through'],
] as const
const skin = ref<Schemas['Skin']>('none')
const seen = ref({ bloom: false, sweats: false, cracked: false })
const SEEN = [
  ['bloom', 'a grey bloom'],
  ['sweats', 'oil sweats out'],
  ['cracked', 'cracked'],
] as const
const readable = ref(true)
const note = ref('')
const record = () =>
  emit('record', { skin: skin.value, ...seen.value, label_readable: readable.value, note: note.value })
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" aria-label="Inspection" @submit.prevent="record">
    <p v-if="page.beware.length" class="mb-3 border-l-4 border-stop pl-3">
      <strong class="text-stop">{{ page.beware.join('; ') }}.</strong> Gloves on, no food about; the safety
      data sheet comes first.
    </p>
    <div role="group" aria-label="Skin" class="mb-2 flex flex-wrap gap-2">
      <button
        v-for="[key, text] in SKINS"
        :key="key"
        type="button"
        class="btn btn-slab px-5"
        :class="skin === key ? 'bg-ink! text-white' : ''"
        :aria-pressed="skin === key"
        @click="skin = key"
      >
        {{ text }}
      </button>
    </div>
    <div role="group" aria-label="What is seen" class="mb-2 flex flex-wrap gap-2">
      <button
        v-for="[key, text] in SEEN"
        :key="key"
        type="button"
        class="btn btn-slab px-5"
        :class="seen[key] ? 'bg-ink! text-white' : ''"
        :aria-pressed="seen[key]"
        @click="seen[key] = !seen[key]"
      >
        {{ text }}
      </button>
    </div>
    <label class="flex min-h-12 items-center gap-3"
      ><input v-model="readable" type="checkbox" class="h-6 w-6 accent-act" />Its label can be read</label
    >
    <label class="block"
      ><span class="label">A note</span><input v-model="note" class="field" maxlength="500"
    /></label>
    <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
    <div class="mt-3 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">Record</button
      ><button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
