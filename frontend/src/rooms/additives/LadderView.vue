<script setup lang="ts">
/** A ladder at the bench: weigh, mix, read when due; then the lines through the readings and the least dose. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useServerNow } from '@/api/queries'
import type { paths } from '@/api/schema'
import { clock, day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import RungWeights from './RungWeights.vue'
import LadderChart from './LadderChart.vue'
import { BASIS_OF, pct } from './choices'
import TargetFields from './TargetFields.vue'

const props = defineProps<{ number: number }>()
const router = useRouter()
const queries = useQueryClient()
const { data: page, error } = useQuery({
  queryKey: ['ladder', () => props.number],
  queryFn: () =>
    answered(
      api.GET('/api/additives/ladders/{ladder_id}', { params: { path: { ladder_id: props.number } } }),
    ),
  refetchInterval: 60_000,
})
const { data: recipes } = useQuery({
  queryKey: ['recipes'],
  queryFn: () => answered(api.GET('/api/recipes')),
})
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)

type Sent =
  paths['/api/additives/ladders/{number}/acts']['post']['requestBody']['content']['application/json']
type Kind = Exclude<Sent['kind'], 'strike'>
const chosen = ref<{ rung: number; kind: Kind }>()
const now = computed(
  () =>
    chosen.value ??
    (page.value?.next_rung != null && page.value.next_kind
      ? { rung: page.value.next_rung, kind: page.value.next_kind }
      : undefined),
)
const rung = computed(() => (now.value ? page.value?.design.rungs[now.value.rung] : undefined))
const d1 = ref<number | null>(null)
const d2 = ref<number | null>(null)
const length = ref<number | null>(null)
watch(now, () => {
  d1.value = d2.value = length.value = null
  refusal.value = undefined
})
const first = ref<InstanceType<typeof NumberField> | null>(null)
watch([now, first], () => first.value?.focus(), { flush: 'post' })

const { refusal, trouble, busy, said, tried, once } = useTried('nothing was recorded')
const serverNow = useServerNow()
type Said<A = Sent> = A extends unknown ? Omit<A, 'id' | 'made_at' | 'rung' | 'waited'> : never
const act = (said: Said, at = now.value?.rung) =>
  at != null &&
  tried(async () => {
    const body = { rung: at, waited: false, ...said, ...once({ at, said }, await serverNow()) } as Sent
    queries.setQueryData(
      ['ladder', props.number],
      await answered(
        api.POST('/api/additives/ladders/{number}/acts', {
          params: { path: { number: props.number } },
          body,
        }),
      ),
    )
    chosen.value = undefined
    void queries.invalidateQueries({ queryKey: ['home'] })
  })
function record(): void {
  const kind = now.value?.kind
  if (kind === 'spread')
    void act({ kind, diameters_mm: [d1.value, d2.value].filter((d): d is number => d != null) })
  else if (kind === 'string' || kind === 'bleed') void act({ kind, length_mm: length.value! })
  else if (kind) void act({ kind })
}

const targets = ref<Schemas['TargetAsked'][]>([])
watch(
  () => page.value?.asked.targets,
  (kept) => (targets.value = (kept ?? []).map((t) => ({ ...t }))),
  { immediate: true },
)
const retargeting = ref(false)
const retarget = () =>
  tried(async () => {
    queries.setQueryData(
      ['ladder', props.number],
      await answered(
        api.PUT('/api/additives/ladders/{ladder_id}/targets', {
          params: { path: { ladder_id: props.number } },
          body: { targets: targets.value },
        }),
      ),
    )
    retargeting.value = false
  })

const into = ref(0)
watch([page, recipes], () => (into.value ||= page.value?.recipe_id ?? recipes.value?.[0]?.id ?? 0), {
  immediate: true,
})
const toRecipe = () =>
  tried(async () => {
    const made = await answered(
      api.POST('/api/additives/ladders/{ladder_id}/into-recipe', {
        params: { path: { ladder_id: props.number } },
        body: { recipe_id: into.value },
      }),
    )
    void queries.invalidateQueries({ queryKey: ['recipe'] })
    await router.push(`/recipes/${made.recipe_id}`)
  })
const answer = computed(() => page.value?.fit?.answer)
const print = () => window.print()
const cells: {
  kind: Kind
  name: string
  unit: string
  of: (s: Schemas['RungState']) => number | null | undefined
  digits: number
}[] = [
  { kind: 'spread', name: 'spread', unit: 'mm', of: (s) => s.spread_mm, digits: 1 },
  { kind: 'string', name: 'string', unit: 'mm', of: (s) => s.string_mm, digits: 0 },
  { kind: 'bleed', name: 'halo', unit: 'mm', of: (s) => s.bleed_mm, digits: 1 },
]
const open = (at: number, kind: Kind) => (chosen.value = { rung: at, kind })
useKeys(() => [
  {
    key: 'Enter',
    does: 'tick what the large line asks for',
    act: record,
    when: () => !!now.value && ['weighed', 'mixed'].includes(now.value.kind) && !busy.value,
  },
  { key: 'r', does: 'print the labels for the dabs', act: print },
  {
    key: 'Escape',
    does: 'back to what is next',
    act: () => (chosen.value = undefined),
    when: () => !!chosen.value,
  },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no ladder {{ number }}.</h1>
    <RouterLink class="underline" to="/additives">All ladders</RouterLink>
  </section>
  <template v-else-if="page">
    <div class="no-print pt-4">
      <div class="mb-3 flex flex-wrap items-center gap-3">
        <h1 class="min-w-[60%] flex-1 sm:min-w-80">
          {{ page.name
          }}<span class="quiet block text-base font-normal"
            >{{ page.parts.join(' with ') }}, % {{ BASIS_OF[page.basis] }}; begun {{ day(page.made_at) }};
            every dose at <span class="figure">{{ digits(page.design.oil_g_per_100g, 1) }}</span> g oil per
            100 g</span
          >
        </h1>
        <button type="button" class="btn btn-quiet" @click="print">Print labels</button>
        <RouterLink class="btn btn-quiet" to="/additives">All ladders</RouterLink>
      </div>

      <div class="mb-4 border-2 border-ink bg-sheet p-4" data-part="next">
        <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
          <div class="min-w-72 flex-1">
            <p class="text-[2rem] leading-[1.1] font-semibold">
              {{
                chosen && rung
                  ? `${rung.label}: ${chosen.kind === 'bleed' ? 'halo' : chosen.kind}`
                  : page.next_line
              }}
            </p>
            <p class="mt-1">
              {{ chosen ? 'Chosen by you; Escape goes back to what is next.' : page.next_reason }}
            </p>
            <p v-if="answer && answer.dose_pct && !now" class="mt-1">
              Nine times in ten between <span class="figure">{{ pct(answer.low_pct!) }}</span> and
              <span class="figure">{{ pct(answer.high_pct!) }}</span>{{
                answer.open_end ? ', perhaps beyond the rungs tried' : ''
              }}.
            </p>
          </div>
          <template v-if="now && rung">
            <RungWeights v-if="now.kind === 'weighed'" :rung="rung" />
            <form
              v-else-if="now.kind !== 'mixed'"
              class="flex flex-wrap items-end gap-3"
              @submit.prevent="record"
            >
              <template v-if="now.kind === 'spread'">
                <NumberField
                  ref="first"
                  v-model="d1"
                  class="w-36"
                  large
                  label="Across, 1"
                  unit="mm"
                  :refusal="said('diameters_mm.0')"
                  @enter="record"
                />
                <NumberField
                  v-model="d2"
                  class="w-36"
                  large
                  label="Across, 2"
                  unit="mm"
                  :refusal="said('diameters_mm.1') ?? said('diameters_mm')"
                  @enter="record"
                />
              </template>
              <NumberField
                v-else
                ref="first"
                v-model="length"
                class="w-44"
                large
                :label="now.kind === 'string' ? 'Longest thread' : 'Halo'"
                unit="mm"
                :refusal="said('length_mm')"
                @enter="record"
              />
              <button class="btn btn-main btn-slab px-8" :disabled="busy">Record</button>
            </form>
            <button
              v-if="now.kind === 'weighed' || now.kind === 'mixed'"
              type="button"
              class="btn btn-main btn-slab min-w-48 px-6 text-xl"
              :disabled="busy"
              @click="record"
            >
              {{ now.kind === 'weighed' ? 'Weighed out' : 'Mixed and dabbed' }}
            </button>
          </template>
          <form
            v-else-if="answer?.dose_pct"
            class="flex flex-wrap items-end gap-3"
            @submit.prevent="toRecipe"
          >
            <label
              ><span class="label">Into the recipe</span
              ><select v-model="into" class="field">
                <option v-for="r in recipes ?? []" :key="r.id" :value="r.id">{{ r.name }}</option>
              </select></label
            >
            <button class="btn btn-main btn-slab px-6" :disabled="busy || !into">
              Make it a new version
            </button>
          </form>
        </div>
        <span
          v-if="refusal && !['diameters_mm', 'length_mm'].some((f) => said(f))"
          class="refusal"
          role="alert"
          >{{ refusal.words }}</span
        >
        <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
      </div>

      <div class="grid gap-x-10 gap-y-5 lg:grid-cols-[1fr_1.1fr]">
        <section class="min-w-0 overflow-x-auto" aria-labelledby="rungs">
          <h2 id="rungs" class="text-lg">Doses</h2>
          <table class="w-full">
            <thead>
              <tr class="small quiet text-left">
                <th class="font-normal" scope="col">dose</th>
                <th class="text-right font-normal" scope="col">dose, %</th>
                <th class="pl-3 font-normal" scope="col">done</th>
                <th v-for="c in cells" :key="c.kind" class="text-right font-normal" scope="col">
                  {{ c.name }}, {{ c.unit }}
                </th>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="(s, n) in page.rungs"
                :key="n"
                class="hairline"
                :class="now?.rung === n ? 'bg-act-wash' : ''"
              >
                <th scope="row" class="py-1 text-left font-semibold">{{ page.design.rungs[n]!.label }}</th>
                <td class="figure text-right text-xl font-semibold">
                  {{ page.design.rungs[n]!.additives.map((w) => digits(w.dose_pct, 2)).join(' + ') }}
                </td>
                <td class="pl-3">
                  <button
                    type="button"
                    class="btn btn-quiet min-h-12 px-1 text-left font-normal"
                    @click="
                      s.weighed && s.mixed_at
                        ? act({ kind: 'strike', of: 'mixed' }, n)
                        : open(n, s.weighed ? 'mixed' : 'weighed')
                    "
                  >
                    <template v-if="s.mixed_at"
                      >dabbed {{ clock(s.mixed_at) }}<span class="sr-only">; take it back</span></template
                    ><template v-else-if="s.weighed">weighed</template><template v-else>to weigh</template>
                  </button>
                </td>
                <td v-for="c in cells" :key="c.kind" class="text-right">
                  <button
                    type="button"
                    class="btn btn-quiet figure min-h-12 px-2 text-lg font-normal"
                    :aria-label="`${c.name} of ${page.design.rungs[n]!.label}`"
                    @click="open(n, c.kind)"
                  >
                    {{
                      c.of(s) != null
                        ? digits(c.of(s)!, c.digits)
                        : c.kind === 'bleed' && s.bleed_is_due
                          ? 'due'
                          : '-'
                    }}
                  </button>
                </td>
              </tr>
            </tbody>
          </table>
          <div class="mt-3">
            <h2 class="flex items-baseline gap-3 text-lg">
              Good enough is
              <button
                type="button"
                class="btn btn-quiet small"
                :aria-expanded="retargeting"
                @click="retargeting = !retargeting"
              >
                change
              </button>
            </h2>
            <form v-if="retargeting" class="mt-1" @submit.prevent="retarget">
              <TargetFields v-model="targets" :said="said" /><button
                class="btn btn-main mt-3"
                :disabled="busy"
              >
                Keep the targets
              </button>
            </form>
            <ul v-else>
              <li v-if="!page.asked.targets?.length" class="quiet">
                Nothing is said yet: without targets there is no least dose.
              </li>
              <li v-for="met in answer?.met ?? []" :key="met.what" class="flex gap-2">
                <svg viewBox="0 0 16 16" class="mt-1 h-4 w-4 shrink-0" aria-hidden="true">
                  <path
                    :d="met.from_pct != null ? 'M2 8l4 5 8-11' : 'M3 3l10 10M13 3L3 13'"
                    fill="none"
                    stroke="currentColor"
                    stroke-width="2.500"
                  /></svg
                >{{ met.says }}
              </li>
              <template v-if="!answer"
                ><li v-for="t in page.asked.targets ?? []" :key="t.what">
                  {{ { yield_pa: 'yield stress', string_mm: 'string', bleed_mm: 'halo' }[t.what]
                  }}<template v-if="t.at_least != null"> at least {{ t.at_least }}</template
                  ><template v-if="t.at_most != null"> at most {{ t.at_most }}</template>
                  {{ t.what === 'yield_pa' ? 'Pa' : 'mm' }}
                </li></template
              >
              <li v-for="remark in page.missing" :key="remark" class="quiet">{{ remark }}</li>
            </ul>
          </div>
          <p v-for="remark in page.cautions" :key="remark" class="small quiet mt-1">{{ remark }}</p>
        </section>
        <section class="min-w-0" aria-labelledby="lines">
          <h2 id="lines" class="text-lg">Lines through the readings, with their 90 % bands</h2>
          <p v-if="!page.fit?.lines.length" class="quiet">
            Three rungs with the same check draw the first line.
          </p>
          <LadderChart v-for="line in page.fit?.lines ?? []" :key="line.what" :line="line" :page="page" />
        </section>
      </div>
    </div>
    <div class="hidden grid-cols-3 gap-3 print:grid" aria-label="Labels for the dabs">
      <div v-for="r in page.design.rungs" :key="r.label" class="border border-ink p-3">
        <p class="text-3xl font-bold">{{ r.label }}</p>
        <p>{{ r.additives.map((w) => `${digits(w.dose_pct, 2)} % ${w.name}`).join(', ') }}</p>
        <p>{{ page.name }}, {{ day(page.made_at) }}</p>
        <div class="mt-2 h-20 border border-dashed border-ink p-1 text-sm">dab here</div>
      </div>
    </div>
  </template>
</template>
