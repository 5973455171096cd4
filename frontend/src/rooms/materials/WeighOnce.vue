<script setup lang="ts">
/**
 * Calibrating where one stands: a level spoon or twenty drops weighed once narrow every later one of that lot.
 * No form of its own, since it opens inside others.
 */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { useUnits } from '@/kit/units'

const props = defineProps<{
  lines: {
    pigment: Pick<Schemas['DryPigment'], 'lot_id' | 'name' | 'loose_density_measured'>
    told?: Schemas['Told'] | null
  }[]
  oil?: Pick<Schemas['BinderOil'], 'lot_id' | 'name' | 'drop_measured'>
}>()
const emit = defineEmits<{ weighed: [] }>()
const queries = useQueryClient()
type Once = { lot: number; name: string; what: 'spoon' | 'drops'; unit: Schemas['Unit'] }
const { teaspoon, known } = useUnits()
const offered = computed<Once[]>(() => [
  ...props.lines
    .filter((line) => line.pigment.lot_id && !line.pigment.loose_density_measured)
    .map((line) => ({
      lot: line.pigment.lot_id!,
      name: line.pigment.name,
      what: 'spoon' as const,
      unit: line.told && known(line.told.unit)?.family === 'spoon' ? line.told.unit : teaspoon.value,
    })),
  ...(props.oil?.lot_id && !props.oil.drop_measured
    ? [{ lot: props.oil.lot_id, name: props.oil.name, what: 'drops' as const, unit: 'drop' as const }]
    : []),
])
/** What is not on the shelf has no lot that a weighing could belong to. */
const without = computed(() => props.lines.some((line) => !line.pigment.lot_id))
const open = ref<Once>()
const weight = ref<number | null>(null)
const missing = ref('')
const { said, trouble, tried } = useTried()
async function keep(): Promise<void> {
  if (weight.value == null) return void (missing.value = 'Try grams above 0.')
  missing.value = ''
  const { lot, what, unit } = open.value!
  const path = { path: { lot_id: lot } }
  const kept = await tried(async () => {
    if (what === 'spoon')
      await answered(
        api.POST('/api/materials/lots/{lot_id}/weigh-spoon', {
          params: path,
          body: { unit, grams: weight.value!, spoons: 1 },
        }),
      )
    else
      await answered(
        api.POST('/api/materials/lots/{lot_id}/weigh-drops', {
          params: path,
          body: { drops: 20, grams: weight.value! },
        }),
      )
  })
  if (!kept) return
  open.value = undefined
  weight.value = null
  void queries.invalidateQueries({ queryKey: ['lots'] })
  emit('weighed')
}
</script>

<template>
  <div v-if="offered.length || without">
    <ul v-if="offered.length && !open" class="flex flex-wrap gap-2" aria-label="Weigh once">
      <li v-for="once in offered" :key="once.what + once.lot">
        <button type="button" class="btn px-3 text-[0.95rem]" @click="open = once">
          {{ once.what === 'spoon' ? `Weigh a level ${known(once.unit)?.one} once` : 'Weigh 20 drops once' }}
        </button>
        <p class="small quiet max-w-72">
          {{
            once.what === 'spoon'
              ? `${once.name}: a third more or less now, a twelfth once weighed.`
              : `${once.name}: a drop may be a third more or less, a twelfth once weighed.`
          }}
        </p>
      </li>
    </ul>
    <div
      v-if="open"
      class="flex flex-wrap items-end gap-3 border-2 border-ink bg-sheet p-3"
      @keydown.esc.prevent.stop="open = undefined"
    >
      <NumberField
        v-model="weight"
        class="w-56"
        :label="
          open.what === 'spoon'
            ? `One level ${known(open.unit)?.one} of it weighs`
            : 'Twenty drops of it weigh'
        "
        unit="g"
        :refusal="said('grams') ?? missing"
        @enter="keep"
      />
      <button type="button" class="btn btn-main" @click="keep">Keep</button>
      <button type="button" class="btn" @click="open = undefined">Cancel</button>
      <p v-if="trouble" class="refusal basis-full" role="alert">{{ trouble }}</p>
    </div>
    <p v-if="without && !offered.length" class="small quiet">
      A level spoon of it may weigh a third more or less. Keep a tin in stock and weigh one spoon once: then
      it is a twelfth.
    </p>
  </div>
</template>
