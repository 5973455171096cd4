<script setup lang="ts">
/** What is in the pot beside what was planned, and its log, from which anything can be taken out. */
import { computed } from 'vue'
import { clock, day, digits } from '@/kit/format'
import TakeOut from '@/kit/log/TakeOut.vue'
import type { View } from './pot'
import { DRIES } from './room'
import WhoDid from '@/kit/log/WhoDid.vue'

const props = defineProps<{ view: View; busy?: boolean }>()
const emit = defineEmits<{
  strike: [id: string]
  picture: []
  note: []
  paste: []
  abandon: []
}>()
const lines = computed(() => [...props.view.timeline].reverse())
const last = computed(() => props.view.timeline.findLast((line) => line.can_strike)?.id)
/** The day is said where it is not the one it began on. */
const elsewhen = (at: string) => day(at) !== day(props.view.timeline[0]!.at)
const open = computed(() => props.view.status === 'open')
</script>

<template>
  <section aria-labelledby="in-pot">
    <h2 id="in-pot" class="mb-1">In the pot</h2>
    <ul>
      <li v-for="m in view.materials" :key="m.source" class="hairline flex items-baseline gap-2 py-1">
        <span class="min-w-0 flex-1"
          >{{ m.name }}{{ ' ' }}<span v-if="m.code" class="small quiet">{{ m.code }}</span></span
        >
        <span
          ><span class="figure font-semibold">{{ digits(m.in_g, 1) }}</span
          ><span v-if="m.planned_g" class="quiet figure"> of {{ digits(m.planned_g, 1) }}</span> g</span
        >
      </li>
    </ul>
    <p v-if="view.volume_ml != null" class="small quiet mt-1">
      <span class="figure text-ink">{{ digits(view.volume_ml, 0) }}</span> ml for {{ view.moulds.join(', ')
      }}<template v-if="view.pigment_pct"
        >; <span class="figure text-ink">{{ digits(view.pigment_pct, 0) }}</span> % pigment by
        weight</template
      ><template v-if="view.dries">; {{ DRIES[view.dries] }}</template>
    </p>
    <p v-if="open && view.pour_factor > 1" class="small quiet">
      Wax shrinks: hold {{ digits(100 * (view.pour_factor - 1), 0) }} % back to top up with.
    </p>
    <div class="mt-2 flex flex-wrap gap-x-1">
      <button type="button" class="btn btn-quiet" @click="emit('picture')">Picture</button>
      <button type="button" class="btn btn-quiet" @click="emit('note')">Note</button>
      <template v-if="open">
        <button type="button" class="btn btn-quiet" @click="emit('paste')">Paste of a tube</button>
        <button type="button" class="btn btn-quiet" @click="emit('abandon')">Give it up</button>
      </template>
    </div>
    <h2 class="mt-4 mb-1">Log</h2>
    <p v-if="!lines.length" class="quiet">Nothing yet.</p>
    <ol aria-label="Log">
      <li v-for="line in lines" :key="line.id" class="hairline flex items-center gap-2 py-0.5">
        <span class="figure quiet small w-11 shrink-0"
          >{{ clock(line.at)
          }}<span v-if="elsewhen(line.at)" class="block font-sans">{{
            day(line.at).slice(0, -5)
          }}</span></span
        >
        <span class="min-w-0 flex-1 leading-tight" :class="line.struck ? 'quiet line-through' : ''"
          >{{ line.text }}
          <a
            v-if="line.photo"
            :href="`/api/sticks/${view.number}/photos/${line.id}.jpg`"
            target="_blank"
            class="block"
            ><img
              :src="`/api/sticks/${view.number}/photos/${line.id}.jpg`"
              :alt="line.text"
              width="120"
              height="90"
              loading="lazy"
              class="mt-1 mb-1 h-[90px] w-[120px] border border-rule object-cover" /></a
        ></span>
        <WhoDid :id="line.id" />
        <TakeOut :line="line" :last="last" :busy="busy" @strike="(id) => emit('strike', id)" />
      </li>
    </ol>
  </section>
</template>
