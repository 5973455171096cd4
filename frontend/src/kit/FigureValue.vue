<script setup lang="ts">
/** A computed figure: value, unit, spread, basis; a press opens how it was got. `told`: it in the maker's measure. */
import { Popover, PopoverButton, PopoverPanel } from '@headlessui/vue'
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import BasisMark from './BasisMark.vue'
import { digits, inShownUnit, minutes, spread, telling } from './format'

const props = withDefaults(
  defineProps<{
    figure: Schemas['Figure']
    size?: 'huge' | 'big' | 'plain'
    label?: string
    up?: boolean
    told?: Schemas['Told'] | null
  }>(),
  { size: 'plain', label: undefined, told: undefined },
)

const shown = computed(() => inShownUnit(props.figure))
const asTime = computed(() => props.figure.unit === 'min')
const value = computed(() =>
  asTime.value ? minutes(props.figure.value) : digits(shown.value.value, shown.value.digits),
)
const range = computed(() => spread(shown.value))
const spoken = computed(() => {
  const unit = asTime.value ? '' : shown.value.unit
  const spans = range.value ? `Range ${range.value}.` : ''
  const amount = props.told ? `${props.told.words}, ${value.value}` : value.value
  if (props.told?.figures)
    return `${props.label ?? props.figure.label}: ${props.told.words}. How much would that be?`
  return `${props.label ?? props.figure.label}: ${amount} ${unit}. ${spans} Open the working`
})
const sizes = {
  huge: 'text-[2.55rem] font-semibold',
  big: 'text-3xl font-semibold',
  plain: 'text-xl font-semibold',
}
/** A time is the longest of the figures in its column. */
const fitted = computed(() => {
  const long = asTime.value ? value.value.length : 0
  return long > 9 ? sizes.plain : long > 6 ? 'text-2xl font-semibold' : sizes[props.size]
})
</script>

<template>
  <Popover class="relative">
    <PopoverButton class="group block min-h-12 w-full text-left" :aria-label="spoken">
      <span class="small quiet flex items-center gap-1">
        {{ label ?? figure.label }}
        <BasisMark :basis="figure.basis" />
      </span>
      <span class="block border-b border-dotted border-rule leading-tight group-hover:border-solid">
        <span
          v-if="told"
          class="block pb-0.5 leading-[1.1] font-semibold"
          :class="size === 'plain' ? 'text-lg' : 'text-[1.3rem]'"
          >{{ told.words }}</span
        >
        <span v-else class="figure whitespace-nowrap" :class="fitted">{{ value }}</span><span
          v-if="!told && !asTime && shown.unit"
          class="quiet"
          :class="shown.unit.length > 6 ? 'small block pb-0.5' : 'ml-1.5'"
          >{{ shown.unit }}</span
        >
      </span>
      <span v-if="told?.figures" class="small quiet mt-0.5 block">how much would that be?</span>
      <span v-else-if="told" class="small quiet mt-0.5 block"
        >about <span class="figure">{{ value }}</span> {{ shown.unit
        }}<template v-if="range"
          >, <span class="figure">{{ range }}</span></template
        ></span
      >
      <span v-else-if="range" class="small quiet figure mt-0.5 block">{{ range }}</span>
    </PopoverButton>
    <PopoverPanel
      class="absolute left-0 z-30 mt-1 w-[26rem] max-w-[90vw] border-2 border-ink bg-sheet p-4"
      :class="up ? 'bottom-full mb-1' : ''"
    >
      <h3 class="font-semibold">How {{ (label ?? figure.label).toLowerCase() }} was got</h3>
      <p v-if="told?.figures" class="my-2">
        {{ told.figures }}, about <span class="figure">{{ value }}</span> {{ shown.unit }}
      </p>
      <p class="my-2 border-l-4 border-act pl-3">{{ figure.working.formula }}</p>
      <table class="w-full text-[0.95rem]">
        <tbody>
          <tr v-for="input in figure.working.inputs" :key="input.name" class="align-baseline">
            <th scope="row" class="py-0.5 pr-3 text-left font-normal">{{ input.name }}</th>
            <td class="figure py-0.5 text-right whitespace-nowrap">{{ telling(input.value) }}</td>
            <td class="quiet py-0.5 pl-1.5">{{ input.unit }}</td>
            <td class="py-0.5 pl-2"><BasisMark v-if="input.basis" press :basis="input.basis" /></td>
          </tr>
        </tbody>
      </table>
      <p v-if="range" class="small mt-2">Nine times in ten between {{ range }} {{ shown.unit }}.</p>
      <p v-if="figure.working.spread" class="mt-2">{{ figure.working.spread }}</p>
      <p class="small mt-2"><BasisMark :basis="figure.basis" words /></p>
      <p v-if="figure.working.source" class="small quiet mt-1">{{ figure.working.source }}</p>
    </PopoverPanel>
  </Popover>
</template>
