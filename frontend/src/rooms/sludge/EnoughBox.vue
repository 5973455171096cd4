<script setup lang="ts">
/** When there will be enough for so many tubes of a kind. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import BasisMark from '@/kit/BasisMark.vue'
import { day, digits } from '@/kit/format'

const props = defineProps<{ number: number; enough: Schemas['Enough'] }>()
const { data: workshop } = useWorkshop()
const type = ref<number | null>(null)
const count = ref(1)
const changed = computed(() => type.value != null || count.value !== 1)
const { data } = useQuery({
  queryKey: ['enough', () => props.number, type, count, () => props.enough.have.median],
  queryFn: () =>
    answered(
      api.GET('/api/sludge/cans/{number}/enough', {
        params: {
          path: { number: props.number },
          query: { count: count.value, ...(type.value != null ? { tube_type_id: type.value } : {}) },
        },
      }),
    ),
  enabled: changed,
  placeholderData: (before) => before,
})
const shown = computed(() => (changed.value ? (data.value ?? props.enough) : props.enough))
const part = computed(() => Math.min(1, shown.value.have.median / shown.value.want_g))
</script>

<template>
  <section class="border-2 border-line p-3" aria-labelledby="enough">
    <h2 id="enough" class="mb-1">Enough for a tube?</h2>
    <div class="flex flex-wrap items-end gap-3">
      <label class="w-24"
        ><span class="label">Tubes</span
        ><select v-model="count" class="field">
          <option v-for="n in 12" :key="n" :value="n">{{ n }}</option>
        </select></label
      >
      <label class="min-w-44"
        ><span class="label">of the kind</span
        ><select v-model="type" class="field">
          <option :value="null">{{ enough.tube_name }}</option>
          <option v-for="one in workshop?.tube_types ?? []" :key="one.id" :value="one.id">
            {{ one.name }}
          </option>
        </select></label
      >
      <p class="min-w-60 flex-1 text-lg leading-snug font-semibold">
        {{ shown.says
        }}<span
          v-if="shown.earliest && shown.latest && shown.earliest !== shown.latest"
          class="quiet block text-base font-normal"
          >{{ day(shown.earliest) }} to {{ day(shown.latest) }}, nine times in ten</span
        >
      </p>
    </div>
    <div class="mt-2 h-4 border-2 border-ink bg-white" aria-hidden="true">
      <div class="h-full bg-mid" :style="{ width: `${100 * part}%` }" />
    </div>
    <p class="small mt-1">
      <span class="figure">{{ digits(shown.have.median, 0) }}</span> g dry so far
      <span class="quiet"
        >(<span class="figure">{{ digits(shown.have.low!, 0) }}</span> to
        <span class="figure">{{ digits(shown.have.high!, 0) }}</span>: in the can, in dishes, in stock)</span
      >
      of <span class="figure">{{ digits(shown.want_g, 0) }}</span> g
      <BasisMark :basis="shown.have.basis" words />
    </p>
  </section>
</template>
