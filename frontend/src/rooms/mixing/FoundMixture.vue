<script setup lang="ts">
/** One mixture that was found: wanted beside mixed, its parts at the bench, how near it comes, what each part does. */
import type { Schemas } from '@/api/client'
import BasisMark from '@/kit/BasisMark.vue'
import { digits, grams, massUnit } from '@/kit/format'
import { dE, HOW } from './room'
import SureBars from './SureBars.vue'

defineProps<{
  mixture: Schemas['MixtureFound']
  wanted: string
  by: Schemas['PartsBy']
  first?: boolean
  mayLeave?: boolean
}>()
const emit = defineEmits<{ leave: [id: number] }>()
</script>

<template>
  <li class="bg-sheet p-3" :class="first ? 'border-2 border-ink' : 'border border-rule'">
    <div class="flex flex-wrap gap-x-5 gap-y-2">
      <div class="w-44 shrink-0 max-sm:w-full">
        <div class="flex h-24 border-4 border-[#bdbdbd]" aria-hidden="true">
          <span class="flex-1" :style="{ background: wanted }" /><span
            class="flex-1"
            :style="{ background: mixture.srgb }"
          />
        </div>
        <p class="small quiet flex justify-between"><span>wanted</span><span>mixed</span></p>
        <p class="leading-snug">
          <span class="figure text-2xl font-semibold">{{ dE(mixture.de00) }}</span> ΔE00,
          {{ mixture.says }} it<span class="small quiet block"
            >and may come out up to {{ dE(mixture.off) }} off that, <BasisMark words :basis="mixture.basis"
          /></span>
        </p>
      </div>
      <ul class="min-w-60 flex-1">
        <li
          v-for="part in mixture.parts"
          :key="part.paint_id"
          class="hairline flex items-center gap-3 py-1.5 first:border-0 max-sm:gap-2"
        >
          <span class="figure w-16 shrink-0 text-right text-3xl font-semibold max-sm:w-12">{{
            part.parts
          }}</span>
          <span
            class="h-9 w-9 shrink-0 border-4 border-[#bdbdbd]"
            :style="{ background: part.srgb }"
            aria-hidden="true"
          />
          <span class="min-w-0 flex-1 leading-snug"
            ><RouterLink
              class="text-lg leading-tight font-semibold"
              :to="`/mixing/paints/${part.paint_id}`"
              >{{ part.name }}</RouterLink
            ><span class="small quiet block"
              ><template v-if="part.does">{{ part.does }}; </template
              >{{ part.white ? 'the white' : HOW[part.how]
              }}<template v-if="by === 'volume' && !part.density_known">; density assumed</template></span
            ><span v-if="part.beware.length" class="small block font-semibold text-stop">{{
              part.beware.join('; ')
            }}</span></span
          >
          <span class="flex items-center gap-3 max-sm:flex-col max-sm:items-end max-sm:gap-0">
            <span class="text-right whitespace-nowrap"
              ><template v-if="by === 'weight'"
                ><span class="figure text-lg">{{ grams(part.grams) }}</span> {{ massUnit()
                }}<span class="small quiet block"
                  ><span class="figure">{{ digits(100 * part.share, 0) }}</span> %</span
                ></template
              ><template v-else
                ><span class="figure text-lg">{{ digits(part.ml, 1) }}</span> ml<span
                  class="small quiet block"
                  ><span class="figure">{{ grams(part.grams) }}</span> {{ massUnit() }}</span
                ></template
              ></span
            >
            <SureBars class="max-sm:hidden" :how="part.how" />
            <button
              v-if="mayLeave && !part.white"
              type="button"
              class="btn btn-quiet small"
              :aria-label="`Without ${part.name}`"
              @click="emit('leave', part.paint_id)"
            >
              without
            </button>
            <span v-else-if="mayLeave" class="btn btn-quiet small invisible max-sm:hidden" aria-hidden="true"
              >without</span
            >
          </span>
        </li>
      </ul>
    </div>
  </li>
</template>
