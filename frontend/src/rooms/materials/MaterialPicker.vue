<script setup lang="ts">
/** Choose a pigment or an oil: lots of the shelf, then the library; the server finds what is typed. */
import { librarySource, lotOf, lotSource } from '@/kit/source'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useLibrary } from '@/api/queries'
import { grams, massUnit } from '@/kit/format'
import PickField from '@/kit/PickField.vue'
import PickOption from '@/kit/PickOption.vue'
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
const { data: answer, isPlaceholderData: stale } = useQuery({
  queryKey: ['lots', 'named', () => props.kind, () => !!props.lotsOnly, words],
  queryFn: () =>
    answered(
      api.GET('/api/materials/named', {
        params: { query: { kind: props.kind, typed: words.value, lots_only: !!props.lotsOnly } },
      }),
    ),
  placeholderData: keepPreviousData,
})
/** What is chosen, should the search not show it. */
const chosenId = computed(() => lotOf(props.modelValue))
const { data: chosenLot } = useQuery({
  queryKey: ['lot', chosenId],
  queryFn: () =>
    answered(api.GET('/api/materials/lots/{lot_id}', { params: { path: { lot_id: chosenId.value! } } })),
  enabled: () => chosenId.value !== undefined,
})
type Choice = { source: string; name: string; detail: string; colour?: string; also: string }
const choice = (of: Schemas['MaterialNamed']): Choice => ({
  source: of.source,
  name: of.name,
  detail: of.lot_code
    ? `lot ${of.lot_code}, ${grams(of.on_hand ?? 0)} ${massUnit()}${of.suspect ? '; UNDER SUSPICION' : ''}`
    : `from the library; no ${props.kind === 'oil' ? 'bottle' : 'tin'} in stock`,
  colour: of.masstone_srgb ?? undefined,
  also: of.also ?? '',
})
const allowed = (of: Choice) => of.source === props.modelValue || !props.taken?.includes(of.source)
const found = computed(() => (answer.value?.found ?? []).map(choice).filter(allowed))
const nearest = computed(() => (answer.value?.nearest ?? []).map(choice).filter(allowed))
/** Whether all there is was looked through: only then is it known that something is not listed. */
const looked = computed(() => !!answer.value && !stale.value && words.value === typed.value)
const own = computed<Choice | undefined>(() => {
  const lot = chosenLot.value?.lot
  if (lot && lotSource(lot.id) === props.modelValue)
    return choice({ ...lot, source: props.modelValue, lot_code: lot.code, suspect: !!lot.suspect, also: '' })
  const pigment = library.value?.pigments.find((one) => librarySource(one.key) === props.modelValue)
  const oil = library.value?.oils.find((one) => librarySource(one.key) === props.modelValue)
  const name = pigment?.name ?? (oil ? `${oil.name}, ${oil.process}` : undefined)
  return name
    ? choice({
        source: props.modelValue,
        name,
        lot_code: '',
        suspect: false,
        masstone_srgb: pigment?.masstone_srgb,
        also: '',
      })
    : undefined
})
const chosen = computed(() => own.value ?? found.value.find((one) => one.source === props.modelValue))
const shown = (source: unknown) =>
  [own.value, ...found.value, ...nearest.value].find((one) => one?.source === source)?.name ?? ''
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
    <li v-if="!found.length && !looked" class="p-3">Looking</li>
    <li v-else-if="!found.length" class="p-3">
      Nothing goes by that name.{{ nearest.length ? ' Nearest:' : '' }}
    </li>
    <PickOption
      v-for="one in found.length ? found : nearest"
      :key="one.source"
      :value="one.source"
      :colour="one.colour"
      :detail="one.detail"
      >{{ one.name
      }}<template v-if="one.also"
        >, <span class="font-normal">also called {{ one.also }}</span></template
      ></PickOption
    >
    <PickOption v-if="!lotsOnly && typed.trim() && looked" :value="MAKE"
      >Add <strong>{{ typed.trim() }}</strong>{{
        kind === 'pigment'
          ? ': an earth, a lake, an organic or a metal colour'
          : ': an oil, binder or medium of your own'
      }}</PickOption
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
