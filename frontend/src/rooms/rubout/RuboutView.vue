<script setup lang="ts">
/** One guided test: oil by small steps, what to look for now, the end point, and how repeats agree. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourChip from '@/kit/ColourChip.vue'
import CautionList from '@/kit/CautionList.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { clock, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import Paste from '@/kit/Paste.vue'
import { asTold } from '@/kit/units'
import { useTried } from '@/kit/tried'
import AmountEntry from '@/rooms/slab/AmountEntry.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const path = { params: { path: { test_id: props.number } } }
const { data: test, error } = useQuery({
  queryKey: ['rubout', props.number],
  queryFn: () => answered(api.GET('/api/rubout/tests/{test_id}', path)),
})

const STAGE: Record<string, Schemas['Stage']> = {
  dust: 'dry_islands',
  crumbs: 'crumbs',
  lumps: 'wet_curds',
  close: 'coarse_paste',
}
const open = computed(() => test.value?.status === 'open')
const stage = computed(() =>
  test.value?.status === 'finished'
    ? 'even_paste'
    : !test.value?.oil_g
      ? 'powder'
      : STAGE[test.value.phase.key]!,
)
const panel = ref<'amount' | 'abort'>()
const reason = ref('')
const { refusal, trouble, busy, tried, once } = useTried('nothing was counted')

async function send(asked: () => Promise<Schemas['Test']>): Promise<boolean> {
  if (busy.value) return false
  return tried(async () => {
    queries.setQueryData(['rubout', props.number], await asked())
    for (const queryKey of [['rubouts'], ['home'], ['lots'], ['pigment']])
      void queries.invalidateQueries({ queryKey })
  })
}
async function add(measure: Schemas['AmountAsked']): Promise<void> {
  const { id } = once({ measure, steps: test.value?.steps.length })
  if (
    await send(() =>
      answered(api.POST('/api/rubout/tests/{test_id}/steps', { ...path, body: { id, measure } })),
    )
  ) {
    panel.value = undefined
  }
}
const drops = (amount: number) => add({ unit: 'drop', amount })
/** The first pour as it is told: a spoon, drops, or both one after the other. */
const pourFirst = () => test.value?.first_pour && add(asTold(test.value.first_pour))
const undo = () =>
  send(() => {
    const { id } = once({ undo: test.value?.steps.length })
    return answered(api.POST('/api/rubout/tests/{test_id}/undo', { ...path, body: { id } }))
  })
const end = (sure = false) =>
  send(() => answered(api.POST('/api/rubout/tests/{test_id}/end', { ...path, body: { sure } })))
const unsure = computed(() => refusal.value?.at('sure'))
async function abort(): Promise<void> {
  if (
    await send(() =>
      answered(api.POST('/api/rubout/tests/{test_id}/abort', { ...path, body: { reason: reason.value } })),
    )
  )
    panel.value = undefined
}
const shown = computed(() => [...(test.value?.steps ?? [])].reverse())
const share = (oil: number) => Math.min(1, oil / ((test.value?.expected_oil_g || 1) * 1.5))
const ready = () => open.value && !panel.value
useKeys(() => [
  { key: '1', does: 'one drop', act: () => void drops(1), when: ready },
  { key: '5', does: 'five drops', act: () => void drops(5), when: ready },
  { key: '0', does: 'ten drops', act: () => void drops(10), when: ready },
  {
    key: 'p',
    does: 'pour: grams, drops, or the bottle weighed back',
    act: () => (panel.value = 'amount'),
    when: ready,
  },
  { key: 'x', does: 'take the last step back', act: () => void undo(), when: ready },
  { key: 'e', does: 'end point: it coheres', act: () => void end(), when: ready },
])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no rub-out {{ number }}.</h1>
    <RouterLink class="underline" to="/rub-out">All rub-outs</RouterLink>
  </section>
  <div v-else-if="test">
    <div class="flex flex-wrap items-center gap-4 pt-4 pb-3">
      <ColourChip class="h-10 w-16" :colour="test.masstone_srgb" />
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Rub-out of {{ test.pigment_name.toLowerCase() }}
        <span class="quiet block text-base font-normal"
          >lot {{ test.lot_code }}; {{ digits(test.pigment_g, 2) }} g in {{ test.oil_name.toLowerCase()
          }}<template v-if="test.temperature_c != null"
            >, {{ digits(test.temperature_c, 0) }} °C</template
          ></span
        >
      </h1>
      <RouterLink class="btn btn-quiet" :to="`/pigments/${test.pigment_key}`">What is known of it</RouterLink>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_22rem]">
      <div class="min-w-0 space-y-4">
        <div v-if="test.status === 'finished'" class="border-2 border-ink bg-sheet p-5">
          <p class="text-[2rem] leading-tight font-semibold">
            Done: it takes <span class="figure">{{ digits(test.in_reference?.value ?? 0, 1) }}</span> g per
            100 g.
          </p>
          <p
            v-if="test.agreement"
            class="mt-1 text-lg"
            :class="test.agreement.ask_again ? 'font-semibold' : ''"
          >
            {{ test.agreement.says }}
          </p>
          <p class="quiet">
            Tests of this lot so far:
            <span class="figure">{{ test.repeats.map((r) => digits(r, 1)).join(', ') }}</span> g per 100 g, in
            the reference oil.
          </p>
          <div class="mt-4 flex flex-wrap gap-3">
            <RouterLink class="btn btn-main px-6" :to="{ path: '/rub-out', query: { lot: test.lot_id } }">{{
              test.agreement?.ask_again ? 'Make another test' : 'Test again'
            }}</RouterLink>
            <RouterLink class="btn" :to="`/pigments/${test.pigment_key}`">What is known of it now</RouterLink>
            <RouterLink class="btn" :to="{ path: '/plan', query: { lot: test.lot_id } }"
              >Plan a batch</RouterLink
            >
          </div>
        </div>
        <div v-else-if="test.status === 'abandoned'" class="border-2 border-ink bg-sheet p-5">
          <p class="text-xl font-semibold">Given up: {{ test.reason }}</p>
          <p>It is kept, and teaches nothing.</p>
        </div>
        <template v-else>
          <div class="flex flex-wrap items-center gap-5 border-2 border-ink bg-sheet p-4" data-part="phase">
            <Paste :stage="stage" :colour="test.masstone_srgb" :size="150" />
            <div class="min-w-64 flex-1">
              <p class="text-[2rem] leading-tight font-semibold">
                {{ test.oil_g ? test.phase.name : 'Powder on the glass' }}
              </p>
              <p class="text-lg">
                {{
                  test.oil_g
                    ? test.phase.how
                    : 'Powder onto clean glass, make a hollow, and begin with a good part of the oil.'
                }}
              </p>
              <p class="mt-1">
                Next:
                <strong>{{
                  test.oil_g || !test.first_pour ? test.phase.says : `about ${test.first_pour.words} at once`
                }}</strong>.
                <span v-if="!test.oil_g && test.first_pour" class="quiet small"
                  >{{ digits(test.first_pour.grams, 2) }} g: half of what is expected</span
                >
              </p>
            </div>
          </div>
          <CautionList
            v-if="!test.oil_g && !panel"
            :cautions="test.cautions"
            :always="test.caution_always"
            :deference="test.caution_deference"
          />
          <AmountEntry
            v-if="panel === 'amount'"
            :known="{
              density_g_per_ml: test.oil_density_g_per_ml,
              drop_g: test.drop_g,
              drop_measured: test.drop_g != null,
            }"
            title="Oil added"
            :only="['g', 'drop', 'ml', 'weigh_back']"
            doing="Add"
            :refusal="refusal"
            :busy="busy"
            @close="panel = undefined"
            @record="add"
          />
          <form
            v-else-if="panel === 'abort'"
            class="border-2 border-ink bg-sheet p-4"
            @submit.prevent="abort"
            @keydown.esc.prevent="panel = undefined"
          >
            <label
              ><span class="mb-2 block text-xl font-semibold">Why is this test given up?</span
              ><input v-model="reason" class="field" maxlength="500" autofocus
            /></label>
            <span v-if="refusal" class="refusal" role="alert">{{
              refusal.at('reason') ?? refusal.message
            }}</span>
            <div class="mt-3 flex gap-3">
              <button class="btn btn-main">Give it up</button
              ><button type="button" class="btn" @click="panel = undefined">Cancel</button>
            </div>
          </form>
          <template v-else>
            <button
              v-if="!test.oil_g && test.first_pour"
              type="button"
              class="btn btn-main btn-slab w-full px-6 text-xl"
              :disabled="busy"
              @click="pourFirst"
            >
              Poured {{ test.first_pour.words }}
            </button>
            <div class="grid grid-cols-2 gap-2 sm:grid-cols-4" role="group" aria-label="Oil">
              <button type="button" class="btn btn-slab flex-col gap-0.5" :disabled="busy" @click="drops(1)">
                1 drop<kbd class="keycap max-sm:hidden">1</kbd>
              </button>
              <button type="button" class="btn btn-slab flex-col gap-0.5" :disabled="busy" @click="drops(5)">
                5 drops<kbd class="keycap max-sm:hidden">5</kbd>
              </button>
              <button type="button" class="btn btn-slab flex-col gap-0.5" :disabled="busy" @click="drops(10)">
                10 drops<kbd class="keycap max-sm:hidden">0</kbd>
              </button>
              <button type="button" class="btn btn-slab flex-col gap-0.5" @click="panel = 'amount'">
                Pour, weighed<kbd class="keycap max-sm:hidden">p</kbd>
              </button>
            </div>
            <div class="flex flex-wrap gap-3">
              <button
                type="button"
                class="btn btn-main btn-slab px-7 text-xl"
                :disabled="busy || !test.oil_g"
                @click="end()"
              >
                End point: it coheres <kbd class="keycap max-sm:hidden">e</kbd>
              </button>
              <button type="button" class="btn btn-slab px-5" :disabled="busy || !test.oil_g" @click="undo">
                Take the last step back <kbd class="keycap max-sm:hidden">x</kbd>
              </button>
              <button type="button" class="btn btn-quiet" @click="panel = 'abort'">Give the test up</button>
            </div>
            <span v-if="refusal" class="refusal" role="alert">{{ refusal.message }}</span>
            <button v-if="unsure" type="button" class="btn" :disabled="busy" @click="end(true)">
              It coheres: end it all the same
            </button>
          </template>
          <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        </template>

        <div>
          <svg
            viewBox="0 0 800 74"
            class="w-full"
            role="img"
            :aria-label="`Oil so far ${digits(test.oil_g, 2)} g; about ${digits(test.expected_oil_g, 2)} g expected`"
          >
            <rect x="1" y="14" width="798" height="30" fill="#fff" stroke="#171717" stroke-width="1.5" />
            <rect x="2" y="15" :width="share(test.oil_g) * 796" height="28" fill="#9a9a9a" />
            <g v-for="(phase, n) in test.phases.slice(0, -1)" :key="phase.key">
              <path
                :d="`M${share(test.expected_oil_g * phase.below) * 798} 14v30`"
                stroke="#8a8a8a"
                stroke-dasharray="3 3"
              />
              <text
                :x="
                  (share(test.expected_oil_g * (n ? test.phases[n - 1]!.below : 0)) +
                    share(test.expected_oil_g * phase.below)) *
                  399
                "
                y="64"
                text-anchor="middle"
                font-size="16"
              >
                {{ phase.key }}
              </text>
            </g>
            <path :d="`M${share(test.expected_oil_g) * 798} 6v46`" stroke="#1d545c" stroke-width="3.5" />
            <text :x="share(test.expected_oil_g) * 798 + 8" y="64" font-size="16" fill="#1d545c">
              expected, only a guess
            </text>
          </svg>
        </div>
        <div class="grid grid-cols-2 gap-6 sm:grid-cols-3">
          <div>
            <span class="small quiet block">Oil so far</span
            ><span class="figure text-3xl font-semibold">{{ digits(test.oil_g, 2) }}</span
            >{{ ' ' }}<span class="quiet">g</span
            ><span v-if="test.oil_spread_g" class="small quiet figure block"
              >±{{ digits(test.oil_spread_g, 2) }} g</span
            >
          </div>
          <FigureValue
            v-if="test.in_oil"
            :figure="test.in_oil"
            :label="open ? 'If this were the end' : 'Oil absorption'"
            size="big"
            up
          />
          <FigureValue v-if="test.in_reference" :figure="test.in_reference" size="big" up />
        </div>
      </div>
      <section aria-labelledby="steps">
        <h2 id="steps">Steps</h2>
        <p v-if="!shown.length" class="quiet">No oil yet.</p>
        <ol>
          <li
            v-for="step in shown"
            :key="step.id"
            class="hairline flex min-h-11 items-center gap-3"
            data-part="step"
          >
            <span class="figure quiet small">{{ clock(step.at) }}</span>
            <span class="flex-1" :class="step.undone ? 'quiet line-through' : ''">{{ step.said }}</span>
            <span class="figure font-semibold" :class="step.undone ? 'quiet line-through' : ''"
              >+{{ digits(step.grams, 3) }}</span
            >
            g
          </li>
        </ol>
      </section>
    </div>
  </div>
</template>
