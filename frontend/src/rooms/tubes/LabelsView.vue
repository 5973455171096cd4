<script setup lang="ts">
/** Labels on a sheet or one a page: the preview is drawn from the very PDF that prints. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, api, Refused, type Problem, type Schemas } from '@/api/client'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { usePaper } from '@/kit/paper'

const route = useRoute()
const items = computed(() =>
  String(route.query.items ?? '')
    .split(',')
    .map(Number)
    .filter((n) => n > 0),
)
const kept = useLocalStorage(
  'niddy-label-sheet',
  {
    single: false,
    style: 'band' as Schemas['LabelStyle'],
    form: 'flat' as Schemas['LabelForm'],
    columns: null as number | null,
    rows: null as number | null,
    margin_x_mm: 10 as number | null,
    margin_y_mm: 15 as number | null,
    gap_x_mm: 5 as number | null,
    gap_y_mm: 2 as number | null,
    width_mm: 90 as number | null,
    height_mm: 50 as number | null,
  },
  { mergeDefaults: true },
)
const paper = usePaper()
const start = ref<number | null>(1)
const name = ref('')
const confirmed = ref(false)
const asked = computed(() => {
  const k = kept.value
  return {
    items: items.value,
    paper: paper.value,
    columns: Math.round(k.columns ?? 0),
    rows: Math.round(k.rows ?? 0),
    margin_x_mm: k.margin_x_mm ?? 0,
    margin_y_mm: k.margin_y_mm ?? 0,
    gap_x_mm: k.gap_x_mm ?? 0,
    gap_y_mm: k.gap_y_mm ?? 0,
    width_mm: k.single ? k.width_mm : null,
    height_mm: k.single ? k.height_mm : null,
    start_at: k.single ? 1 : Math.round(start.value ?? 1),
    pictograms: confirmed.value,
    style: k.style,
    form: k.form,
    name: name.value || null,
  }
})
const slow = refDebounced(asked, 250)
const { data: preview, error } = useQuery({
  queryKey: ['labels', slow],
  retry: false,
  enabled: () => items.value.length > 0 && (kept.value.single || kept.value.columns != null),
  queryFn: () => answered(api.POST('/api/tubes/labels/preview', { body: slow.value })),
})
const { data: sizes } = useQuery({
  queryKey: ['label-sizes', paper],
  queryFn: () => answered(api.GET('/api/tubes/labels/sizes', { params: { query: { paper: paper.value } } })),
  staleTime: Infinity,
})
/** A size that fits what was filled; the grid below it stays free. */
function fit(size: Schemas['LabelSize']): void {
  const grid: Partial<Schemas['LabelSize']> = { ...size }
  delete grid.name
  kept.value = { ...kept.value, ...grid }
}
/** Who comes with things of one kind finds their size chosen. */
watch(
  sizes,
  (all) => {
    const wanted = all?.find((size) => size.name === route.query.size)
    const untouched = kept.value.columns == null && all?.find((size) => size.name === 'Jar')
    if (wanted || untouched) fit((wanted || untouched) as Schemas['LabelSize'])
  },
  { immediate: true },
)
const fits = (size: Schemas['LabelSize']) =>
  kept.value.form !== size.form
    ? false
    : kept.value.single
      ? kept.value.width_mm === size.width_mm && kept.value.height_mm === size.height_mm
      : kept.value.columns === size.columns &&
        kept.value.rows === size.rows &&
        kept.value.margin_x_mm === size.margin_x_mm
const STYLES: [Schemas['LabelStyle'], string][] = [
  ['band', 'a band of its colour'],
  ['dab', 'room for a dab'],
  ['rule', 'a quiet frame'],
]
const SHEETS = [
  [false, 'on a sheet'],
  [true, 'one a page'],
] as const
/** The measures of a sheet stand open where they are of no usual label, or refused. */
const GRID = ['columns', 'rows', 'margin_x_mm', 'margin_y_mm', 'gap_x_mm', 'gap_y_mm']
const otherSheet = computed(
  () => GRID.some((field) => said(field)) || (!!sizes.value && !sizes.value.some((size) => fits(size))),
)
const refusal = computed(() => (error.value instanceof Refused ? error.value : undefined))
const said = (field: string) => refusal.value?.at(field)

useKeys(() => [
  {
    key: 'p',
    does: 'make the PDF',
    act: () => void print(),
    when: () => !!preview.value && !refusal.value && !progress.value,
  },
  { key: 's', does: 'on a sheet, or one a page', act: () => (kept.value.single = !kept.value.single) },
])
const progress = ref<{ done: number; of: number }>()
const trouble = ref('')
/** The PDF with its progress, line by line; opened when whole. */
async function print(): Promise<void> {
  trouble.value = ''
  progress.value = { done: 0, of: items.value.length }
  try {
    const answer = await fetch('/api/tubes/labels/stream', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(asked.value),
    })
    if (!answer.ok) throw new Refused((await answer.json()) as Problem)
    const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader()
    let rest = ''
    for (;;) {
      const { done, value } = await reader.read()
      rest += value ?? ''
      const lines = rest.split('\n')
      rest = lines.pop() ?? ''
      for (const line of lines) {
        const step = JSON.parse(line) as { done: number; of: number; pdf?: string }
        progress.value = step
        if (step.pdf) {
          const bytes = Uint8Array.from(atob(step.pdf), (c) => c.charCodeAt(0))
          const url = URL.createObjectURL(new Blob([bytes], { type: 'application/pdf' }))
          const link = Object.assign(document.createElement('a'), { href: url, download: 'niddy-labels.pdf' })
          link.click()
          // Once the browser has begun to read it, the address may go.
          setTimeout(() => URL.revokeObjectURL(url), 60_000)
        }
      }
      if (done) break
    }
  } catch (problem) {
    trouble.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  } finally {
    progress.value = undefined
  }
}
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Labels<span class="quiet block text-base font-normal"
          >{{ items.length }} {{ items.length === 1 ? 'label' : 'labels' }}, front and back, each with a code
          that opens its page</span
        >
      </h1>
      <button
        type="button"
        class="btn btn-main btn-slab px-8"
        :disabled="!preview || !!refusal || !!progress"
        @click="print"
      >
        {{ progress ? `${progress.done} of ${progress.of} drawn` : 'Make the PDF' }}
      </button>
    </div>
    <p v-if="!items.length" class="text-lg">
      No tube is chosen. Labels are made from a
      <RouterLink class="underline" to="/tubes">filling</RouterLink> or from the
      <RouterLink class="underline" to="/shelf">shelf</RouterLink>.
    </p>
    <div v-else class="grid gap-x-12 gap-y-6 lg:grid-cols-[21rem_1fr]">
      <div class="space-y-3">
        <div>
          <span class="label">Fits a</span>
          <div class="flex flex-wrap gap-1.5" role="group" aria-label="Label size">
            <button
              v-for="size in sizes"
              :key="size.name"
              type="button"
              class="btn flex-col gap-0 px-3 leading-tight"
              :class="fits(size) ? 'bg-ink! text-white' : ''"
              :aria-pressed="fits(size)"
              @click="fit(size)"
            >
              {{ size.name.toLowerCase()
              }}<span class="small font-normal">{{ size.width_mm }} x {{ size.height_mm }} mm</span>
            </button>
          </div>
        </div>
        <div>
          <span class="label">Its front</span>
          <OneOf v-model="kept.style" label="Style" :of="STYLES" />
        </div>
        <OneOf v-model="kept.single" label="Sheet or single" :of="SHEETS" wide />
        <div v-if="kept.single" class="grid grid-cols-2 gap-3">
          <NumberField
            v-model="kept.width_mm"
            label="Wide"
            unit="mm"
            :refusal="said('width_mm')"
            accepted="25 to 300 mm"
          />
          <NumberField
            v-model="kept.height_mm"
            label="High"
            unit="mm"
            :refusal="said('height_mm')"
            accepted="15 to 300 mm"
          />
        </div>
        <label v-else
          ><span class="label">Paper</span
          ><select v-model="paper" class="field">
            <option value="a4">A4</option>
            <option value="letter">letter</option>
          </select></label
        >
        <NumberField
          v-if="!kept.single"
          v-model="start"
          label="First free label of the sheet"
          :refusal="said('start_at')"
        />
        <details v-if="!kept.single" :open="otherSheet">
          <summary class="flex min-h-12 cursor-pointer items-center">
            A bought sheet of other measures
          </summary>
          <div class="grid grid-cols-2 gap-3">
            <NumberField v-model="kept.columns" label="Columns" :refusal="said('columns')" />
            <NumberField v-model="kept.rows" label="Rows" :refusal="said('rows')" />
            <NumberField
              v-model="kept.margin_x_mm"
              label="Margin at the sides"
              unit="mm"
              :refusal="said('margin_x_mm')"
            />
            <NumberField
              v-model="kept.margin_y_mm"
              label="Margin above"
              unit="mm"
              :refusal="said('margin_y_mm')"
            />
            <NumberField
              v-model="kept.gap_x_mm"
              label="Between columns"
              unit="mm"
              :refusal="said('gap_x_mm')"
            />
            <NumberField v-model="kept.gap_y_mm" label="Between rows" unit="mm" :refusal="said('gap_y_mm')" />
          </div>
        </details>
        <label class="block"
          ><span class="label">Another name than the paint's, if any</span
          ><input v-model="name" class="field" maxlength="300"
        /></label>
        <label class="flex min-h-12 items-center gap-3 leading-tight"
          ><input v-model="confirmed" type="checkbox" class="h-6 w-6 shrink-0 accent-act" />I have confirmed
          the classification from the safety data sheets: print the pictograms</label
        >
        <p v-for="remark in preview?.says ?? []" :key="remark" class="border-l-4 border-stop pl-3">
          {{ remark }}
        </p>
        <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        <span
          v-if="
            refusal &&
            ![
              'width_mm',
              'height_mm',
              'columns',
              'rows',
              'margin_x_mm',
              'margin_y_mm',
              'gap_x_mm',
              'gap_y_mm',
              'start_at',
            ].some((f) => said(f))
          "
          class="refusal"
          role="alert"
          >{{ refusal.words }}</span
        >
      </div>
      <div class="flex min-w-0 flex-wrap items-start gap-6">
        <section v-if="preview && !refusal" class="max-w-[26rem] min-w-0" aria-labelledby="true-size">
          <h2 id="true-size" class="small quiet mb-1 font-normal">The first label, in its true size</h2>
          <img
            :src="`data:image/png;base64,${preview.label_png}`"
            :style="{ width: `${preview.width_mm}mm`, height: `${preview.height_mm}mm` }"
            alt="The first label, in its true size"
            class="max-w-full border border-rule"
          />
          <h2 class="small quiet mt-4 mb-1 font-normal">To copy by hand</h2>
          <p
            v-for="(line, n) in preview.lines"
            :key="line"
            class="max-w-prose"
            :class="n ? '' : 'font-semibold'"
          >
            {{ line }}
          </p>
        </section>
        <div v-if="preview && !refusal" class="min-w-0 flex-1">
          <img
            :src="`data:image/png;base64,${preview.png}`"
            :alt="`The first of ${preview.pages} pages as it prints`"
            class="max-h-[78vh] max-w-full border border-rule"
          />
          <p class="small quiet mt-1">
            {{ preview.pages > 1 ? `The first of ${preview.pages} pages.` : 'One page.' }}
          </p>
        </div>
      </div>
    </div>
  </div>
</template>
