<script setup lang="ts">
/** A log that is given newest first; anything in it can be taken out. `photos` is where its pictures are. */
import { computed } from 'vue'
import { clock, day } from '@/kit/format'
import TakeOut from './TakeOut.vue'
import WhoDid from './WhoDid.vue'

type Line = {
  id: string
  kind: string
  at: string
  text: string
  struck: boolean
  can_strike: boolean
  photo?: boolean
  srgb?: string | null
}
const props = defineProps<{
  lines: Line[]
  earlier?: number
  busy?: boolean
  title: string
  photos?: string
}>()
const emit = defineEmits<{ strike: [id: string] }>()
const last = computed(() => props.lines.find((line) => line.can_strike)?.id)
</script>

<template>
  <section :aria-label="title">
    <h2 class="mb-1">{{ title }}</h2>
    <p v-if="!lines.length" class="quiet">Nothing yet.</p>
    <ol :aria-label="title">
      <li v-for="line in lines" :key="line.id" class="hairline flex items-center gap-2 py-0.5">
        <span class="quiet small w-[4.3rem] shrink-0 leading-tight"
          >{{ day(line.at).slice(0, -5) }}<span class="figure block">{{ clock(line.at) }}</span></span
        >
        <span class="min-w-0 flex-1 leading-tight" :class="line.struck ? 'quiet line-through' : ''"
          ><span
            v-if="line.srgb"
            class="mr-2 inline-block h-5 w-9 border-2 border-[#bdbdbd] align-middle"
            :style="{ background: line.srgb }"
            aria-hidden="true" />{{ line.text
          }}<a v-if="line.photo && photos" :href="`${photos}/${line.id}.jpg`" target="_blank" class="block"
            ><img
              :src="`${photos}/${line.id}.jpg`"
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
    <p v-if="earlier" class="small quiet mt-1">
      and <span class="figure">{{ earlier }}</span> acts before these
    </p>
  </section>
</template>
