<script setup lang="ts">
/**
 * A powder that is not listed, made on the spot: a name, what kind it is, its colour; hazards to confirm.
 * No form of its own, since it opens inside others.
 */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { librarySource } from '@/kit/source'
import { useTried } from '@/kit/tried'

const props = defineProps<{ called: string }>()
const emit = defineEmits<{ made: [source: string]; close: [] }>()
const queries = useQueryClient()
const { data: kinds } = useQuery({
  queryKey: ['kinds'],
  queryFn: () => answered(api.GET('/api/materials/kinds')),
  staleTime: Infinity,
})
const name = ref(props.called)
const kind = ref<Schemas['PigmentKind']>()
const colour = ref('#8a6a4a')
const hazards = ref<string[]>([])
const chosen = computed(() => kinds.value?.find((k) => k.values.kind === kind.value))
watch(chosen, (now) => (hazards.value = (now?.hazards ?? []).map((h) => h.key)))
const missing = ref('')
const { refusal, said, trouble, busy, tried } = useTried('what you chose is kept')
async function keep(): Promise<void> {
  missing.value = ''
  if (!name.value.trim()) return void (missing.value = 'Give it a name.')
  if (!kind.value) return void (missing.value = 'Choose what kind it is.')
  await tried(async () => {
    const made = await answered(
      api.POST('/api/materials/own/of-kind', {
        body: { name: name.value, kind: kind.value!, masstone_srgb: colour.value, hazards: hazards.value },
      }),
    )
    await queries.invalidateQueries({ queryKey: ['library'] })
    emit('made', librarySource(made.key))
  })
}
</script>

<template>
  <!-- Whole at once: a form that grows under the finger loses the tap. -->
  <div
    v-if="kinds"
    class="mt-2 space-y-3 border-2 border-ink bg-sheet p-3"
    role="group"
    aria-label="A powder that is not listed"
    @keydown.esc.prevent.stop="emit('close')"
  >
    <div class="flex gap-3">
      <label class="min-w-0 flex-1"
        ><span class="label">It is called</span
        ><input
          v-model="name"
          class="field"
          maxlength="80"
          :aria-invalid="said('name') ? 'true' : undefined"
          @keydown.enter.prevent="keep"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <label class="w-20"
        ><span class="label">Colour</span
        ><input v-model="colour" type="color" class="h-12 w-full border border-rule bg-white p-1"
      /></label>
    </div>
    <fieldset>
      <legend class="label">Use it as a kind of</legend>
      <div class="flex flex-wrap gap-1.5">
        <button
          v-for="choice in kinds"
          :key="choice.values.kind"
          type="button"
          class="btn px-3 text-[0.95rem]"
          :class="kind === choice.values.kind ? 'bg-ink! text-white' : ''"
          :aria-pressed="kind === choice.values.kind"
          @click="kind = choice.values.kind"
        >
          {{ choice.values.name.replace(/^an? /, '') }}
        </button>
      </div>
    </fieldset>
    <template v-if="chosen">
      <p class="small quiet">
        {{ chosen.values.says }}. Oil:
        <span class="figure"
          >{{ chosen.values.oil_absorption_low }} to {{ chosen.values.oil_absorption_high }}</span
        >
        g per 100 g: a rub-out narrows it.
      </p>
      <fieldset>
        <legend class="label">What may be in it: untick only what its safety data sheet rules out</legend>
        <label v-for="hazard in chosen.hazards" :key="hazard.key" class="flex min-h-10 items-center gap-3"
          ><input v-model="hazards" type="checkbox" class="h-6 w-6 accent-act" :value="hazard.key" />{{
            hazard.title
          }}</label
        >
      </fieldset>
    </template>
    <span v-if="missing || trouble" class="refusal" role="alert">{{ missing || trouble }}</span>
    <span v-if="refusal && !said('name')" class="refusal" role="alert">{{ refusal.words }}</span>
    <div class="flex gap-2">
      <button type="button" class="btn btn-main" :disabled="busy" @click="keep">Use it</button>
      <button type="button" class="btn" @click="emit('close')">Cancel</button>
    </div>
  </div>
</template>
