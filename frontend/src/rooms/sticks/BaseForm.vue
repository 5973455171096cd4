<script setup lang="ts">
/** A new base, or a new version of one: waxes and resins by share, and at once what they come to. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { rowKey } from '@/kit/rows'
import BaseFacts from './BaseFacts.vue'
import OneOf from '@/kit/OneOf.vue'
import OwnWax from './OwnWax.vue'
import { useWaxes } from './room'

const props = defineProps<{ number?: number }>()
const router = useRouter()
const queries = useQueryClient()
const { data: waxes } = useWaxes()
const { data: before } = useQuery({
  queryKey: ['base', () => props.number, 'form'],
  enabled: () => props.number != null,
  queryFn: () =>
    answered(api.GET('/api/sticks/bases/{base_id}', { params: { path: { base_id: props.number! } } })),
})
const WHOSE = [
  [false, 'melted here'],
  [true, 'bought ready-made'],
] as const
const name = ref('')
const note = ref('')
const why = ref('')
type Part = { wax_key: string; share: number | null }
const parts = ref<Part[]>([
  { wax_key: 'beeswax', share: 60 },
  { wax_key: 'carnauba', share: 15 },
])
watch(
  before,
  (page) =>
    page &&
    (parts.value = page.shown.parts.map((p) => ({
      wax_key: p.wax_key,
      share: Number(p.share_pct.toFixed(1)),
    }))),
  { immediate: true },
)
const asked = computed(() => parts.value.map((p) => ({ wax_key: p.wax_key, share: p.share ?? 0 })))
const settled = refDebounced(asked, 200)
const { data: shown, error } = useQuery({
  queryKey: ['base-preview', settled],
  placeholderData: keepPreviousData,
  retry: false,
  queryFn: () => answered(api.POST('/api/sticks/bases/preview', { body: { parts: settled.value, why: '' } })),
})
const { trouble, busy, said: kept, tried } = useTried()
const said = (field: string) =>
  (error.value instanceof Refused ? error.value.at(field) : undefined) ?? kept(field)
function add(): void {
  const next = (waxes.value ?? []).find((w) => !parts.value.some((p) => p.wax_key === w.key))
  if (next) parts.value.push({ wax_key: next.key, share: 10 })
}
const making = ref(false)
async function made(key: string): Promise<void> {
  making.value = false
  await queries.invalidateQueries({ queryKey: ['waxes'] })
  parts.value.push({ wax_key: key, share: 10 })
}
/** A base somebody else made: its name is all there is to say. */
const bought = ref(false)
const keep = () =>
  tried(async () => {
    const page = await answered(
      bought.value
        ? api.POST('/api/sticks/bases/bought', { body: { name: name.value } })
        : props.number == null
          ? api.POST('/api/sticks/bases', {
              body: { name: name.value, note: note.value, why: '', parts: asked.value },
            })
          : api.POST('/api/sticks/bases/{base_id}/versions', {
              params: { path: { base_id: props.number } },
              body: { why: why.value, parts: asked.value },
            }),
    )
    void queries.invalidateQueries({ queryKey: ['sticks'] })
    void queries.invalidateQueries({ queryKey: ['base'] })
    await router.push(`/sticks/bases/${page.shown.base_id}`)
  })
</script>

<template>
  <div class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ before ? `A new version of ${before.shown.name}` : 'A new base'
        }}<span class="quiet block text-base font-normal"
          >waxes and resins by weight; the oil comes later, with each stick</span
        >
      </h1>
      <button
        type="button"
        class="btn btn-main btn-slab px-8"
        :disabled="busy || (!bought && !!error)"
        @click="keep"
      >
        {{ before ? 'Keep as a new version' : 'Keep the base' }}
      </button>
    </div>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[26rem_1fr]">
      <div class="space-y-4">
        <label v-if="number == null" class="block"
          ><span class="label">Name</span
          ><input
            v-model="name"
            class="field"
            maxlength="80"
            :aria-invalid="said('name') ? 'true' : undefined"
          /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
        >
        <label v-else class="block"
          ><span class="label">Why this version differs</span
          ><input
            v-model="why"
            class="field"
            maxlength="300"
            :aria-invalid="said('why') ? 'true' : undefined"
          /><span v-if="said('why')" class="refusal" role="alert">{{ said('why') }}</span></label
        >
        <OneOf v-if="number == null" v-model="bought" label="Whose base" :of="WHOSE" wide />
        <p v-if="bought">
          Its name is enough. The first drops show how hard it sets; until then its hardness is a wide guess.
        </p>
        <fieldset v-if="!bought">
          <legend class="mb-1 font-semibold">What is in it</legend>
          <div v-for="(part, n) in parts" :key="rowKey(part)" class="mb-2">
            <div class="flex items-end gap-2">
              <label class="min-w-0 flex-1"
                ><span class="label">Wax or resin</span
                ><select v-model="part.wax_key" class="field">
                  <option v-for="wax in waxes ?? []" :key="wax.key" :value="wax.key">
                    {{ wax.name }}, dent {{ wax.penetration_dmm }}, {{ wax.melting_low_c }} to
                    {{ wax.melting_high_c }} °C
                  </option>
                </select></label
              >
              <NumberField
                v-model="part.share"
                class="w-24 shrink-0"
                label="Share"
                :refusal="said(`parts.${n}.share`)"
                accepted="0 to 1000, as parts by weight"
              />
              <button
                type="button"
                class="btn btn-quiet px-1"
                :disabled="parts.length < 2"
                :aria-label="`Leave out part ${n + 1}`"
                @click="parts.splice(n, 1)"
              >
                <svg viewBox="0 0 16 16" class="h-4 w-4" aria-hidden="true">
                  <path d="M2 2l12 12M14 2 2 14" stroke="currentColor" stroke-width="2" />
                </svg>
              </button>
            </div>
            <span v-if="said(`parts.${n}.wax_key`)" class="refusal" role="alert">{{
              said(`parts.${n}.wax_key`)
            }}</span>
          </div>
          <span v-if="said('parts') ?? said('base')" class="refusal" role="alert">{{
            said('parts') ?? said('base')
          }}</span>
          <div class="flex flex-wrap gap-2">
            <button v-if="parts.length < 12" type="button" class="btn" @click="add">
              Add a wax or resin
            </button>
            <button v-if="!making" type="button" class="btn btn-quiet" @click="making = true">
              One not listed
            </button>
          </div>
          <OwnWax v-if="making" class="mt-3" @made="made" @close="making = false" />
        </fieldset>
        <label v-if="number == null && !bought" class="block"
          ><span class="label">What it is for, in a few words</span
          ><input v-model="note" class="field" maxlength="500"
        /></label>
        <p v-if="!bought" class="small quiet">
          A hard wax raises the line, a soft one keeps it from snapping; microcrystalline and sunflower hold
          much oil; resin makes it glossy and brittle.
        </p>
      </div>
      <section v-if="!bought" class="min-w-0" aria-labelledby="comes-to">
        <h2 id="comes-to" class="mb-2 text-lg">What it comes to</h2>
        <BaseFacts v-if="shown" :base="shown" />
        <p v-else class="quiet">Choose a wax and its share.</p>
      </section>
    </div>
  </div>
</template>
