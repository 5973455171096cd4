<script setup lang="ts">
/** A washing in two taps: what was on the brush, and how much of it. */
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import ColourChip from '@/kit/ColourChip.vue'
import { useKeys } from '@/kit/keys'
import { MUCH, type CanSaid } from './room'

const props = defineProps<{ offered: Schemas['Offered'][]; busy?: boolean; refusal?: string }>()
const emit = defineEmits<{ record: [said: CanSaid] }>()
type Paint = Schemas['Offered']
const keyOf = (paint: Paint) =>
  paint.item_id != null ? `item-${paint.item_id}` : `batch-${paint.batch_number}`
const chosen = ref<Paint[]>([])
const unsure = ref(false)
const more = ref(false)
const typed = ref('')
const asked = refDebounced(typed, 200)
const { data: found } = useQuery({
  queryKey: ['shelf', 'washed', asked],
  queryFn: () => answered(api.GET('/api/shelf', { params: { query: { words: asked.value, limit: 8 } } })),
  enabled: computed(() => more.value && asked.value.trim().length > 0),
})
const others = computed<Paint[]>(() =>
  (found.value?.items ?? []).map((item) => ({
    item_id: item.id,
    batch_number: null,
    name: item.name,
    says: `${item.code}, ${item.container}`,
    masstone_srgb: item.masstone_srgb,
  })),
)
const shown = computed(() => {
  const known = new Set(props.offered.map(keyOf))
  return [...props.offered, ...chosen.value.filter((paint) => !known.has(keyOf(paint)))]
})
const isChosen = (paint: Paint) => chosen.value.some((one) => keyOf(one) === keyOf(paint))
function toggle(paint: Paint): void {
  chosen.value = isChosen(paint)
    ? chosen.value.filter((one) => keyOf(one) !== keyOf(paint))
    : [...chosen.value, paint]
}
const some = computed(() => chosen.value.length > 0 || unsure.value)
const MUCHES = Object.keys(MUCH) as Schemas['Much'][]
const hint = ref(false)
function wash(much: Schemas['Much']): void {
  hint.value = !some.value
  if (!some.value) return
  emit('record', {
    kind: 'washing',
    paints: chosen.value.map((paint) => ({
      ...(paint.item_id != null ? { item_id: paint.item_id } : { batch_number: paint.batch_number! }),
      much,
    })),
    ...(unsure.value ? { unlogged: much } : {}),
  })
}
/** What was chosen is put away once it is kept. */
function done(): void {
  chosen.value = []
  unsure.value = more.value = hint.value = false
  typed.value = ''
}
defineExpose({ done })
useKeys(() =>
  MUCHES.map((much, n) => ({ key: 'lbp'[n]!, does: `washed off ${MUCH[much]}`, act: () => wash(much) })),
)
</script>

<template>
  <section class="border-2 border-ink bg-sheet p-3 sm:p-4" aria-labelledby="washing">
    <h2 id="washing" class="mb-2 text-xl">A washing: what was on the brush?</h2>
    <div class="grid gap-2 sm:grid-cols-2" role="group" aria-label="Paints">
      <button
        v-for="paint in shown"
        :key="keyOf(paint)"
        type="button"
        class="btn btn-slab justify-start gap-3 px-2 text-left text-base"
        :class="isChosen(paint) ? 'border-4 border-act bg-act-wash' : ''"
        :aria-pressed="isChosen(paint)"
        @click="toggle(paint)"
      >
        <ColourChip class="h-10 w-12" :colour="paint.masstone_srgb" /><span class="min-w-0 leading-tight"
          >{{ paint.name }}<span class="quiet small block font-normal">{{ paint.says }}</span></span
        >
      </button>
      <button
        type="button"
        class="btn btn-slab justify-start gap-3 px-2 text-left text-base"
        :class="unsure ? 'border-4 border-act bg-act-wash' : ''"
        :aria-pressed="unsure"
        @click="unsure = !unsure"
      >
        <span
          class="flex h-10 w-12 shrink-0 items-center justify-center border-4 border-[#bdbdbd] bg-white text-lg"
          aria-hidden="true"
          >?</span
        ><span class="leading-tight"
          >Not sure what<span class="quiet small block font-normal"
            >then the sludge is handled as hazardous</span
          ></span
        >
      </button>
    </div>
    <button v-if="!more" type="button" class="btn btn-quiet mt-1 -ml-2" @click="more = true">
      Another tube or jar
    </button>
    <div v-else class="mt-2">
      <label
        ><span class="label">Another tube or jar: its code, colour or name</span
        ><input v-model="typed" class="field" maxlength="80" autocomplete="off"
      /></label>
      <div class="mt-1 flex flex-wrap gap-2">
        <button
          v-for="paint in others"
          :key="keyOf(paint)"
          type="button"
          class="btn justify-start px-2"
          :aria-pressed="isChosen(paint)"
          @click="toggle(paint)"
        >
          <span
            class="h-7 w-9 shrink-0 border-[3px] border-[#bdbdbd]"
            :style="{ background: paint.masstone_srgb }"
            aria-hidden="true"
          />{{ paint.name }} <span class="quiet small font-normal">{{ paint.says }}</span>
        </button>
        <p v-if="typed && found && !others.length" class="quiet">Nothing of that name is on the shelf.</p>
      </div>
    </div>
    <div class="thumb-sticky">
      <p class="label mt-3 mb-1 text-base">How much of it?</p>
      <div class="grid grid-cols-3 gap-2" role="group" aria-label="How much">
        <button
          v-for="much in MUCHES"
          :key="much"
          type="button"
          class="btn btn-slab px-1"
          :class="some ? 'btn-main' : ''"
          :disabled="busy"
          @click="wash(much)"
        >
          {{ MUCH[much] }}
        </button>
      </div>
      <span v-if="hint && !some" class="refusal" role="alert">Tap what was on the brush first.</span>
      <span v-if="refusal" class="refusal" role="alert">{{ refusal }}</span>
    </div>
  </section>
</template>
