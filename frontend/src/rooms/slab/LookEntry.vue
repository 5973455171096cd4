<script setup lang="ts">
/** What the paste looks like, in drawn choices: first the stage, then, once it is an even paste, the body. */
import { ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import Paste from '@/kit/Paste.vue'
import BodyDrawing from './BodyDrawing.vue'

defineProps<{ colour: string; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [stage: Schemas['Stage'], body?: Schemas['Body']]; close: [] }>()

const STAGES: { key: Schemas['Stage']; name: string; says: string }[] = [
  { key: 'dry_islands', name: 'dry islands', says: 'dust still' },
  { key: 'crumbs', name: 'crumbs', says: 'nearly no dust' },
  { key: 'wet_curds', name: 'wet curds', says: 'no dust left' },
  { key: 'coarse_paste', name: 'coarse paste', says: 'grit felt' },
  { key: 'even_paste', name: 'even paste', says: 'mulled out' },
]
const BODIES: { key: Schemas['Body']; says: string }[] = [
  { key: 'crumbles', says: 'falls apart' },
  { key: 'putty', says: 'kneads' },
  { key: 'stiff', says: 'stands, pulls' },
  { key: 'tube', says: 'stands, brushes' },
  { key: 'soft', says: 'sags slowly' },
  { key: 'loose', says: 'slides off' },
  { key: 'runs', says: 'drips' },
]
const stage = ref<Schemas['Stage']>()
function choose(key: Schemas['Stage']): void {
  stage.value = key
  if (key !== 'even_paste') emit('record', key)
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-label="Look" @keydown.esc.prevent="emit('close')">
    <template v-if="stage !== 'even_paste'">
      <h2 class="mb-2 text-xl">What do you see?</h2>
      <div class="grid grid-cols-2 gap-2 sm:grid-cols-5">
        <button v-for="(one, n) in STAGES" :key="one.key" type="button" class="btn btn-slab flex-col justify-start gap-0 py-1.5 text-base" :autofocus="n === 0" :disabled="busy" @click="choose(one.key)">
          <Paste :stage="one.key" :colour="colour" :size="84" quiet />
          {{ one.name }}<span class="small quiet font-normal">{{ one.says }}</span>
        </button>
      </div>
    </template>
    <template v-else>
      <h2 class="mb-2 text-xl">Lift some on the knife. It is:</h2>
      <div class="grid grid-cols-2 gap-2 sm:grid-cols-7">
        <button v-for="one in BODIES" :key="one.key" type="button" class="btn btn-slab flex-col justify-start gap-0 px-1 py-1.5 text-base" :disabled="busy" @click="emit('record', 'even_paste', one.key)">
          <BodyDrawing :body="one.key" :colour="colour" />
          {{ one.key }}<span class="small quiet font-normal">{{ one.says }}</span>
        </button>
      </div>
    </template>
    <span v-if="refusal" class="refusal" role="alert">{{ refusal.message }}</span>
    <button type="button" class="btn mt-3" @click="emit('close')">Cancel</button>
  </section>
</template>
