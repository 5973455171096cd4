<script setup lang="ts">
/** A slab that is not clean: by which batch it is in use, or after what it waits to be cleaned; one tap says it is. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { ago } from '@/kit/format'
import { newId } from '@/kit/ids'

const props = defineProps<{ slab: Schemas['SlabNow']; now: string }>()
const emit = defineEmits<{ cleaned: [] }>()
const queries = useQueryClient()
const busy = ref(false)
const trouble = ref('')
const id = newId()
async function cleaned(): Promise<void> {
  busy.value = true
  trouble.value = ''
  try {
    await answered(
      api.POST('/api/slab/{number}/acts', {
        params: { path: { number: props.slab.batch! } },
        body: { id, kind: 'cleaned', made_at: new Date().toISOString(), waited: false },
      }),
    )
    void queries.invalidateQueries({ queryKey: ['home'] })
    emit('cleaned')
  } catch {
    trouble.value = 'The server does not answer; try again.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div
    class="flex flex-wrap items-center gap-x-4 gap-y-1 border-l-4 py-1 pl-3"
    :class="slab.strict ? 'border-stop' : 'border-ink'"
    role="status"
  >
    <p class="flex-1">
      <template v-if="slab.surface === 'in_use'">
        <strong>{{ slab.name }} is in use</strong> by
        <RouterLink class="underline" :to="`/slab/${slab.batch}`"
          >{{ slab.batch_name }}, batch {{ slab.batch }}</RouterLink
        >.
      </template>
      <template v-else>
        <strong>{{ slab.name }} is to be cleaned</strong> of
        <RouterLink class="underline" :to="`/batches/${slab.batch}`"
          >{{ slab.batch_name }}, batch {{ slab.batch }}</RouterLink
        ><template v-if="slab.since">, ended {{ ago(slab.since, now) }}</template
        >.
      </template>
      <strong v-if="slab.strict" class="text-stop">
        Nothing of it may get into another paint: clean slab, muller and knives wet, wipes into a closed
        bag.</strong
      >
      <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    </p>
    <button v-if="slab.surface !== 'in_use'" type="button" class="btn" :disabled="busy" @click="cleaned">
      It is clean
    </button>
  </div>
</template>
