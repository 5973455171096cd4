<script setup lang="ts">
/** Two to six bases side by side, point by point. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { digits } from '@/kit/format'
import DentScale from './DentScale.vue'
import { useRoom, VERDICTS } from './room'

const route = useRoute()
const router = useRouter()
const { data: room } = useRoom()
const of = computed(() => [route.query.of ?? []].flat().map(String))
const { data: bases, error } = useQuery({
  queryKey: ['bases', 'beside', of],
  retry: false,
  queryFn: () => answered(api.GET('/api/sticks/bases/beside', { params: { query: { of: of.value } } })),
})
const toggle = (id: number) => {
  const key = String(id)
  const next = of.value.includes(key) ? of.value.filter((k) => k !== key) : [...of.value, key]
  void router.replace({ query: { of: next } })
}
const refusal = computed(() => (error.value instanceof Refused ? error.value.words : ''))
type Base = Schemas['BaseShown']
const dentOf = (base: Base) => (base.measured_dent ?? base.dent).value
const spreadOf = (base: Base) => {
  const f = base.measured_dent ?? base.dent
  return f.low != null && f.high != null ? `${digits(f.low, 0)} to ${digits(f.high, 0)}` : ''
}
const ROWS: { name: string; says: (base: Base) => string; small?: (base: Base) => string }[] = [
  { name: 'Dent, 0.1 mm', says: (b) => digits(b.dent.value, 0) },
  {
    name: 'As readings say',
    says: (b) => (b.measured_dent ? digits(b.measured_dent.value, 0) : '-'),
    small: (b) => (b.readings ? `${b.readings} readings, ${spreadOf(b)}` : 'none read yet'),
  },
  {
    name: 'Melt to',
    says: (b) => `${digits(b.melt_c, 0)} °C`,
    small: (b) => (b.water_bath ? 'water bath' : 'dry heat'),
  },
  { name: 'Pour at', says: (b) => `${digits(b.pour_low_c, 0)} to ${digits(b.pour_high_c, 0)} °C` },
  {
    name: 'A kg costs',
    says: (b) => (b.price_per_kg != null ? Number(b.price_per_kg).toFixed(2) : '-'),
    small: (b) => (b.price_per_kg == null ? 'no price for every wax' : ''),
  },
  {
    name: 'Cast of it',
    says: (b) => String(b.cast.length),
    small: (b) => `${b.cast.filter((c) => c.verdict === 'right').length} came out right`,
  },
]
const isBest = (row: (typeof ROWS)[number]) =>
  row.name === 'Cast of it' && bases.value
    ? Math.max(...bases.value.map((b) => b.cast.filter((c) => c.verdict === 'right').length))
    : -1
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-2">Bases side by side</h1>
    <div class="mb-4 flex flex-wrap gap-1.5" role="group" aria-label="Which bases">
      <button
        v-for="base in room?.bases ?? []"
        :key="base.id"
        type="button"
        class="btn px-3"
        :class="of.includes(String(base.id)) ? 'bg-ink! text-white' : ''"
        :aria-pressed="of.includes(String(base.id))"
        @click="toggle(base.id)"
      >
        {{ base.name }}
      </button>
    </div>
    <p v-if="refusal" class="refusal" role="alert">{{ refusal }}</p>
    <template v-else-if="bases && room">
      <DentScale
        class="mb-5"
        :zones="room.scale"
        :marks="bases.map((b) => ({ key: String(b.version_id), name: b.name, dent: dentOf(b) }))"
      />
      <div class="overflow-x-auto">
        <table class="w-full min-w-[36rem]">
          <thead>
            <tr>
              <td class="w-44"></td>
              <th
                v-for="base in bases"
                :key="base.version_id"
                scope="col"
                class="pb-1 pl-4 text-left align-bottom"
              >
                <RouterLink class="underline underline-offset-4" :to="`/sticks/bases/${base.base_id}`">{{
                  base.name
                }}</RouterLink>
                <span class="quiet small block font-normal">version {{ base.version }}</span>
              </th>
            </tr>
          </thead>
          <tbody>
            <tr class="hairline align-top">
              <th scope="row" class="py-2 text-left font-normal">What is in it</th>
              <td v-for="base in bases" :key="base.version_id" class="py-2 pl-4">
                <span v-for="part in base.parts" :key="part.wax_key" class="block"
                  ><span class="figure font-semibold">{{ digits(part.share_pct, 0) }}</span>
                  {{ part.name }}</span
                >
              </td>
            </tr>
            <tr v-for="row in ROWS" :key="row.name" class="hairline align-top">
              <th scope="row" class="py-2 text-left font-normal">{{ row.name }}</th>
              <td v-for="base in bases" :key="base.version_id" class="py-2 pl-4">
                <span
                  class="figure text-xl font-semibold"
                  :class="
                    isBest(row) > 0 && base.cast.filter((c) => c.verdict === 'right').length === isBest(row)
                      ? 'underline'
                      : ''
                  "
                  >{{ row.says(base) }}</span><span v-if="row.small?.(base)" class="quiet small block">{{
                  row.small(base)
                }}</span>
              </td>
            </tr>
            <tr class="hairline align-top">
              <th scope="row" class="py-2 text-left font-normal">How they came out</th>
              <td v-for="base in bases" :key="base.version_id" class="py-2 pl-4">
                <RouterLink
                  v-for="pot in base.cast"
                  :key="pot.number"
                  class="flex min-h-9 items-center gap-2"
                  :to="`/sticks/${pot.number}`"
                  ><span
                    class="h-6 w-7 border-2 border-[#bdbdbd]"
                    :style="{ background: pot.masstone_srgb }"
                    aria-hidden="true"
                  />{{ pot.name
                  }}<span class="small quiet">{{
                    pot.verdict ? VERDICTS[pot.verdict] : pot.status === 'open' ? 'begun' : 'not tried'
                  }}</span></RouterLink
                ><span v-if="!base.cast.length" class="quiet">nothing yet</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
    </template>
  </div>
</template>
