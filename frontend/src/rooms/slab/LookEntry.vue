<script setup lang="ts">
/** What the paste looks like, in drawn choices: first the stage, then, once it is an even paste, the body. */
import { ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import Paste from '@/kit/Paste.vue'
import type { Said } from './acts'
import BodyDrawing from '@/kit/BodyDrawing.vue'
import Term from '@/kit/Term.vue'

defineProps<{
  colour: string
  bodyOnly?: boolean
  gritExpected?: string
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [seen: Omit<Extract<Said, { kind: 'look' }>, 'kind'>]; close: [] }>()

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
const GRITS: { key: Schemas['Grit']; name: string; dots: number }[] = [
  { key: 'gritty', name: 'gritty', dots: 9 },
  { key: 'faint', name: 'faint grit', dots: 3 },
  { key: 'none', name: 'no grit', dots: 0 },
]
const STRINGS: { key: Schemas['StringLength']; name: string; path: string }[] = [
  { key: 'breaks', name: 'breaks off', path: 'M38 12v9M38 38v-5' },
  { key: 'short', name: 'short', path: 'M38 12q-4 8-1 15M34 38q3-3 3-6' },
  { key: 'long', name: 'long', path: 'M38 12q-6 10 0 16t-1 12' },
]
const GLOSSES: { key: Schemas['Gloss']; name: string; shine: string }[] = [
  { key: 'matte', name: 'matte', shine: '' },
  { key: 'satin', name: 'satin', shine: 'M24 24q12-8 26-4' },
  { key: 'glossy', name: 'glossy', shine: 'M22 25q12-10 28-5M26 31q8-5 18-3M44 19q5 1 8 4' },
]
const stage = ref<Schemas['Stage']>()
const grit = ref<Schemas['Grit']>()
const string = ref<Schemas['StringLength']>()
const gloss = ref<Schemas['Gloss']>()
function choose(key: Schemas['Stage']): void {
  stage.value = key
  if (key !== 'even_paste') emit('record', { stage: key })
}
/** The knife test is the tap that records; what was felt and seen besides goes with it. */
function record(body: Schemas['Body']): void {
  emit('record', { stage: 'even_paste', body, grit: grit.value, string: string.value, gloss: gloss.value })
}
const once = <T,>(chosen: T, now: T | undefined) => (chosen === now ? undefined : chosen)
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-label="Look" @keydown.esc.prevent="emit('close')">
    <template v-if="stage !== 'even_paste'">
      <h2 class="mb-2 text-xl">What do you see?</h2>
      <div class="grid grid-cols-2 gap-2 sm:grid-cols-5">
        <button
          v-for="(choice, n) in STAGES"
          :key="choice.key"
          type="button"
          class="btn btn-slab flex-col justify-start gap-0 py-1.5 text-base"
          :autofocus="n === 0"
          :disabled="busy"
          @click="choose(choice.key)"
        >
          <Paste :stage="choice.key" :colour="colour" :size="84" quiet />
          {{ choice.name }}<span class="small quiet font-normal">{{ choice.says }}</span>
        </button>
      </div>
    </template>
    <template v-else>
      <div v-if="!bodyOnly" class="mb-3 grid gap-x-6 gap-y-2 sm:grid-cols-3">
        <div role="group" aria-label="Grit under the knife, if you felt for it">
          <span class="small quiet mb-1 block">Grit under the knife</span>
          <div class="grid grid-cols-3 gap-1.5">
            <button
              v-for="choice in GRITS"
              :key="choice.key"
              type="button"
              class="btn min-h-[72px] flex-col gap-0 px-1 text-[0.95rem]"
              :class="grit === choice.key ? 'bg-act-wash! outline-3 outline-act' : ''"
              :aria-pressed="grit === choice.key"
              @click="grit = once(choice.key, grit)"
            >
              <svg viewBox="0 0 76 40" width="60" height="32" aria-hidden="true">
                <path d="M6 30q30-18 64 0z" :fill="colour" />
                <circle
                  v-for="n in choice.dots"
                  :key="n"
                  :cx="12 + n * 5.6"
                  :cy="22 + ((n * 5) % 7)"
                  r="2"
                  fill="#fff"
                  stroke="#171717"
                  stroke-width=".8"
                /></svg
              >{{ choice.name }}
            </button>
          </div>
        </div>
        <div role="group" aria-label="String off the knife">
          <span class="small quiet mb-1 block">String off the knife</span>
          <div class="grid grid-cols-3 gap-1.5">
            <button
              v-for="choice in STRINGS"
              :key="choice.key"
              type="button"
              class="btn min-h-[72px] flex-col gap-0 px-1 text-[0.95rem]"
              :class="string === choice.key ? 'bg-act-wash! outline-3 outline-act' : ''"
              :aria-pressed="string === choice.key"
              @click="string = once(choice.key, string)"
            >
              <svg viewBox="0 0 76 44" width="60" height="35" aria-hidden="true">
                <path d="M10 4h46l10 4-10 4H10z" fill="#bdbdbd" stroke="#171717" />
                <path
                  :d="choice.path"
                  fill="none"
                  :stroke="colour"
                  stroke-width="3.500"
                  stroke-linecap="round"
                />
                <path d="M18 42q20-10 42 0z" :fill="colour" /></svg
              >{{ choice.name }}
            </button>
          </div>
        </div>
        <div role="group" aria-label="Gloss of the surface">
          <span class="small quiet mb-1 block">Gloss of the surface</span>
          <div class="grid grid-cols-3 gap-1.5">
            <button
              v-for="choice in GLOSSES"
              :key="choice.key"
              type="button"
              class="btn min-h-[72px] flex-col gap-0 px-1 text-[0.95rem]"
              :class="gloss === choice.key ? 'bg-act-wash! outline-3 outline-act' : ''"
              :aria-pressed="gloss === choice.key"
              @click="gloss = once(choice.key, gloss)"
            >
              <svg viewBox="0 0 76 40" width="60" height="32" aria-hidden="true">
                <path d="M10 34q2-20 28-22t28 22z" :fill="colour" />
                <path
                  v-if="choice.shine"
                  :d="choice.shine"
                  fill="none"
                  stroke="#fff"
                  stroke-width="3"
                  stroke-linecap="round"
                /></svg
              >{{ choice.name }}
            </button>
          </div>
        </div>
      </div>
      <p v-if="gritExpected" class="quiet mb-2">{{ gritExpected }}</p>
      <h2 class="mb-2 text-xl">Lift some on the knife. Its <Term of="body">body</Term> is:</h2>
      <div class="grid grid-cols-2 gap-2 sm:grid-cols-7">
        <button
          v-for="choice in BODIES"
          :key="choice.key"
          type="button"
          class="btn btn-slab flex-col justify-start gap-0 px-1 py-1.5 text-base"
          :disabled="busy"
          @click="record(choice.key)"
        >
          <BodyDrawing :body="choice.key" :colour="colour" />
          {{ choice.key }}<span class="small quiet font-normal">{{ choice.says }}</span>
        </button>
      </div>
    </template>
    <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
    <button type="button" class="btn mt-3" @click="emit('close')">Cancel</button>
  </section>
</template>
