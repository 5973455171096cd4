<script setup lang="ts">
/** Before anything is dusty: what has to be at hand, and what these materials ask for. One tap says it is there. */
import type { Schemas } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import { grams, massUnit } from '@/kit/format'
import SurfaceLine from './SurfaceLine.vue'

defineProps<{ view: Schemas['SlabView']; busy?: boolean }>()
defineEmits<{ ready: []; looked: [] }>()
</script>

<template>
  <section
    class="border-2 bg-sheet p-4"
    :class="view.must_be_ready ? 'border-stop' : 'border-ink'"
    aria-labelledby="kit"
  >
    <div class="flex flex-wrap items-start gap-x-8 gap-y-3">
      <div class="min-w-64 flex-1">
        <h2 id="kit" class="text-[1.9rem] leading-[1.1] font-semibold">Check the kit.</h2>
        <SurfaceLine
          v-if="view.surface"
          class="mt-2"
          :slab="view.surface"
          :now="view.now"
          @cleaned="$emit('looked')"
        />
        <ul class="mt-2 space-y-1">
          <li
            v-for="line in [
              view.protection,
              view.bench
                ? `${view.bench.slab_name}, ${view.bench.muller_name.toLowerCase()}`
                : 'Slab and muller, clean and dry',
              ...view.pigments.map(
                (p) =>
                  `${p.name}${p.lot_code ? `, ${p.lot_code}` : ''}: ` +
                  (p.planned_told?.words ?? `${grams(p.planned_g)} ${massUnit()}`),
              ),
              `${[view.oil.name, view.oil.lot_code].filter(Boolean).join(', ')}: ` +
                (view.habit.how === 'eye' ? '' : 'about ') +
                (view.oil.planned_told?.words ?? `${grams(view.oil.planned_g)} ${massUnit()}`),
              view.tool === 'knife' ? 'Two broad knives, wet wipes' : 'Two knives, wet wipes',
              'Tubes open at the end, or a clean jar',
            ]"
            :key="line"
            class="flex gap-2.5"
          >
            <svg viewBox="0 0 20 20" class="mt-1 h-4 w-4 shrink-0" aria-hidden="true">
              <path d="M3 10h14" stroke="#171717" stroke-width="2.5" /></svg
            >{{ line }}
          </li>
        </ul>
      </div>
      <div class="min-w-64 flex-1">
        <CautionList
          :cautions="view.cautions"
          :always="view.caution_always"
          :deference="view.caution_deference"
        />
      </div>
    </div>
    <button
      type="button"
      class="btn btn-main btn-slab mt-4 px-8 text-xl max-lg:sticky max-lg:bottom-2 max-lg:w-full"
      :disabled="busy"
      @click="$emit('ready')"
    >
      {{ view.must_be_ready ? 'Mask, gloves and everything ready' : 'I have everything ready' }}
    </button>
  </section>
</template>
