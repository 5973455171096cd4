<script setup lang="ts">
/** A colour reader's file: chosen, read, and asked about where it does not say what all the light is in its figures. */
import { ref } from 'vue'
import { Refused, type Schemas } from '@/api/client'

/** `read` asks the server; `says` is what may be in the file. */
const props = defineProps<{
  read: (content: ArrayBuffer, scale?: Schemas['LightScale']) => Promise<void>
  says: string
}>()
const unscaled = ref<File>()
const trouble = ref('')
function choose(event: Event): void {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  input.value = ''
  if (chosen) void look(chosen)
}
async function look(file: File, scale?: Schemas['LightScale']): Promise<void> {
  unscaled.value = undefined
  trouble.value = ''
  try {
    await props.read(await file.arrayBuffer(), scale)
  } catch (problem) {
    if (problem instanceof Refused && problem.at('scale')) unscaled.value = file
    else trouble.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  }
}
</script>

<template>
  <div>
    <label class="btn px-5"
      ><input type="file" class="sr-only" accept=".txt,.csv,.cgats,.it8" @change="choose" />Choose a
      file</label
    >
    <p class="small quiet mt-1">{{ says }}</p>
    <div v-if="unscaled" class="mt-2" role="alert">
      <p>The file does not say what its figures are of. What is all the light in it?</p>
      <div class="mt-1 flex gap-2">
        <button type="button" class="btn" @click="void look(unscaled, 'fraction')">1 (fractions)</button>
        <button type="button" class="btn" @click="void look(unscaled, 'percent')">100 (percent)</button>
      </div>
    </div>
    <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
  </div>
</template>
