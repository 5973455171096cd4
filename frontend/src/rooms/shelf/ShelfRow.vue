<script setup lang="ts">
/** A tube, jar or stick as the shelf shows it: what it is, how it is, how old. */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { day, digits } from '@/kit/format'
import { age, STATUSES, wrong } from './words'

const props = defineProps<{ item: Schemas['ItemLine']; now?: string }>()
const off = computed(() => wrong(props.item))
/** A kind is often called by what it holds: said once where it is full. */
const volume = computed(() => `${digits(props.item.volume_ml, 0)} ml`)
</script>

<template>
  <RouterLink class="flex min-h-[72px] items-center gap-3 py-1 hover:bg-sheet" :to="`/shelf/${item.id}`">
    <svg viewBox="0 0 36 56" class="h-14 w-9 shrink-0" aria-hidden="true">
      <template v-if="item.kind === 'tube'">
        <path d="M4 2H32L28 44H8Z" fill="#fff" stroke="#171717" stroke-width="1.500" />
        <path
          :d="`M${5.2 + 3 * (1 - item.full)} ${12 + 31 * (1 - item.full)}H31L28 43.500H8Z`"
          :fill="item.masstone_srgb"
        />
        <rect x="13" y="44" width="10" height="8" fill="#565656" />
      </template>
      <template v-else-if="item.kind === 'stick'">
        <path d="M12 4h12v48H12z" :fill="item.masstone_srgb" stroke="#171717" stroke-width="1.500" />
        <path d="M12 20h12v32H12z" fill="#fff" stroke="#171717" stroke-width="1.500" />
      </template>
      <template v-else>
        <path d="M4 14v38h28V14" fill="#fff" stroke="#171717" stroke-width="1.500" />
        <rect x="5" y="26" width="26" height="25" :fill="item.masstone_srgb" />
        <path d="M2 6h32v8H2z" fill="#565656" />
      </template>
    </svg>
    <span
      class="h-10 w-14 shrink-0 border-4 max-sm:hidden border-[#bdbdbd]"
      :style="{ background: item.masstone_srgb }"
      aria-hidden="true"
    />
    <span class="min-w-0 flex-1 leading-tight"
      ><strong class="font-semibold">{{ item.name }}</strong
      >{{ ' ' }}<span class="quiet small">{{ item.code }}</span
      ><span class="small quiet block"
        >{{ item.container }}<template v-if="!item.container.startsWith(volume)">, {{ volume }}</template
        ><template v-if="item.place">, {{ item.place }}</template></span
      >
      <span v-if="off" class="small block font-semibold" :class="off.harm ? 'text-stop' : ''">{{
        off.words
      }}</span></span
    >
    <span class="shrink-0 text-right leading-tight"
      ><span class="figure">{{ now ? age(item.filled_on, now) : '' }}</span
      ><span class="small block" :class="item.due ? 'font-semibold' : 'quiet'">{{
        item.status !== 'kept'
          ? STATUSES[item.status]
          : item.due
            ? 'inspect now'
            : item.next_inspection_on
              ? `inspect ${day(item.next_inspection_on)}`
              : ''
      }}</span></span
    >
  </RouterLink>
</template>
