<script setup lang="ts">
/** A gel made in warm oil: what to weigh, the steps with their temperatures, and what came out. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import { useLibrary } from '@/api/queries'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { useChoices } from './choices'

const router = useRouter()
const queries = useQueryClient()
const { data: choices } = useChoices()
const { data: library } = useLibrary()
const { data: bottles } = useQuery({
  queryKey: ['lots', 'oil'],
  queryFn: () => answered(api.GET('/api/materials/lots', { params: { query: { kind: 'oil' } } })),
})
/** What is being made survives a reload: a pot on the heat cannot wait for a form to be filled in again. */
const pot = useLocalStorage(
  'niddy-gel',
  {
    key: 'aluminium-stearate',
    grams: 100 as number | null,
    percent: 10 as number | null,
    oil: 'library-linseed-refined',
    from: '',
    done: [] as number[],
    additive: null as number | null,
    oilG: null as number | null,
    out: null as number | null,
    code: '',
  },
  { mergeDefaults: true },
)
const gellable = computed(() => (choices.value ?? []).filter((c) => c.gels))
const chosen = computed(() => gellable.value.find((c) => c.additive.key === pot.value.key))
const tins = computed(() => chosen.value?.forms.filter((f) => f.strength == null) ?? [])
watch(
  () => pot.value.key,
  () => {
    pot.value.from = tins.value[0] ? String(tins.value[0].lot_id) : ''
    pot.value.percent = chosen.value?.usual_strength ? 100 * chosen.value.usual_strength : pot.value.percent
    pot.value.done = []
  },
)
watch(tins, (now) => {
  if (!pot.value.from && now[0]) pot.value.from = String(now[0].lot_id)
})
const { data: plan, error } = useQuery({
  queryKey: ['gel-plan', () => pot.value.key, () => pot.value.grams, () => pot.value.percent],
  queryFn: () =>
    answered(
      api.GET('/api/additives/gels/plan', {
        params: {
          query: {
            additive_key: pot.value.key,
            grams: pot.value.grams ?? 0,
            strength: pot.value.percent == null ? undefined : pot.value.percent / 100,
          },
        },
      }),
    ),
  placeholderData: keepPreviousData,
  retry: false,
})
const planSaid = (field: string) => (error.value instanceof Refused ? error.value.at(field) : undefined)
const weighed = computed(() => Boolean(pot.value.additive && pot.value.oilG))
const { data: strength } = useQuery({
  queryKey: ['gel-strength', () => pot.value.additive, () => pot.value.oilG],
  queryFn: () =>
    answered(
      api.GET('/api/additives/gels/strength', {
        params: { query: { additive_g: pot.value.additive ?? 0, oil_g: pot.value.oilG ?? 0 } },
      }),
    ),
  enabled: weighed,
  placeholderData: keepPreviousData,
  retry: false,
})

function tick(n: number): void {
  pot.value.done = pot.value.done.includes(n) ? pot.value.done.filter((x) => x !== n) : [...pot.value.done, n]
}
/** One kitchen timer for the step at hand. */
const ends = ref<number>()
const now = ref(Date.now())
useIntervalFn(() => (now.value = Date.now()), 500)
const left = computed(() =>
  ends.value == null ? undefined : Math.max(0, Math.round((ends.value - now.value) / 1000)),
)
const clock = (s: number) => `${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`

const { refusal, trouble, busy, tried } = useTried()
const missing = ref('')
async function keep(): Promise<void> {
  missing.value = ''
  const p = pot.value
  const { additive, oilG, out } = p
  if (additive == null || oilG == null || out == null)
    return void (missing.value =
      'All three weights are needed, in g: the strength is from what was weighed in.')
  const bottle = bottles.value?.find((b) => `lot-${b.id}` === p.oil)
  await tried(async () => {
    const made = await answered(
      api.POST('/api/additives/gels', {
        body: {
          additive_key: p.key,
          oil_key: bottle ? bottle.material_key : p.oil.replace(/^library-/, ''),
          additive_g: additive,
          oil_g: oilG,
          yield_g: out,
          code: p.code,
          additive_lot_id: p.from ? Number(p.from) : null,
          oil_lot_id: bottle?.id ?? null,
          note: '',
        },
      }),
    )
    pot.value = { ...p, done: [], additive: null, oilG: null, out: null, code: '' }
    void queries.invalidateQueries()
    await router.push(`/stock/${made.id}`)
  })
}
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-4">
      Make a gel<span class="quiet block text-base font-normal"
        >worked into warm oil once, used by weight for months</span
      >
    </h1>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[21rem_1fr]">
      <div class="space-y-4">
        <label class="block"
          ><span class="label">Additive</span
          ><select v-model="pot.key" class="field">
            <option v-for="c in gellable" :key="c.additive.key" :value="c.additive.key">
              {{ c.additive.name }}
            </option>
          </select></label
        >
        <label class="block"
          ><span class="label">Out of</span
          ><select v-model="pot.from" class="field">
            <option value="">no lot kept</option>
            <option v-for="t in tins" :key="t.lot_id" :value="String(t.lot_id)">
              {{ t.code }}, {{ digits(t.on_hand_g, 0) }} g
            </option></select
          ><span v-if="refusal?.at('additive_lot_id')" class="refusal" role="alert">{{
            refusal.at('additive_lot_id')
          }}</span></label
        >
        <label class="block"
          ><span class="label">Oil</span
          ><select v-model="pot.oil" class="field">
            <option v-for="b in bottles ?? []" :key="b.id" :value="`lot-${b.id}`">
              {{ b.name }}, {{ b.code }}
            </option>
            <option v-for="o in library?.oils ?? []" :key="o.key" :value="`library-${o.key}`">
              {{ o.name }}, {{ o.process }}
            </option>
          </select></label
        >
        <div class="grid grid-cols-2 gap-3">
          <NumberField
            v-model="pot.grams"
            label="Gel wanted"
            unit="g"
            :refusal="planSaid('grams')"
            accepted="5 to 1000 g"
          />
          <NumberField
            v-model="pot.percent"
            label="Strength"
            unit="%"
            :refusal="planSaid('strength')"
            accepted="above 0 and up to 50 %"
          />
        </div>
        <div v-if="plan && !error" class="grid grid-cols-2 gap-3">
          <p>
            <span class="small quiet block">Weigh {{ chosen?.additive.name.toLowerCase() }}</span
            ><span class="figure text-4xl font-semibold">{{ digits(plan.additive_g, 1) }}</span> g
          </p>
          <p>
            <span class="small quiet block">into oil</span
            ><span class="figure text-4xl font-semibold">{{ digits(plan.oil_g, 1) }}</span> g
          </p>
        </div>
        <p class="small quiet">
          About 5 % stays on pot and spoon (assumed). Keeps {{ plan?.shelf_life_days ?? 180 }} days closed,
          cool and dark (assumed).
        </p>
      </div>
      <div v-if="plan && !error" class="min-w-0">
        <ol aria-label="Steps at the pot">
          <li
            v-for="(step, n) in plan.steps"
            :key="n"
            class="hairline flex gap-4 py-2.5"
            :class="pot.done.includes(n) ? 'quiet' : ''"
          >
            <button
              type="button"
              class="btn btn-slab w-[72px] shrink-0 px-0"
              :class="pot.done.includes(n) ? 'bg-ink! text-white' : ''"
              :aria-pressed="pot.done.includes(n)"
              :aria-label="`Step ${n + 1} done`"
              @click="tick(n)"
            >
              <svg v-if="pot.done.includes(n)" viewBox="0 0 16 16" class="h-6 w-6" aria-hidden="true">
                <path d="M2 8l4 5 8-11" fill="none" stroke="currentColor" stroke-width="2" /></svg
              ><span v-else class="figure text-2xl">{{ n + 1 }}</span>
            </button>
            <div class="min-w-0 flex-1">
              <p class="text-lg leading-snug">{{ step.says }}</p>
              <p v-if="step.how || step.done_when" class="leading-snug">
                {{ step.how
                }}<template v-if="step.done_when"> Done when it is {{ step.done_when }}.</template>
              </p>
              <p v-if="step.caution" class="small mt-0.5">
                <strong class="text-stop">Take care.</strong> {{ step.caution }}
                <span class="quiet">The safety data sheet comes first.</span>
              </p>
            </div>
            <p v-if="step.window?.low != null || step.minutes" class="shrink-0 text-right leading-tight">
              <span v-if="step.window?.low != null" class="figure block text-xl font-semibold"
                >{{ step.window.low }} to {{ step.window.high }}
                <span class="font-sans font-normal">°C</span></span
              >
              <template v-if="step.minutes"
                ><span class="figure">{{ step.minutes }}</span> min
                <button
                  type="button"
                  class="btn ml-1 px-3"
                  @click="ends = Date.now() + step.minutes * 60_000"
                >
                  time it
                </button></template
              >
            </p>
          </li>
        </ol>
        <p
          v-if="left != null"
          class="my-3 flex items-center gap-4 border-2 border-ink bg-sheet p-3"
          role="timer"
        >
          <span class="figure text-4xl font-semibold">{{ clock(left) }}</span><span>{{
            left ? 'to go; stay with the pot' : 'The time is up.'
          }}</span
          ><button type="button" class="btn btn-quiet" @click="ends = undefined">Clear</button>
        </p>
        <form class="mt-4 border-2 border-ink bg-sheet p-4" @submit.prevent="keep">
          <h2 class="text-xl">What was really weighed</h2>
          <div class="mt-2 flex flex-wrap items-end gap-3">
            <NumberField
              v-model="pot.additive"
              class="w-36"
              label="Additive in"
              unit="g"
              :refusal="refusal?.at('additive_g')"
            />
            <NumberField
              v-model="pot.oilG"
              class="w-36"
              label="Oil in"
              unit="g"
              :refusal="refusal?.at('oil_g')"
            />
            <NumberField
              v-model="pot.out"
              class="w-36"
              label="Gel out"
              unit="g"
              :refusal="refusal?.at('yield_g')"
            />
            <label class="w-44"
              ><span class="label">Code on the jar</span
              ><input
                v-model="pot.code"
                class="field"
                maxlength="40"
                :aria-invalid="refusal?.at('code') ? 'true' : undefined"
              /><span v-if="refusal?.at('code')" class="refusal" role="alert">{{
                refusal.at('code')
              }}</span></label
            >
            <button class="btn btn-main btn-slab px-6" :disabled="busy">Keep the gel</button>
          </div>
          <p v-if="weighed && strength" class="mt-2" role="status">
            Strength <strong class="figure">{{ digits(100 * strength, 1) }} %</strong>, from what was weighed
            in.
          </p>
          <span v-if="missing || trouble" class="refusal" role="alert">{{ missing || trouble }}</span>
          <span
            v-if="
              refusal &&
              !['additive_g', 'oil_g', 'yield_g', 'code', 'additive_lot_id'].some((f) => refusal!.at(f))
            "
            class="refusal"
            role="alert"
            >{{ refusal.words }}</span
          >
        </form>
      </div>
    </div>
  </div>
</template>
