<script setup lang="ts">
/** An oil, ready-made binder or medium that is not listed. No form of its own, since it opens inside others. */
import { useQueryClient } from '@tanstack/vue-query'
import { reactive } from 'vue'
import { answered, api } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { librarySource } from '@/kit/source'
import { useTried } from '@/kit/tried'

const props = defineProps<{ called: string }>()
const emit = defineEmits<{ made: [source: string]; close: [] }>()
const queries = useQueryClient()
const asked = reactive({
  name: props.called,
  readyMade: true,
  density: 0.95 as number | null,
  stays: 100 as number | null,
  low: null as number | null,
  high: null as number | null,
})
const { trouble, busy, said, tried } = useTried('what you typed is kept')
const keep = () =>
  tried(async () => {
    const made = await answered(
      api.POST('/api/materials/own/oils', {
        body: {
          name: asked.name,
          ready_made: asked.readyMade,
          density_g_per_ml: asked.density!,
          nonvolatile_fraction: asked.stays == null ? (null as unknown as number) : asked.stays / 100,
          touch_dry_days_low: asked.low!,
          touch_dry_days_high: asked.high!,
          hazards: ['oily-rags'],
        },
      }),
    )
    await queries.invalidateQueries({ queryKey: ['library'] })
    emit('made', librarySource(made.key))
  })
</script>

<template>
  <div
    class="mt-2 space-y-3 border-2 border-ink bg-sheet p-3"
    role="group"
    aria-label="An oil that is not listed"
    @keydown.esc.prevent.stop="emit('close')"
  >
    <label class="block"
      ><span class="label">It is called</span
      ><input
        v-model="asked.name"
        class="field"
        maxlength="80"
        :aria-invalid="said('name') ? 'true' : undefined"
      /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
    >
    <label class="flex min-h-12 items-center gap-3"
      ><input v-model="asked.readyMade" type="checkbox" class="h-7 w-7 accent-act" />A ready-made binder or
      medium</label
    >
    <div class="grid grid-cols-2 gap-3">
      <NumberField v-model="asked.density" label="Density" unit="g/ml" :refusal="said('density_g_per_ml')" />
      <NumberField
        v-model="asked.stays"
        label="What stays when it is dry"
        unit="% by weight"
        :refusal="said('nonvolatile_fraction') && 'Try 20 to 100 %, from its data sheet.'"
      />
      <NumberField
        v-model="asked.low"
        label="Touch-dry, thin, from"
        unit="days"
        :refusal="said('touch_dry_days_low')"
      />
      <NumberField v-model="asked.high" label="to" unit="days" :refusal="said('touch_dry_days_high')" />
    </div>
    <p class="small quiet">Its maker's sheet tells; two binders may share a tube where both dry.</p>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="flex gap-3">
      <button type="button" class="btn btn-main" :disabled="busy" @click="keep">Keep it</button>
      <button type="button" class="btn btn-quiet" @click="emit('close')">Close</button>
    </div>
  </div>
</template>
