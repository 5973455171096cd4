<script setup lang="ts">
/** Puts a lot under suspicion, with the reason, or trusts it again; seen from then on wherever it can be chosen. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { useTried } from '@/kit/tried'

const props = defineProps<{ lotId: number; name: string; suspect: string }>()
const queries = useQueryClient()
const asking = ref(false)
const why = ref('')
const missing = ref('')
const { trouble, busy, tried } = useTried()
const mark = (words: string) =>
  tried(async () => {
    await answered(
      api.PUT('/api/materials/lots/{lot_id}/suspect', {
        params: { path: { lot_id: props.lotId } },
        body: { why: words },
      }),
    )
    asking.value = false
    for (const queryKey of [['lot'], ['lots'], ['making'], ['making/runs'], ['process']])
      void queries.invalidateQueries({ queryKey })
  })
function keep(): void {
  missing.value = why.value.trim() ? '' : 'A few words why.'
  if (!missing.value) void mark(why.value)
}
</script>

<template>
  <div class="mt-1">
    <p v-if="suspect" class="flex flex-wrap items-center gap-x-3">
      <span class="min-w-0 flex-1"
        ><strong class="text-stop">Under suspicion:</strong> {{ name }}, {{ suspect }}</span
      ><button type="button" class="btn btn-quiet min-h-12" :disabled="busy" @click="mark('')">
        Trust it again
      </button>
    </p>
    <button v-else-if="!asking" type="button" class="btn btn-quiet -ml-2 text-left" @click="asking = true">
      Suspect {{ name }}
    </button>
    <div v-else class="flex flex-wrap items-end gap-2">
      <label class="min-w-52 flex-1"
        ><span class="label">Why {{ name }} is under suspicion</span
        ><input v-model="why" class="field" maxlength="300" @keydown.enter.prevent="keep" /><span
          v-if="missing"
          class="refusal"
          role="alert"
          >{{ missing }}</span
        ></label
      >
      <button type="button" class="btn" :disabled="busy" @click="keep">Suspect it</button>
      <button type="button" class="btn btn-quiet" @click="asking = false">Cancel</button>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
  </div>
</template>
