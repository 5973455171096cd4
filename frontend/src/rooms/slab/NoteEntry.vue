<script setup lang="ts">
/** A few words: a note, or why a batch is given up. */
import { ref } from 'vue'
import type { Refused } from '@/api/client'

defineProps<{ title: string; doing: string; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [text: string]; close: [] }>()
const text = ref('')
</script>

<template>
  <form
    class="border-2 border-ink bg-sheet p-4"
    @submit.prevent="emit('record', text)"
    @keydown.esc.prevent="emit('close')"
  >
    <label
      ><span class="mb-2 block text-xl font-semibold">{{ title }}</span
      ><textarea v-model="text" class="field py-2 text-lg" rows="2" maxlength="2000" autofocus />
    </label>
    <span v-if="refusal" class="refusal" role="alert">{{ refusal.at('text') ?? refusal.words }}</span>
    <div class="mt-2 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">{{ doing }}</button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
