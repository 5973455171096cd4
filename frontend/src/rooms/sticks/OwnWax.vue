<script setup lang="ts">
/** A wax or resin the library does not have. */
import { reactive } from 'vue'
import { answered, api } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'

const emit = defineEmits<{ made: [key: string]; close: [] }>()
const asked = reactive({
  name: '',
  resin: false,
  density: 0.95 as number | null,
  low: null as number | null,
  high: null as number | null,
  dent: null as number | null,
})
const { trouble, busy, said, tried } = useTried()
async function keep(): Promise<void> {
  let key = ''
  const done = await tried(async () => {
    const wax = await answered(
      api.POST('/api/materials/own/waxes', {
        body: {
          name: asked.name,
          resin: asked.resin,
          density_g_per_ml: asked.density!,
          melting_low_c: asked.low!,
          melting_high_c: asked.high!,
          penetration_dmm: asked.dent!,
          hazards: asked.resin ? ['hot-wax', 'resin-dust'] : ['hot-wax'],
        },
      }),
    )
    key = wax.key
  })
  if (done) emit('made', key)
}
</script>

<template>
  <div class="space-y-3 border-2 border-ink bg-sheet p-3" role="group" aria-label="A wax of your own">
    <label class="block"
      ><span class="label">Name</span
      ><input
        v-model="asked.name"
        class="field"
        maxlength="80"
        :aria-invalid="said('name') ? 'true' : undefined"
      /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
    >
    <label class="flex min-h-12 items-center gap-2"
      ><input v-model="asked.resin" type="checkbox" class="h-6 w-6" /> it is a resin</label
    >
    <div class="grid grid-cols-2 gap-3">
      <NumberField v-model="asked.low" label="Melts from" unit="°C" :refusal="said('melting_low_c')" />
      <NumberField v-model="asked.high" label="to" unit="°C" :refusal="said('melting_high_c')" />
      <NumberField
        v-model="asked.dent"
        label="Needle dent, beeswax is 17"
        unit="0.1 mm"
        :refusal="said('penetration_dmm')"
      />
      <NumberField v-model="asked.density" label="Density" unit="g/ml" :refusal="said('density_g_per_ml')" />
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="flex gap-3">
      <button type="button" class="btn btn-main" :disabled="busy" @click="keep">Keep it</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
  </div>
</template>
