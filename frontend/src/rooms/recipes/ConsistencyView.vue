<script setup lang="ts">
/** How even a recipe's batches are: individuals and moving range of a check, its signals, and the body map. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useElementSize } from '@vueuse/core'
import { scaleLinear } from 'd3-scale'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import { day, digits } from '@/kit/format'
import { KINDS, unitName, type Kind } from '@/rooms/checks/kinds'
import BodyMap from './BodyMap.vue'

const props = defineProps<{ number: number }>()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const kind = computed<Kind>(() => (route.query.check as Kind) || 'spread')
const { data: judged, error } = useQuery({
  queryKey: ['recipe', 'consistency', () => props.number, kind],
  queryFn: () =>
    answered(
      api.GET('/api/recipes/{recipe_id}/consistency/{kind}', {
        params: { path: { recipe_id: props.number, kind: kind.value } },
      }),
    ),
})
const { data: map } = useQuery({
  queryKey: ['recipe', 'map', () => props.number],
  queryFn: () =>
    answered(api.GET('/api/recipes/{recipe_id}/body-map', { params: { path: { recipe_id: props.number } } })),
})

const box = ref<HTMLElement | null>(null)
const { width } = useElementSize(box)
const W = computed(() => Math.max(560, Math.min(1340, width.value || 1000)))
const LEFT = 54
const RIGHT = computed(() => W.value - 96)
const H = { top: 30, bottom: 250, mrTop: 286, mrBottom: 366 }
const values = computed(() => judged.value?.values ?? [])
const x = computed(() =>
  scaleLinear()
    .domain([0, Math.max(1, values.value.length - 1)])
    .range([LEFT + 14, RIGHT.value - 8]),
)
const y = computed(() => {
  const c = judged.value?.control
  const some = [
    ...values.value,
    ...(c ? [c.lower, c.upper] : []),
    ...[judged.value?.wanted?.low, judged.value?.wanted?.high].filter((v): v is number => v != null),
  ]
  const [low, high] = [Math.min(...some), Math.max(...some)]
  const room = (high - low || 1) * 0.06
  return scaleLinear()
    .domain([low - room, high + room])
    .range([H.bottom, H.top])
})
const ranges = computed(() => values.value.slice(1).map((v, n) => Math.abs(v - values.value[n]!)))
const mr = computed(() =>
  scaleLinear()
    .domain([0, Math.max(0.001, judged.value?.control?.moving_range_upper ?? 0, ...ranges.value) * 1.08])
    .range([H.mrBottom, H.mrTop]),
)
/** What judges a batch: the weighted mean moved away, or this one alone is far off. */
const signals = computed(() => {
  const found = new Map<number, string[]>()
  for (const s of judged.value?.chart?.alarms ?? [])
    found.set(s.at, [...(found.get(s.at) ?? []), judged.value!.alarm_words[s.alarm]!])
  return found
})
/** Patterns that judge nobody: marked quietly, for who wants to look closer. */
const quiet = computed(() => {
  const found = new Map<number, string[]>()
  for (const s of judged.value?.control?.signals ?? [])
    if (!signals.value.has(s.at))
      found.set(s.at, [...(found.get(s.at) ?? []), judged.value!.rule_words[s.rule]!])
  return found
})
const weighted = computed(() =>
  judged.value?.chart && !judged.value.chart.provisional
    ? judged.value.chart.weighted.map((v, n) => `${n ? 'L' : 'M'}${x.value(n)} ${y.value(v)}`).join('')
    : '',
)
const listed = computed(() =>
  [...signals.value.entries()]
    .map(([at, rules]) => ({
      number: judged.value!.numbers[at]!,
      when: judged.value!.signalled_at[at]!,
      rules,
    }))
    .reverse(),
)
/** Where another version or another lot begins. */
const breaks = computed(() =>
  values.value.flatMap((_, n) => {
    if (!n || !judged.value) return []
    const version = judged.value.versions[n] !== judged.value.versions[n - 1]
    const lot = judged.value.lots[n] !== judged.value.lots[n - 1]
    return version || lot
      ? [
          {
            n,
            says: [lot ? 'other lot' : '', version ? `version ${judged.value.versions[n]}` : '']
              .filter(Boolean)
              .join(', '),
          },
        ]
      : []
  }),
)
const line = (points: number[], scale: (v: number) => number, from = 0) =>
  points.map((v, n) => `${n ? 'L' : 'M'}${x.value(n + from).toFixed(1)} ${scale(v).toFixed(1)}`).join('')
const dots = computed(() => values.value.length <= 400)

const freezing = ref(false)
const chosen = ref<Set<number>>(new Set())
const refusal = ref('')
function begin(): void {
  chosen.value = new Set(judged.value?.frozen_on.length ? judged.value.frozen_on : judged.value?.numbers)
  freezing.value = true
}
function pick(number: number): void {
  if (!freezing.value) return void router.push(`/checks/${number}`)
  const next = new Set(chosen.value)
  if (!next.delete(number)) next.add(number)
  chosen.value = next
}
async function freeze(numbers: number[]): Promise<void> {
  refusal.value = ''
  try {
    await answered(
      api.PUT('/api/recipes/{recipe_id}/frozen', {
        params: { path: { recipe_id: props.number } },
        body: { batches: numbers },
      }),
    )
    freezing.value = false
    await queries.invalidateQueries({ queryKey: ['recipe'] })
  } catch (problem) {
    refusal.value = problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  }
}
const said = computed(() => {
  const c = judged.value?.control
  const limits = c
    ? `: mean ${digits(c.mean, 1)}, limits ${digits(c.lower, 1)} to ${digits(c.upper, 1)} ${judged.value!.unit}, ` +
      `${signals.value.size} signals`
    : ''
  return `${KINDS[kind.value].name} of ${values.value.length} batches${limits}`
})
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no recipe {{ number }}.</h1>
    <RouterLink class="underline" to="/recipes">All recipes</RouterLink>
  </section>
  <div v-else-if="judged" class="pt-4">
    <div class="mb-2 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        How alike
        <RouterLink class="text-base font-normal underline" :to="`/recipes/${number}`">{{
          judged.name
        }}</RouterLink>
      </h1>
      <div class="flex flex-wrap gap-1.5" role="group" aria-label="Which check">
        <RouterLink
          v-for="k in judged.kinds"
          :key="k"
          class="btn px-3"
          :class="k === kind ? 'bg-ink! text-white' : ''"
          :aria-current="k === kind ? 'true' : undefined"
          :to="{ query: { check: k } }"
          >{{ KINDS[k].name }}</RouterLink
        >
      </div>
    </div>
    <p v-if="!values.length" class="quiet py-6">No batch of this recipe has this check yet.</p>
    <div
      v-show="values.length"
      ref="box"
      class="overflow-x-auto"
      tabindex="0"
      role="group"
      aria-label="Individuals and moving range"
    >
      <svg
        v-if="values.length"
        :viewBox="`0 0 ${W} 392`"
        :width="W"
        height="392"
        :role="dots ? 'group' : 'img'"
        :aria-label="said"
        font-size="14"
      >
        <rect
          v-if="judged.wanted && (judged.wanted.low != null || judged.wanted.high != null)"
          :x="LEFT"
          :width="RIGHT - LEFT"
          :y="judged.wanted.high != null ? y(judged.wanted.high) : H.top"
          :height="
            (judged.wanted.low != null ? y(judged.wanted.low) : H.bottom) -
            (judged.wanted.high != null ? y(judged.wanted.high) : H.top)
          "
          fill="#fff"
        />
        <g v-for="b in breaks" :key="b.n">
          <path
            :d="`M${(x(b.n) + x(b.n - 1)) / 2} ${H.top - 8}V${H.mrBottom}`"
            stroke="#8a8a8a"
            stroke-dasharray="2 4"
          />
          <text :x="(x(b.n) + x(b.n - 1)) / 2 + 4" :y="H.top - 12" fill="#565656" font-size="13">
            {{ b.says }}
          </text>
        </g>
        <template v-if="judged.control">
          <g
            v-for="[value, name, dash] in [
              [judged.control.upper, 'upper', '7 4'],
              [judged.control.mean, 'mean', ''],
              [judged.control.lower, 'lower', '7 4'],
            ] as const"
            :key="name"
          >
            <path
              :d="`M${LEFT} ${y(value)}H${RIGHT}`"
              stroke="#1d545c"
              :stroke-width="name === 'mean' ? 1 : 1.8"
              :stroke-dasharray="dash"
            />
            <text :x="RIGHT + 6" :y="y(value) + 5" fill="#1d545c">
              <tspan class="figure">{{ digits(value, 1) }}</tspan>
              {{ name }}
            </text>
          </g>
          <path
            :d="`M${LEFT} ${mr(judged.control.moving_range_upper)}H${RIGHT}`"
            stroke="#1d545c"
            stroke-width="1.800"
            stroke-dasharray="7 4"
          />
          <text :x="RIGHT + 6" :y="mr(judged.control.moving_range_upper) + 5" fill="#1d545c">
            <tspan class="figure">{{ digits(judged.control.moving_range_upper, 1) }}</tspan>
            upper
          </text>
        </template>
        <path :d="line(values, y)" fill="none" stroke="#171717" stroke-width="1.500" />
        <path :d="line(ranges, mr, 1)" fill="none" stroke="#171717" stroke-width="1.500" />
        <g v-for="t in y.ticks(5)" :key="t">
          <text :x="LEFT - 8" :y="y(t) + 5" text-anchor="end" class="figure" fill="#565656">{{ t }}</text>
        </g>
        <text :x="LEFT - 8" :y="H.mrBottom + 4" text-anchor="end" class="figure" fill="#565656">0</text>
        <text x="4" :y="H.top - 12" fill="#565656" font-size="13">{{ unitName(judged.unit) }}</text>
        <text x="4" :y="H.mrTop - 8" fill="#565656" font-size="13">range to the batch before</text>
        <path v-if="weighted" :d="weighted" fill="none" stroke="#1d545c" stroke-width="2" />
        <template v-if="dots">
          <a
            v-for="(v, n) in values"
            :key="judged.numbers[n]"
            :href="`/checks/${judged.numbers[n]}`"
            :aria-label="
              [`Batch ${judged.numbers[n]}: ${digits(v, 1)} ${judged.unit}`, ...(signals.get(n) ?? [])].join(
                ', ',
              )
            "
            @click.prevent="pick(judged.numbers[n]!)"
          >
            <circle :cx="x(n)" :cy="y(v)" r="14" fill="transparent" />
            <circle v-if="quiet.has(n)" :cx="x(n)" :cy="y(v)" r="9" fill="none" stroke="#8a8a8a">
              <title>{{ quiet.get(n)!.join(', ') }}</title>
            </circle>
            <path
              v-if="signals.has(n)"
              :d="`M${x(n)} ${y(v) - 11}l10 19h-20z`"
              fill="#fff"
              stroke="#8f1d14"
              stroke-width="2.500"
            />
            <circle
              :cx="x(n)"
              :cy="y(v)"
              r="4.500"
              :fill="freezing ? (chosen.has(judged.numbers[n]!) ? '#1d545c' : '#fff') : '#171717'"
              :stroke="freezing ? '#1d545c' : 'none'"
              stroke-width="2"
            />
          </a>
        </template>
        <template v-else>
          <path
            v-for="[n, rules] in signals"
            :key="n"
            :d="`M${x(n)} ${y(values[n]!) - 8}l7 14h-14z`"
            fill="#fff"
            stroke="#8f1d14"
            stroke-width="2"
          >
            <title>batch {{ judged.numbers[n] }}: {{ rules.join(', ') }}</title>
          </path>
        </template>
        <template v-for="(_, n) in values" :key="n">
          <text
            v-if="values.length <= 40 || n % Math.ceil(values.length / 30) === 0"
            :x="x(n)"
            y="386"
            text-anchor="middle"
            font-size="13"
            class="figure"
            fill="#565656"
          >
            {{ judged.numbers[n] }}
          </text>
        </template>
      </svg>
    </div>
    <div class="mt-2 flex flex-wrap items-center gap-x-8 gap-y-2">
      <p v-if="judged.wanted && (judged.wanted.low != null || judged.wanted.high != null)" class="small">
        White: inside the tolerance,
        <span class="figure"
          >{{ judged.wanted.low ?? ''
          }}{{
            judged.wanted.low != null && judged.wanted.high != null
              ? ' to '
              : judged.wanted.high != null
                ? 'up to '
                : ' or more'
          }}{{ judged.wanted.high ?? '' }}</span
        >
        {{ unitName(judged.unit) }}.<template v-if="judged.control?.cpk != null">
          Room in it (Cpk)
          <span class="figure font-semibold">{{
            digits(judged.chart?.cpk ?? judged.control.cpk, 2)
          }}</span><template v-if="judged.chart?.cpk_low != null"
            >, {{ digits(judged.chart.cpk_low, 2) }} to {{ digits(judged.chart.cpk_high!, 2) }}</template
          >.</template
        >
      </p>
      <p v-if="!judged.control && values.length" class="small quiet">
        The usual scatter is known from the {{ judged.batches_for_limits }}th batch on; until then only the
        tolerance counts.
      </p>
      <p v-else-if="judged.control" class="small quiet">
        <template v-if="judged.chart && !judged.chart.provisional"
          >Judged against the first {{ judged.chart.frozen }} batches: the line is the weighted mean of the
          last (ISO 7870-6).</template
        ><template v-else
          >Provisional until the 20th batch: only the tolerance counts, and one unlike the others.</template
        >
        The outer lines are the usual scatter: mean ±3 sigma (ISO 7870-2){{
          judged.frozen_on.length ? `, frozen on ${judged.frozen_on.length} batches` : ', from all batches'
        }}. A ring marks a pattern; it decides nothing.
      </p>
      <span class="flex-1" />
      <template v-if="freezing"
        ><p class="small">
          Tap the batches whose ranges shall set the limits:
          <span class="figure">{{ chosen.size }}</span> chosen.
        </p>
        <button type="button" class="btn btn-main" @click="freeze([...chosen])">Freeze on these</button
        ><button type="button" class="btn" @click="freezing = false">Cancel</button></template
      >
      <template v-else-if="judged.control && dots"
        ><button type="button" class="btn" @click="begin">Freeze the limits</button
        ><button v-if="judged.frozen_on.length" type="button" class="btn btn-quiet" @click="freeze([])">
          Use all batches again
        </button></template
      >
      <span v-if="refusal" class="refusal basis-full" role="alert">{{ refusal }}</span>
    </div>
    <div class="mt-6 grid gap-x-12 gap-y-6 lg:grid-cols-[1.2fr_1fr]">
      <section aria-labelledby="signals">
        <h2 id="signals" class="text-lg">What stands out</h2>
        <p v-if="judged.chart?.trend" class="mb-1">{{ judged.chart.trend.says }}</p>
        <p v-if="!listed.length" class="quiet">They came out alike.</p>
        <ul>
          <li
            v-for="s in listed.slice(0, 30)"
            :key="s.number"
            class="hairline flex min-h-12 items-center gap-4"
          >
            <RouterLink class="w-32 underline decoration-1 underline-offset-4" :to="`/checks/${s.number}`"
              >batch {{ s.number }}</RouterLink
            ><span class="quiet small w-28">{{ day(s.when) }}</span
            ><span class="flex-1">{{ s.rules.join('; ') }}</span>
          </li>
        </ul>
      </section>
      <section v-if="map" aria-labelledby="map">
        <h2 id="map" class="text-lg">Body map</h2>
        <BodyMap :map="map" />
      </section>
    </div>
  </div>
</template>
