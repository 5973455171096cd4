<script setup lang="ts">
/** What lay on each sieve of a stack, from the coarsest down, and in the pan; or all of it through one. */
import { ref } from 'vue'
import type { Refused } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { rowKey } from '@/kit/rows'
import type { RunSaid } from './room'

const props = defineProps<{ refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{ record: [said: RunSaid] }>()
const rows = ref<{ aperture_um: number | null; retained_g: number | null }[]>([
  { aperture_um: 250, retained_g: null },
  { aperture_um: 125, retained_g: null },
  { aperture_um: 63, retained_g: null },
])
const pan = ref<number | null>(null)
const charge = ref<number | null>(null)
const said = (field: string) => props.refusal?.at(field)
function finer(): void {
  const last = rows.value.at(-1)?.aperture_um ?? 250
  rows.value.push({ aperture_um: Math.max(20, Math.round(last / 1.7)), retained_g: null })
}
const keep = () =>
  emit('record', {
    kind: 'sieved',
    fractions: rows.value.map((one) => ({
      aperture_um: one.aperture_um as number,
      retained_g: one.retained_g ?? 0,
    })),
    pan_g: pan.value ?? 0,
    charge_g: charge.value,
    step: '',
  })
</script>

<template>
  <div class="space-y-3">
    <p class="border-l-4 border-stop pl-3">
      Mask on, damp cloth beneath. The coarsest sieve on top; weigh what each holds back.
    </p>
    <div
      v-for="(row, n) in rows"
      :key="rowKey(row)"
      class="flex flex-wrap items-start gap-3"
      role="group"
      :aria-label="`Sieve ${n + 1}`"
    >
      <NumberField
        v-model="row.aperture_um"
        class="w-36"
        label="Mesh"
        unit="µm"
        :refusal="said(`fractions.${n}.aperture_um`)"
      />
      <NumberField
        v-model="row.retained_g"
        class="w-40"
        label="On it"
        unit="g"
        :refusal="said(`fractions.${n}.retained_g`)"
      />
      <button
        v-if="rows.length > 1"
        type="button"
        class="btn btn-quiet mt-6"
        :aria-label="`Leave out sieve ${n + 1}`"
        @click="rows.splice(n, 1)"
      >
        leave out
      </button>
    </div>
    <button type="button" class="btn" @click="finer">A finer sieve</button>
    <div class="flex flex-wrap items-end gap-3">
      <NumberField v-model="pan" class="w-40" label="In the pan" unit="g" :refusal="said('pan_g')" />
      <NumberField
        v-model="charge"
        class="w-48"
        label="What went onto it, if weighed"
        unit="g"
        :refusal="said('charge_g')"
      />
      <button type="button" class="btn btn-main btn-slab px-8" :disabled="busy" @click="keep">Keep it</button>
    </div>
    <span v-if="said('fractions')" class="refusal" role="alert">{{ said('fractions') }}</span>
  </div>
</template>
