<script setup lang="ts">
/** A recipe, a base or a process from another studio, as a file or on a card: looked at, then taken in, or left. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'

defineProps<{ what: string }>()
const router = useRouter()
const queries = useQueryClient()
const file = ref<Record<string, unknown>>()
const looked = ref<Schemas['Looked']>()
const name = ref('')
const problem = ref('')
const nameProblem = ref('')
const busy = ref(false)
const words = (failed: unknown) =>
  failed instanceof Refused ? failed.words : 'The server does not answer; try again in a moment.'
async function chosen(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const given = field.files?.[0]
  field.value = ''
  if (!given) return
  problem.value = nameProblem.value = ''
  looked.value = undefined
  busy.value = true
  try {
    const kind = given.type.startsWith('image/') ? given.type : 'application/json'
    const seen = await answered(
      api.POST('/api/swap/look', {
        body: given as never,
        bodySerializer: (body: unknown) => body as Blob,
        headers: { 'content-type': kind },
      }),
    )
    file.value = seen.file
    looked.value = seen.looked
    name.value = looked.value.name
    if (looked.value.name_taken)
      nameProblem.value = `You have a ${looked.value.kind} of this name. Try another name.`
  } catch (failed) {
    problem.value = words(failed)
  } finally {
    busy.value = false
  }
}
async function take(): Promise<void> {
  busy.value = true
  nameProblem.value = problem.value = ''
  try {
    const params = { query: { name: name.value } }
    const made = await answered(api.POST('/api/swap', { params, body: file.value as never }))
    for (const queryKey of [['recipes'], ['library'], ['home'], ['sticks'], ['making']])
      void queries.invalidateQueries({ queryKey })
    await router.push(made.page)
  } catch (failed) {
    if (failed instanceof Refused && failed.at('name')) nameProblem.value = failed.at('name')!
    else problem.value = words(failed)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <section aria-labelledby="take-in" class="my-4">
    <h2 id="take-in" class="text-lg">A {{ what }} from another studio</h2>
    <p class="quiet">
      A file saved there by "As a file", or a picture of a card. You see what would come in before anything
      does.
    </p>
    <label class="btn mt-2 cursor-pointer"
      >{{ busy && !looked ? 'Looking into it' : 'Choose the file or picture'
      }}<input
        type="file"
        accept=".json,application/json,image/jpeg,image/png,image/webp"
        class="sr-only"
        :aria-label="`A ${what} as a file or a picture of its card`"
        :disabled="busy"
        @change="chosen"
    /></label>
    <p v-if="problem" class="refusal" role="alert">{{ problem }}</p>
    <form v-if="looked" class="mt-3 max-w-2xl border-2 border-ink bg-sheet p-4" @submit.prevent="take">
      <p class="mb-1">
        A {{ looked.kind === 'process' ? 'process of making pigment' : looked.kind
        }}<template v-if="looked.kind === 'base'"> for paint sticks</template>.
      </p>
      <ul class="mb-2">
        <li v-for="one in looked.materials" :key="one.kind + one.name" class="hairline flex gap-3 py-1.5">
          <span class="flex-1"
            ><strong class="font-semibold">{{ one.name }}</strong
            ><span class="quiet">, {{ one.kind }}</span></span
          ><span :class="one.state === 'new' || one.state === 'differs' ? 'font-semibold' : 'quiet'">{{
            one.says
          }}</span>
        </li>
      </ul>
      <p v-if="looked.why" class="quiet">Its last change: {{ looked.why }}</p>
      <p v-for="left in looked.left_out" :key="left">Left out: {{ left }}.</p>
      <p v-if="looked.not_understood.length">
        Not understood, and kept with it: {{ looked.not_understood.join(', ') }}.
      </p>
      <label class="mt-2 block"
        >Its name here<input
          v-model="name"
          class="field mt-1 block w-full"
          maxlength="120"
          :aria-invalid="!!nameProblem"
      /></label>
      <span v-if="nameProblem" class="refusal" role="alert">{{ nameProblem }}</span>
      <div class="mt-3 flex gap-2">
        <button class="btn btn-main px-5" :disabled="busy">Take it in</button>
        <button type="button" class="btn" @click="looked = undefined">Leave it</button>
      </div>
    </form>
  </section>
</template>
