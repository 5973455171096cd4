<script setup lang="ts">
/** The shelf from a CSV file: first what each row would do, then, if nothing is refused, all of it at once. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { sentence } from '@/api/client'
import { digits } from '@/kit/format'

type Cell = { column: string; problem: string; accepted: string }
type Row = { line: number; code: string; does: string; refused: Cell[] }
const emit = defineEmits<{ close: [] }>()
const queries = useQueryClient()

const SHOWN = 200
const MAX_BYTES = 20_000_000
const file = ref<File>()
const rows = ref<Row[]>([])
const total = ref(0)
const lines = ref(0)
const counts = ref<Record<string, number>>()
const written = ref(false)
const trouble = ref('')
const busy = ref(false)
const WORDS: Record<string, string> = {
  receive: 'comes in',
  change: 'is changed',
  nothing: 'stays as it is',
  refused: 'refused',
}
/** What has to be put right stands on top. */
const ordered = computed(() => [
  ...rows.value.filter((r) => r.does === 'refused'),
  ...rows.value.filter((r) => r.does !== 'refused'),
])
const refused = computed(() => counts.value?.refused ?? 0)
const useful = computed(() => (counts.value?.receive ?? 0) + (counts.value?.change ?? 0))

async function run(write: boolean): Promise<void> {
  if (!file.value || busy.value) return
  busy.value = true
  trouble.value = ''
  rows.value = []
  total.value = 0
  counts.value = undefined
  try {
    const answer = await fetch(`/api/materials/import?write=${write}`, {
      method: 'POST',
      body: file.value,
      headers: { 'content-type': 'text/csv' },
    })
    if (!answer.ok || !answer.body) {
      const problem = (await answer.json().catch(() => undefined)) as { errors?: Cell[] } | undefined
      trouble.value = problem?.errors?.[0]
        ? sentence({ ...problem.errors[0], field: 'file' })
        : `The server answered with ${answer.status}.`
      return
    }
    await read(answer.body)
    if (written.value)
      for (const queryKey of [['lots'], ['home']]) void queries.invalidateQueries({ queryKey })
  } catch {
    trouble.value = 'The server does not answer; nothing was brought in. Try again.'
  } finally {
    busy.value = false
  }
}
async function read(body: ReadableStream<Uint8Array>): Promise<void> {
  const reader = (body as ReadableStream<BufferSource>).pipeThrough(new TextDecoderStream()).getReader()
  let rest = ''
  for (;;) {
    const { value, done } = await reader.read()
    if (done) return
    const parts = (rest + value).split('\n')
    rest = parts.pop() ?? ''
    for (const line of parts) take(JSON.parse(line))
  }
}
function take(answer: {
  row?: Row
  progress?: number
  done?: Record<string, number>
  written?: boolean
  refused?: Cell
}): void {
  if (answer.row && (answer.row.does === 'refused' || rows.value.length < SHOWN)) rows.value.push(answer.row)
  if (answer.progress) total.value = answer.progress
  if (answer.refused) trouble.value = sentence({ ...answer.refused, field: 'file' })
  if (answer.done) {
    counts.value = answer.done
    written.value = !!answer.written
  }
}
async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const chosen = input.files?.[0]
  written.value = false
  trouble.value = ''
  counts.value = undefined
  if (!chosen) return
  if (chosen.size > MAX_BYTES) {
    file.value = undefined
    trouble.value = `The file has ${digits(chosen.size / 1_000_000, 0)} MB. Try at most 20 MB.`
    return
  }
  // Read at once, and let the same name be chosen again after the file was put right.
  file.value = new File([await chosen.arrayBuffer()], chosen.name)
  input.value = ''
  lines.value = Math.max(1, (await file.value.text()).split('\n').length - 2)
  await run(false)
}
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-4" aria-label="CSV in" @keydown.esc="emit('close')">
    <h2 class="mb-1 text-xl">Bring in a CSV file</h2>
    <p class="small mb-3">
      One row a lot, as in <a class="underline" href="/api/materials/export.csv" download>CSV out</a>. Needed
      columns: kind, material, code, received_on, received. A code that is known changes that lot. Nothing is
      kept until you say so; with one refused cell nothing is kept at all.
    </p>
    <div class="flex flex-wrap items-center gap-3">
      <label class="btn"
        >Choose a file<input type="file" class="sr-only" accept=".csv,text/csv,text/plain" @change="choose"
      /></label>
      <span v-if="file">{{ file.name }}</span>
      <progress v-if="busy" class="h-4 w-56" :max="lines" :value="total" aria-label="Rows read" />
      <span v-if="busy" class="figure small" role="status">{{ digits(total, 0) }} rows</span>
      <span class="flex-1" />
      <button
        v-if="counts && !written"
        type="button"
        class="btn btn-main"
        :disabled="busy || !!refused || !useful"
        @click="run(true)"
      >
        Bring in {{ useful }} {{ useful === 1 ? 'lot' : 'lots' }}
      </button>
      <button type="button" class="btn" @click="emit('close')">{{ written ? 'Close' : 'Cancel' }}</button>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <p v-if="counts" class="my-2 text-lg" role="status">
      <strong v-if="written">Brought in. </strong>
      <strong v-else-if="refused" class="text-stop"
        >{{ refused }} {{ refused === 1 ? 'row is' : 'rows are' }} refused: put them right in the file and
        choose it again.
      </strong>
      {{ counts.receive }} come in, {{ counts.change }} {{ counts.change === 1 ? 'is' : 'are' }} changed,
      {{ counts.nothing }} stay as they are.
    </p>
    <div v-if="rows.length" class="max-h-80 overflow-auto">
      <table class="w-full text-[0.95rem]">
        <thead>
          <tr class="small quiet text-left">
            <th class="font-normal" scope="col">line</th>
            <th class="font-normal" scope="col">code</th>
            <th class="font-normal" scope="col">does</th>
            <th class="font-normal" scope="col">refused cells</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="row in ordered" :key="row.line" class="hairline align-baseline">
            <td class="figure py-1 pr-4">{{ row.line }}</td>
            <td class="py-1 pr-4 font-semibold">{{ row.code }}</td>
            <td class="py-1 pr-4" :class="row.does === 'refused' ? 'text-stop font-semibold' : ''">
              {{ WORDS[row.does] }}
            </td>
            <td class="py-1">
              <span v-for="cell in row.refused" :key="cell.column" class="block"
                ><strong>{{ cell.column }}</strong
                >: {{ sentence({ ...cell, field: cell.column }) }}</span
              >
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <p v-if="counts && total > rows.length" class="small quiet">
      The first {{ SHOWN }} rows and every refused one are shown.
    </p>
  </section>
</template>
