<script setup lang="ts">
/** The ways back, side by side with their price; one tap makes one of them the plan, and the others step back. */
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { digits, grams, massUnit, minutes } from '@/kit/format'
import HowMuch from '@/kit/HowMuch.vue'

const props = defineProps<{ ways: Schemas['WayBack'][]; chosen?: string | null; busy?: boolean }>()
defineEmits<{ choose: [way: Schemas['Way']] }>()
const all = ref(false)
const shown = computed(() => {
  const taken = props.ways.filter((way) => way.way === props.chosen)
  return taken.length && !all.value ? taken : props.ways
})
watch(
  () => props.chosen,
  () => (all.value = false),
)
const signed = (value: number, count: number) => (value > 0 ? '+' : '') + digits(value, count)
</script>

<template>
  <section
    aria-label="Ways back"
    class="grid gap-3"
    :class="shown.length === 3 ? 'md:grid-cols-3' : shown.length > 1 ? 'md:grid-cols-2' : ''"
  >
    <article
      v-for="way in shown"
      :key="way.way"
      class="flex flex-col border-2 border-ink bg-sheet p-4"
      :data-way="way.way"
    >
      <h3 class="text-lg font-semibold">{{ way.title }}</h3>
      <div class="my-1">
        <template v-if="way.portions.length">
          <span v-for="portion in way.portions" :key="portion.source" class="block"
            ><template v-if="portion.told?.figures"
              >{{ portion.name }}: <span class="text-xl font-semibold">{{ portion.told.words }}</span><HowMuch
                :told="portion.told" /></template
            ><template v-else-if="portion.told"
              ><span class="text-xl font-semibold">{{ portion.told.words }}</span>
              {{ portion.name.toLowerCase()
              }}<span class="small quiet">, about {{ grams(portion.grams) }} {{ massUnit() }}</span></template
            ><template v-else
              ><span class="figure text-2xl font-semibold">{{ grams(portion.grams) }}</span> {{ massUnit() }}
              {{ portion.name.toLowerCase() }}</template
            ><span v-if="portion.on_hand_g != null" class="small quiet"
              >, {{ portion.on_hand_g > 0 ? `${grams(portion.on_hand_g)} ${massUnit()}` : 'none' }} on
              hand</span
            ></span
          ><span v-if="way.oil_g > 0" class="block"
            ><template v-if="way.oil_told?.figures"
              >Oil: <strong>{{ way.oil_told.words }}</strong></template
            ><template v-else
              >and <strong>{{ way.oil_told?.words ?? `${grams(way.oil_g)} ${massUnit()}` }}</strong> of
              oil</template
            ></span
          >
        </template>
        <template v-else-if="way.oil_told?.figures"
          >Oil: <span class="text-xl font-semibold">{{ way.oil_told.words }}</span><HowMuch
            :told="way.oil_told" /></template
        ><template v-else-if="way.oil_told"
          ><span class="text-xl font-semibold">{{ way.oil_told.words }}</span> of oil<span class="small quiet"
            >, about {{ grams(way.oil_g) }} {{ massUnit() }}</span
          ></template
        >
        <template v-else-if="way.oil_g > 0"
          ><span class="figure text-2xl font-semibold">{{ grams(way.oil_g) }}</span>
          {{ massUnit() }} oil</template
        >
        <template v-else-if="way.oil_g < 0"
          ><span class="figure text-2xl font-semibold">{{ grams(-way.oil_g) }}</span> {{ massUnit() }} oil
          out, on blotting paper</template
        >
        <span v-else class="text-2xl font-semibold">nothing</span>
      </div>
      <dl class="small my-1 grid grid-cols-[auto_1fr] gap-x-3">
        <dt class="quiet">then</dt>
        <dd>
          <strong>{{ way.body_after }}</strong>, reduced PVC
          <span class="figure">{{ digits(way.reduced_pvc_after, 2) }}</span>
        </dd>
        <dt class="quiet">paint</dt>
        <dd>
          <span class="figure">{{ signed(way.extra_ml, 1) }}</span> ml<template v-if="way.extra_tubes"
            >, {{ way.extra_tubes }} more {{ way.extra_tubes === 1 ? 'tube' : 'tubes' }}</template
          >
        </dd>
        <template v-if="way.extra_loads || way.extra_minutes">
          <dt class="quiet">work</dt>
          <dd>
            <template v-if="way.extra_loads"
              ><span class="figure">{{ signed(way.extra_loads, 0) }}</span>
              {{ Math.abs(way.extra_loads) === 1 ? 'load' : 'loads'
              }}{{ way.extra_minutes ? ', ' : '' }}</template
            ><template v-if="way.extra_minutes"
              >about {{ minutes(Math.abs(way.extra_minutes)) }}
              {{ way.extra_minutes < 0 ? 'less' : 'more' }}</template
            >
          </dd>
        </template>
      </dl>
      <p class="small mb-3 flex-1" :class="way.reachable ? '' : 'text-stop font-semibold'">{{ way.says }}</p>
      <button
        type="button"
        class="btn btn-slab"
        :class="chosen === way.way ? 'bg-ink! text-white' : ''"
        :aria-pressed="chosen === way.way"
        :disabled="busy"
        @click="$emit('choose', way.way)"
      >
        {{ chosen === way.way ? 'Chosen' : 'Do this' }}
      </button>
    </article>
    <button
      v-if="shown.length < ways.length"
      type="button"
      class="btn btn-quiet justify-self-start"
      @click="all = true"
    >
      Other ways back
    </button>
  </section>
</template>
