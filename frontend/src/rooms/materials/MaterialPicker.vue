<script setup lang="ts">
/** Choose a pigment or an oil: lots of the shelf first, then the whole library; type to narrow. */
import { librarySource, lotOf, lotSource } from '@/kit/source'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api } from '@/api/client'
import { useLibrary } from '@/api/queries'
import { grams, massUnit } from '@/kit/format'
import PickField from '@/kit/PickField.vue'
import PickOption from '@/kit/PickOption.vue'
import { called, folded } from '@/kit/words'
import KindOf from './KindOf.vue'
import OwnOil from './OwnOil.vue'

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
const { data: foundLots, isPlaceholderData: stale } = useQuery({
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
      detail: `lot ${lot.code}, ${grams(lot.on_hand)} ${massUnit()}${lot.suspect ? '; UNDER SUSPICION' : ''}`,
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
/** Whether all there is was looked through: only then is it known that something is not listed. */
const looked = computed(
  () => !!library.value && !!foundLots.value && !stale.value && words.value === typed.value,
)
/** The name it was looked for by, where that is not the one it has here. */
const alias = (choice: Choice) =>
  typed.value && !called(folded(choice.name), typed.value)
    ? choice.also?.find((name) => called(folded(name), typed.value))
    : undefined
const chosen = computed(() => choices.value.find((c) => c.source === props.modelValue))
const shown = (source: unknown) => {
  const choice = choices.value.find((c) => c.source === source)
  return choice ? choice.name : ''
}
</script>

<template>
  <PickField
    v-model:typed="typed"
    :model-value="modelValue"
    :label="label"
    :detail="chosen?.detail"
    :colour="chosen?.colour"
    :display="shown"
    :placeholder="`Choose ${kind === 'pigment' ? 'a pigment' : 'an oil'}`"
    :shows-all="`Show every ${kind}`"
    :refusal="refusal"
    @update:model-value="chose"
  >
    <li v-if="!found.length" class="p-3">
      {{ looked ? 'Nothing by that name. Try a colour family, such as earth or blue.' : 'Looking' }}
    </li>
    <PickOption
      v-for="choice in found"
      :key="choice.source"
      :value="choice.source"
      :colour="choice.colour"
      :detail="choice.detail"
      >{{ choice.name
      }}<template v-if="alias(choice)"
        >, <span class="font-normal">also called {{ alias(choice) }}</span></template
      ></PickOption
    >
    <PickOption v-if="kind === 'pigment' && !lotsOnly && typed && looked" :value="MAKE"
      >Not listed: make <strong>{{ typed.trim() }}</strong> a kind of earth, lake, organic or metal
      colour</PickOption
    >
    <PickOption v-else-if="kind === 'oil' && !lotsOnly && typed && looked" :value="MAKE"
      >Not listed: <strong>{{ typed.trim() }}</strong> is an oil, binder or medium of your own</PickOption
    >
    <template #below>
      <OwnOil
        v-if="making !== undefined && kind === 'oil'"
        :called="making"
        @made="made"
        @close="making = undefined"
      />
      <KindOf v-else-if="making !== undefined" :called="making" @made="made" @close="making = undefined" />
    </template>
  </PickField>
</template>
