<script setup lang="ts">
/** Choose a pigment or an oil: lots of the shelf first, then the whole library; type to narrow. */
import { librarySource, lotOf, lotSource } from '@/kit/source'
import {
  Combobox,
  ComboboxButton,
  ComboboxInput,
  ComboboxLabel,
  ComboboxOption,
  ComboboxOptions,
} from '@headlessui/vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api } from '@/api/client'
import { useLibrary } from '@/api/queries'
import { grams, massUnit } from '@/kit/format'
import { called, folded } from '@/kit/words'
import KindOf from './KindOf.vue'

const props = defineProps<{
  kind: 'pigment' | 'oil'
  modelValue: string
  label: string
  lotsOnly?: boolean
  taken?: string[]
  refusal?: string
}>()
const emit = defineEmits<{ 'update:modelValue': [source: string] }>()
const making = ref<string>()
function chose(source: string): void {
  if (source === MAKE) making.value = typed.value.trim()
  else emit('update:modelValue', source)
}
function made(source: string): void {
  making.value = undefined
  emit('update:modelValue', source)
}
const MAKE = 'make'

const { data: library } = useLibrary()
const typed = ref('')
const words = refDebounced(typed, 120)
const SHOWN = 80
const { data: foundLots } = useQuery({
  queryKey: ['lots', 'pick', () => props.kind, words],
  queryFn: () =>
    answered(
      api.GET('/api/materials/lots', {
        params: { query: { kind: props.kind, words: words.value, limit: SHOWN } },
      }),
    ),
  placeholderData: keepPreviousData,
})
/** The chosen lot itself, should the search not show it. */
const chosenId = computed(() => lotOf(props.modelValue))
const { data: chosenLot } = useQuery({
  queryKey: ['lot', chosenId],
  queryFn: () =>
    answered(api.GET('/api/materials/lots/{lot_id}', { params: { path: { lot_id: chosenId.value! } } })),
  enabled: () => chosenId.value !== undefined,
})
const lots = computed(() => {
  const seen = foundLots.value ?? []
  const own = chosenLot.value?.lot
  return own && own.kind === props.kind && !seen.some((l) => l.id === own.id) ? [own, ...seen] : seen
})

const synonyms = computed(
  () => new Map((library.value?.pigments ?? []).map((p) => [p.key, (p.synonyms ?? []).join(' ')])),
)

type Choice = {
  source: string
  name: string
  detail: string
  colour?: string
  words: string
  also?: readonly string[]
}
const choices = computed<Choice[]>(() => {
  const ofShelf = lots.value
    .filter((lot) => lot.kind === props.kind)
    .map((lot) => ({
      source: lotSource(lot.id),
      name: lot.name,
      detail: `lot ${lot.code}, ${grams(lot.on_hand)} ${massUnit()}`,
      colour: lot.masstone_srgb ?? undefined,
      words: folded(
        `${lot.name} ${lot.code} ${lot.ci_name} ${lot.family} ${synonyms.value.get(lot.material_key) ?? ''}`,
      ),
    }))
  const ofLibrary: Choice[] =
    props.kind === 'pigment'
      ? (library.value?.pigments ?? []).map((p) => ({
          source: librarySource(p.key),
          name: p.name,
          detail: 'library, no lot kept',
          colour: p.masstone_srgb,
          words: folded(`${p.name} ${(p.synonyms ?? []).join(' ')} ${p.ci_name} ${p.family}`),
          also: p.synonyms,
        }))
      : (library.value?.oils ?? []).map((o) => ({
          source: librarySource(o.key),
          name: `${o.name}, ${o.process}`,
          detail: 'library, no bottle kept',
          words: folded(`${o.name} ${o.process}`),
        }))
  return props.lotsOnly ? ofShelf : [...ofShelf, ...ofLibrary]
})
const found = computed(() => {
  return choices.value.filter(
    (c) =>
      (c.source === props.modelValue || !props.taken?.includes(c.source)) && called(c.words, typed.value),
  )
})
/** The name it was looked for by, where that is not the one it has here. */
const alias = (choice: Choice) =>
  typed.value && !called(folded(choice.name), typed.value)
    ? choice.also?.find((name) => called(folded(name), typed.value))
    : undefined
/** Touching the field shows the list, as the arrow does. */
const arrow = ref<{ el: HTMLButtonElement } | null>(null)
function unfold(event: MouseEvent): void {
  const field = event.target as HTMLElement
  if (field.getAttribute('aria-expanded') !== 'true') arrow.value?.el.click()
}
const chosen = computed(() => choices.value.find((c) => c.source === props.modelValue))
const shown = (source: unknown) => {
  const choice = choices.value.find((c) => c.source === source)
  return choice ? choice.name : ''
}
</script>

<template>
  <Combobox :model-value="modelValue" @update:model-value="chose">
    <div class="relative">
      <span class="label"
        ><ComboboxLabel>{{ label }}</ComboboxLabel
        ><span v-if="chosen" class="ml-1.5 text-ink">{{ chosen.detail }}</span></span
      >
      <div class="relative flex items-center">
        <span
          v-if="chosen?.colour"
          class="absolute left-2 h-8 w-8 border-4 border-[#bdbdbd]"
          :style="{ background: chosen.colour }"
          aria-hidden="true"
        />
        <ComboboxInput
          class="field truncate pr-11 font-semibold"
          :class="chosen?.colour ? 'pl-12' : ''"
          :display-value="shown"
          :aria-invalid="refusal ? 'true' : undefined"
          :placeholder="`Choose ${kind === 'pigment' ? 'a pigment' : 'an oil'}`"
          autocomplete="off"
          @change="typed = $event.target.value"
          @focus="((typed = ''), $event.target.select())"
          @click="unfold"
        />
        <ComboboxButton
          ref="arrow"
          class="absolute right-0 flex h-12 w-11 items-center justify-center"
          :aria-label="`Show every ${kind}`"
          @click="typed = ''"
        >
          <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
            <path d="M2 5l6 6 6-6" fill="none" stroke="currentColor" stroke-width="2" />
          </svg>
        </ComboboxButton>
      </div>
      <ComboboxOptions
        class="absolute z-40 mt-1 max-h-96 w-full min-w-72 overflow-auto border-2 border-ink bg-white"
      >
        <li v-if="!found.length" class="p-3">
          Nothing by that name. Try a colour family, such as earth or blue.
        </li>
        <ComboboxOption
          v-for="choice in found"
          :key="choice.source"
          v-slot="{ active, selected }"
          :value="choice.source"
          as="template"
        >
          <li class="flex min-h-12 items-center gap-3 px-2 py-1" :class="active ? 'bg-act-wash' : ''">
            <span
              v-if="choice.colour"
              class="h-8 w-8 shrink-0 border-4 border-[#bdbdbd]"
              :style="{ background: choice.colour }"
              aria-hidden="true"
            />
            <span class="leading-tight" :class="selected ? 'font-bold' : ''"
              >{{ choice.name
              }}<template v-if="alias(choice)"
                >, <span class="font-normal">also called {{ alias(choice) }}</span></template
              ><span class="small quiet block font-normal">{{ choice.detail }}</span></span
            >
          </li>
        </ComboboxOption>
        <ComboboxOption
          v-if="kind === 'pigment' && !lotsOnly && typed"
          v-slot="{ active }"
          :value="MAKE"
          as="template"
        >
          <li class="hairline flex min-h-12 items-center px-2 py-1" :class="active ? 'bg-act-wash' : ''">
            <span class="leading-tight"
              >Not listed: make <strong>{{ typed.trim() }}</strong> a kind of earth, lake, organic or metal
              colour</span
            >
          </li>
        </ComboboxOption>
      </ComboboxOptions>
      <KindOf v-if="making !== undefined" :called="making" @made="made" @close="making = undefined" />
      <span v-if="refusal" class="refusal" role="alert">{{ refusal }}</span>
    </div>
  </Combobox>
</template>
