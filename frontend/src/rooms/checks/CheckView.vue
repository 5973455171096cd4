<script setup lang="ts">
/** The checks of one batch: measure, read the verdict, decide. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import { clock, day, digits } from '@/kit/format'
import { useTried } from '@/kit/tried'
import { KINDS, promise, RELEASES, result, unitName, type Kind } from './kinds'
import MeasureEntry from './MeasureEntry.vue'
import ReleaseMark from './ReleaseMark.vue'

const props = defineProps<{ number: number }>()
const route = useRoute()
const queries = useQueryClient()
const path = computed(() => ({ number: props.number }))
const { data: checks, error } = useQuery({
  queryKey: ['checks', () => props.number],
  queryFn: () => answered(api.GET('/api/checks/{number}', { params: { path: path.value } })),
})

const kind = ref<Kind>((route.query.check as Kind) || 'spread')
const wanted = computed(() => new Map((checks.value?.wanted ?? []).map((w) => [w.kind, w])))
const means = computed(() => new Map((checks.value?.means ?? []).map((m) => [m.kind, m])))
const judged = computed(() => new Map((checks.value?.verdict?.judged ?? []).map((j) => [j.kind, j])))
const due = computed(() => new Set((checks.value?.due ?? []).filter((d) => d.overdue).map((d) => d.kind)))
/** What the recipe promises first, then the rest. */
const kinds = computed(() => [
  ...wanted.value.keys(),
  ...(Object.keys(KINDS) as Kind[]).filter((k) => !wanted.value.has(k)),
])
watch(
  checks,
  (now) =>
    now && !route.query.check && !means.value.size && now.wanted[0] && (kind.value = now.wanted[0].kind),
  { once: true },
)

const { refusal, trouble, busy, tried, once } = useTried()
const key = ref(0)
const sent = (work: () => Promise<Schemas['BatchChecks']>) =>
  tried(async () => {
    queries.setQueryData(['checks', props.number], await work())
    // Not waited for: the next reading may be typed at once.
    for (const room of ['checks', 'home', 'due', 'recipe'])
      void queries.invalidateQueries({ queryKey: [room] })
  })
watch(kind, () => (refusal.value = undefined))
async function record(
  check: Omit<Schemas['CheckAsked'], 'id' | 'made_at' | 'note'>,
  note: string,
): Promise<void> {
  const body = { ...check, note, ...once({ check, note }, new Date(checks.value!.now)) }
  if (await sent(() => answered(api.POST('/api/checks/{number}', { params: { path: path.value }, body }))))
    key.value++
}
const asking = ref<string>()
const reason = ref('')
async function setAside(check: Schemas['CheckKept'], why: string | null): Promise<void> {
  if (
    await sent(() =>
      answered(
        api.PUT('/api/checks/{number}/readings/{check_id}', {
          params: { path: { ...path.value, check_id: check.id } },
          body: { reason: why },
        }),
      ),
    )
  ) {
    asking.value = undefined
    reason.value = ''
  }
}
const why = ref('')
const deciding = ref(false)
async function decide(release: Schemas['Release']): Promise<void> {
  deciding.value = true
  if (
    await sent(() =>
      answered(
        api.POST('/api/checks/{number}/decision', {
          params: { path: path.value },
          body: { id: once({ release, why: why.value }).id, release, reason: why.value },
        }),
      ),
    )
  )
    why.value = ''
}
const readings = computed(() => [...(checks.value?.readings ?? [])].reverse())
const colours = computed(() => readings.value.filter((r) => r.srgb && !r.set_aside))
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no batch {{ number }}.</h1>
    <RouterLink class="underline" to="/checks">Checks</RouterLink>
  </section>
  <div v-else-if="checks" class="pt-4">
    <div class="mb-3 flex flex-wrap items-center gap-4">
      <ColourChip class="h-10 w-16" :colour="checks.masstone_srgb" />
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ checks.name }}
        <span class="quiet text-base font-normal"
          >batch {{ number
          }}<template v-if="checks.ended_at">, finished {{ day(checks.ended_at) }}</template></span
        >
      </h1>
      <RouterLink v-if="checks.recipe_id" class="btn btn-quiet" :to="`/recipes/${checks.recipe_id}`"
        >{{ checks.recipe_name }}, version {{ checks.recipe_version }}</RouterLink
      >
      <RouterLink v-else class="btn" :to="{ path: '/recipes/new', query: { batch: number } }"
        >Make a recipe of it</RouterLink
      >
      <RouterLink class="btn btn-quiet" :to="`/batches/${number}`">Batch page</RouterLink>
    </div>
    <div class="grid gap-x-8 gap-y-6 lg:grid-cols-[1fr_24rem]">
      <div class="min-w-0 space-y-5">
        <div
          class="grid grid-cols-2 gap-1.5 sm:grid-cols-4 xl:grid-cols-6"
          role="group"
          aria-label="Which check"
        >
          <button
            v-for="option in kinds"
            :key="option"
            type="button"
            class="btn min-h-[64px] flex-col items-start gap-0 px-2.5 text-left text-[0.95rem] leading-tight"
            :class="kind === option ? 'bg-ink! text-white' : wanted.has(option) ? '' : 'border-rule!'"
            :aria-pressed="kind === option"
            @click="kind = option"
          >
            {{ KINDS[option].name }}
            <span class="small font-normal" :class="kind === option ? '' : 'quiet'">
              <template v-if="means.get(option)"
                >{{
                  means.get(option)!.estimate
                    ? result(means.get(option)!.estimate!.median, means.get(option)!.unit)
                    : (means.get(option)!.choice ?? 'read')
                }}<template v-if="judged.get(option)?.inside === false">, outside</template></template
              >
              <template v-else-if="due.has(option)">due</template
              ><template v-else>{{ wanted.has(option) ? 'promised' : '\u00a0' }}</template>
            </span>
          </button>
        </div>
        <MeasureEntry
          :key="`${kind}/${key}`"
          :kind="kind"
          :checks="checks"
          :refusal="deciding ? undefined : refusal"
          :busy="busy"
          @record="(check, note) => ((deciding = false), record(check, note))"
        />
        <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
        <section v-if="colours.length" aria-labelledby="colours">
          <h2 id="colours" class="mb-1 text-lg">Colours side by side</h2>
          <div class="flex flex-wrap bg-mid p-5">
            <figure v-if="checks.standard_srgb" class="w-36">
              <div class="h-24" :style="{ background: checks.standard_srgb }" />
              <figcaption class="bg-sheet px-2 py-1 text-[0.88rem]">standard, masstone</figcaption>
            </figure>
            <figure v-for="colour in colours.slice(0, 5)" :key="colour.id" class="w-36">
              <div class="h-24" :style="{ background: colour.srgb! }" />
              <figcaption class="bg-sheet px-2 py-1 text-[0.88rem]">
                {{ KINDS[colour.kind].name }},
                {{ colour.value != null ? `ΔE00 ${digits(colour.value, 1)}` : 'no standard' }}
              </figcaption>
            </figure>
          </div>
        </section>
        <section aria-labelledby="readings">
          <h2 id="readings" class="text-lg">Readings</h2>
          <p v-if="!readings.length" class="quiet">Nothing was measured on this batch yet.</p>
          <ul>
            <li
              v-for="reading in readings"
              :key="reading.id"
              class="hairline flex flex-wrap items-center gap-x-4 gap-y-1 py-1.5"
              :data-check="reading.kind"
            >
              <span class="figure quiet small w-28"
                >{{ day(reading.made_at) }} {{ clock(reading.made_at) }}</span
              >
              <span
                class="min-w-0 flex-1 leading-tight"
                :class="reading.set_aside ? 'quiet line-through' : ''"
              >
                <strong class="font-semibold">{{ KINDS[reading.kind].name }}</strong>{{ ' '
                }}<span v-if="reading.value != null" class="figure font-semibold">{{
                  result(reading.value, reading.unit)
                }}</span>
                {{ reading.choice ?? '' }}
                <span class="small quiet block"
                  >{{ reading.says
                  }}<template v-for="w in reading.worked" :key="w.name"
                    >; {{ w.name }} <span class="figure">{{ digits(w.value, w.value < 10 ? 3 : 1) }}</span>
                    {{ unitName(w.unit) }}</template
                  ><template v-if="reading.note">; {{ reading.note }}</template></span
                >
              </span>
              <span v-if="reading.set_aside" class="small"
                >set aside: {{ reading.set_aside }}
                <button type="button" class="btn btn-quiet small" @click="setAside(reading, null)">
                  count it again
                </button></span
              >
              <form
                v-else-if="asking === reading.id"
                class="flex items-end gap-2"
                @submit.prevent="setAside(reading, reason)"
                @keydown.esc="asking = undefined"
              >
                <label
                  ><span class="label">Why it does not count</span
                  ><input v-model="reason" class="field" maxlength="300" autofocus /></label
                ><button class="btn">Set aside</button>
              </form>
              <button v-else type="button" class="btn btn-quiet small" @click="asking = reading.id">
                set aside
              </button>
            </li>
          </ul>
        </section>
      </div>
      <aside class="space-y-6">
        <section
          v-if="checks.verdict"
          class="border-2 p-4"
          :class="checks.verdict.release === 'hold' ? 'border-stop' : 'border-ink'"
          aria-labelledby="verdict"
        >
          <h2 id="verdict" class="text-2xl"><ReleaseMark :release="checks.verdict.release" /></h2>
          <p class="mt-1">{{ checks.verdict.reason }}</p>
          <p v-if="checks.adjustment" class="mt-2 border-l-4 border-ink pl-3" data-part="adjustment">
            <strong>{{ checks.adjustment.adds }}.</strong>{{ ' ' }}{{ checks.adjustment.how }}
            <span class="small quiet block"
              >Reduced PVC {{ digits(checks.adjustment.reduced_now, 3) }} to
              {{ digits(checks.adjustment.reduced_wanted, 3) }} by a slope of
              {{ digits(checks.adjustment.slope.per_reduced, 2) }} ±{{
                digits(checks.adjustment.slope.half_width, 2)
              }},
              {{
                checks.adjustment.slope.basis === 'learned'
                  ? 'learned from this recipe'
                  : 'assumed until four batches say'
              }}.</span
            >
          </p>
          <p v-if="checks.decision" class="mt-3">
            Decided {{ day(checks.decision.made_at) }}:
            <ReleaseMark :release="checks.decision.release" /><span
              v-if="checks.decision.reason"
              class="small quiet block"
              >{{ checks.decision.reason }}</span
            >
          </p>
          <form v-if="checks.status === 'finished'" class="mt-3" @submit.prevent>
            <label v-if="!['release', 'watch'].includes(checks.verdict.release) || why"
              ><span class="label">Reason, where it goes against the advice</span
              ><input
                v-model="why"
                class="field"
                maxlength="500"
                :aria-invalid="deciding && refusal?.at('reason') ? 'true' : undefined"
            /></label>
            <span v-if="deciding && refusal" class="refusal" role="alert">{{
              refusal.at('reason') ?? refusal.words
            }}</span>
            <div class="mt-2 flex flex-wrap gap-2">
              <button
                type="button"
                class="btn"
                :class="checks.verdict.release === 'release' ? 'btn-main' : ''"
                :disabled="busy"
                @click="decide('release')"
              >
                Release
              </button>
              <button
                type="button"
                class="btn"
                :class="checks.verdict.release === 'watch' ? 'btn-main' : ''"
                :disabled="busy"
                @click="decide('watch')"
              >
                Release and watch
              </button>
              <button
                type="button"
                class="btn"
                :class="checks.verdict.release === 'hold' ? 'btn-main' : ''"
                :disabled="busy"
                @click="decide('hold')"
              >
                Hold
              </button>
            </div>
            <p class="small quiet mt-2">{{ RELEASES[checks.verdict.release].does }}</p>
          </form>
        </section>
        <section v-if="checks.recipe_id" aria-labelledby="promised">
          <h2 id="promised" class="text-lg">What the recipe promises</h2>
          <table class="w-full">
            <thead class="sr-only">
              <tr>
                <th>check</th>
                <th>promised</th>
                <th>found</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="w in checks.wanted" :key="w.kind" class="hairline align-baseline">
                <th scope="row" class="py-1.5 text-left font-semibold">{{ KINDS[w.kind].name }}</th>
                <td class="figure small py-1.5">
                  {{ promise(w) || 'to be taken' }}
                  <span v-if="promise(w)" class="font-sans">{{ unitName(checks.units[w.kind] ?? '') }}</span>
                </td>
                <td class="py-1.5 text-right">
                  <template v-if="judged.get(w.kind)?.inside != null"
                    ><span class="figure font-semibold">{{
                      judged.get(w.kind)!.value != null ? digits(judged.get(w.kind)!.value!, 1) : ''
                    }}</span>
                    {{ judged.get(w.kind)!.inside ? 'inside' : 'outside' }}</template
                  ><span v-else class="quiet">to check</span>
                </td>
              </tr>
            </tbody>
          </table>
        </section>
        <p v-else class="quiet">
          This batch follows no recipe. Its checks are kept; a recipe made of it would promise them for the
          next.
        </p>
        <section v-if="checks.due.length" aria-labelledby="due">
          <h2 id="due" class="text-lg">Still to check</h2>
          <ul>
            <li v-for="d in checks.due" :key="d.kind" class="hairline flex min-h-11 items-center gap-3">
              <span class="flex-1">{{ KINDS[d.kind].name }}, {{ d.says }}</span
              ><span class="small" :class="d.overdue ? 'font-semibold' : 'quiet'">{{
                d.overdue ? 'now' : `${day(d.at)}, ${clock(d.at)}`
              }}</span>
            </li>
          </ul>
        </section>
        <div class="flex flex-wrap gap-x-3">
          <RouterLink
            v-if="checks.standard_batch && checks.standard_batch !== number"
            class="btn btn-quiet -ml-2"
            :to="{ path: '/compare', query: { reading: checks.standard_batch, other: number } }"
            >Compare it with the recipe's standard</RouterLink
          >
          <RouterLink class="btn btn-quiet -ml-2" :to="{ path: '/compare', query: { other: number } }"
            >Compare it with another</RouterLink
          >
        </div>
      </aside>
    </div>
  </div>
</template>
