<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import BasisMark from '@/kit/BasisMark.vue'
import CautionList from '@/kit/CautionList.vue'
import FigureValue from '@/kit/FigureValue.vue'
import { digits, grams, massUnit } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { newId } from '@/kit/ids'
import PourLadder from '@/kit/PourLadder.vue'
import Swatch from '@/kit/Swatch.vue'
import WettingScale from '@/kit/WettingScale.vue'
import { MOMENTS } from '@/rooms/additives/choices'
import { asked, draftOf, emptyLine, spoonsOf, useComputed, usePlanDraft } from './draft'
import PlanSheet from './PlanSheet.vue'
import PlanWish from './PlanWish.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const draft = usePlanDraft()
const { data: workshop } = useWorkshop()

const wish = computed(() => asked(draft.value))
const { answer, refusal, offline, ask } = useComputed(wish)
const plan = computed(() => (wish.value ? answer.value?.plan : undefined))
const short = computed(() => (answer.value?.supplies ?? []).filter((supply) => !supply.suffices))

// A fresh draft starts from the studio's own habits.
function settle(): void {
  const kept = workshop.value
  if (!kept) return
  const first = kept.tube_types[Math.min(1, kept.tube_types.length - 1)]
  if (!Object.values(draft.value.tubes).some(Boolean) && first) draft.value.tubes = { [first.id]: 2 }
  for (const id of Object.keys(draft.value.tubes))
    if (!kept.tube_types.some((t) => t.id === Number(id))) delete draft.value.tubes[id]
  if (!kept.slabs.some((s) => s.id === draft.value.slab_id))
    draft.value.slab_id = kept.settings.default_slab_id ?? null
  if (!kept.mullers.some((m) => m.id === draft.value.muller_id))
    draft.value.muller_id = kept.settings.default_muller_id ?? null
  if (!draft.value.lines.length) {
    draft.value.lines = [emptyLine('', spoonsOf(workshop.value)[0][0])]
    draft.value.reduced = kept.settings.default_reduced_pvc
  }
}
watch(workshop, settle, { immediate: true })

/** A target chosen for one powder says nothing of the next: it goes back, and says so. */
const targetBack = ref(false)
const materialOf = (line?: { source: string }) => line?.source ?? ''
watch(
  () => materialOf(draft.value.lines[0]),
  (now, before) => {
    targetBack.value = false
    const usual = workshop.value?.settings.default_reduced_pvc
    if (!before || now === before || usual == null || draft.value.recipe || draft.value.reduced === usual)
      return
    draft.value.reduced = usual
    targetBack.value = true
  },
)

const keptName = ref('')
watch(
  () => [route.query.kept, route.query.batch],
  async ([kept, batch]) => {
    if (kept) {
      const found = await answered(
        api.GET('/api/plan/saved/{plan_id}', { params: { path: { plan_id: Number(kept) } } }),
      )
      draft.value = draftOf(found.asked)
      keptName.value = found.name
    } else if (batch) {
      const found = await answered(
        api.GET('/api/batches/{number}', { params: { path: { number: Number(batch) } } }),
      )
      draft.value = draftOf(found.asked)
    }
    settle()
  },
  { immediate: true },
)

const said = (field: string) => refusal.value?.at(field)
const request = ref(newId())
watch(wish, () => (request.value = newId()), { deep: true })
const taking = ref(false)
const trouble = ref('')
async function takeToSlab(): Promise<void> {
  if (!wish.value || !plan.value || taking.value) return
  taking.value = true
  trouble.value = ''
  try {
    const made = await answered(
      api.POST('/api/plan/take-to-slab', { body: { request_id: request.value, plan: wish.value } }),
    )
    void queries.invalidateQueries({ queryKey: ['home'] })
    await router.push(`/slab/${made.number}`)
  } catch (error) {
    trouble.value =
      error instanceof Refused
        ? error.message
        : 'The server does not answer. Try again: it cannot make two batches of it.'
  } finally {
    taking.value = false
  }
}

const keeping = ref(false)
const name = ref('')
const nameRefusal = ref('')
function openKeep(): void {
  name.value = keptName.value || (plan.value ? plan.value.name : '')
  keeping.value = true
}
async function keep(): Promise<void> {
  if (!wish.value) return
  try {
    const kept = await answered(api.POST('/api/plan/saved', { body: { name: name.value, plan: wish.value } }))
    keptName.value = kept.name
    keeping.value = false
    nameRefusal.value = ''
    void queries.invalidateQueries({ queryKey: ['plans'] })
    void queries.invalidateQueries({ queryKey: ['home'] })
  } catch (error) {
    nameRefusal.value =
      error instanceof Refused
        ? (error.at('name') ?? error.message)
        : 'The server does not answer; try again.'
  }
}
const print = () => window.print()
const toCautions = () => document.getElementById('cautions')?.scrollIntoView({ behavior: 'smooth' })
const nudge = (by: number) =>
  (draft.value.reduced = Number(Math.min(1.15, Math.max(0.5, draft.value.reduced + by)).toFixed(2)))

useKeys(() => [
  { key: '[', does: 'a stiffer target, by 0.01', act: () => nudge(0.01) },
  { key: ']', does: 'a softer target, by 0.01', act: () => nudge(-0.01) },
  {
    key: 'b',
    does: 'add a pigment to the blend',
    act: () => void draft.value.lines.push(emptyLine('', spoonsOf(workshop.value)[0][0])),
  },
  { key: 'k', does: 'keep this plan under a name', act: openKeep, when: () => !!plan.value },
  { key: 'r', does: 'print this plan', act: print, when: () => !!plan.value },
  { key: 't', does: 'take it to the slab', act: () => void takeToSlab(), when: () => !!plan.value },
])
</script>

<template>
  <div class="no-print">
    <div class="flex min-h-[5.2rem] flex-wrap items-center gap-4 pt-4 pb-3">
      <Swatch v-if="plan" :masstone="plan.masstone_srgb" :undertone="plan.undertone_srgb" :name="plan.name" />
      <span v-else class="h-14 w-[150px] border border-dashed border-rule" aria-hidden="true" />
      <h1 class="min-w-0 flex-1">
        {{ plan ? plan.name : 'Plan a batch'
        }}<span class="quiet block text-base font-normal">{{
          plan
            ? `in ${plan.oil.name.toLowerCase()}; the swatch is a guess of the colour`
            : 'nothing is chosen yet'
        }}</span>
      </h1>
      <button type="button" class="btn btn-quiet" :disabled="!plan" @click="openKeep">Keep</button>
      <button type="button" class="btn btn-quiet" :disabled="!plan" @click="print">Print</button>
      <button
        type="button"
        class="btn btn-main px-6 text-lg"
        :disabled="!plan || !!refusal || taking"
        @click="takeToSlab"
      >
        Take it to the slab
      </button>
    </div>
    <p v-if="trouble" class="refusal mb-2" role="alert">{{ trouble }}</p>
    <form
      v-if="keeping"
      class="mb-3 flex flex-wrap items-end gap-3 border-2 border-ink bg-sheet p-3"
      @submit.prevent="keep"
    >
      <label class="min-w-64 flex-1"
        ><span class="label">Keep this plan as</span
        ><input
          v-model="name"
          class="field"
          maxlength="120"
          autofocus
          :aria-invalid="nameRefusal ? 'true' : undefined"
        /><span v-if="nameRefusal" class="refusal" role="alert">{{ nameRefusal }}</span></label
      >
      <button class="btn btn-main">Keep</button>
      <button type="button" class="btn" @click="keeping = false">Cancel</button>
    </form>

    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[22rem_1fr]">
      <PlanWish
        v-model="draft"
        :said="said"
        :odd-additives="refusal?.problem.errors.some((e) => e.field === 'additives') ?? false"
        :plan="plan"
      />

      <!-- What comes of it -->
      <div class="min-w-0">
        <p v-if="offline" class="refusal mb-3 border-2 border-stop p-3" role="alert">
          The server does not answer; the figures below are the last it gave.
          <button class="underline" type="button" @click="ask">Ask again</button>
        </p>
        <p
          v-if="
            refusal &&
            !said('lines') &&
            !said('tubes') &&
            !said('pigment_g') &&
            !said('start') &&
            !said('oil') &&
            !said('additives')
          "
          class="refusal mb-3"
          role="alert"
        >
          {{ refusal.message }}
        </p>
        <p v-if="!wish" class="max-w-prose pt-8 text-lg">
          Choose a pigment and an oil. What to weigh, what to pour first and what to beware of appear here at
          once. Any of the library will do, ground before or not.
        </p>
        <template v-if="plan">
          <WettingScale
            v-model="draft.reduced"
            movable
            :scale="plan.scale"
            :marks="plan.rules.filter((r) => r.key !== 'rub_out')"
          />
          <p v-if="targetBack" class="mt-2" role="status">
            Another powder: the target is back at {{ draft.reduced.toFixed(2) }}, as the studio has it.
          </p>
          <p
            class="mt-3 flex flex-wrap items-baseline gap-x-3 border-y border-line py-2"
            aria-label="In short, beware"
          >
            <strong>Beware</strong>
            <span
              v-for="caution in plan.cautions"
              :key="caution.key"
              :class="caution.level === 'strict' ? 'font-semibold text-stop' : ''"
              >{{ caution.title.toLowerCase() }}</span
            >
            <a href="#cautions" class="small underline" @click.prevent="toCautions">what to do</a>
          </p>
          <div class="mt-4 grid gap-x-8 gap-y-5 xl:grid-cols-[1fr_19rem]">
            <div>
              <div class="grid grid-cols-2 items-start gap-x-6 gap-y-4 sm:grid-cols-3">
                <FigureValue
                  v-if="plan.lines.length === 1"
                  :figure="plan.lines[0]!.mass"
                  label="Weigh out"
                  size="huge"
                />
                <div v-else class="space-y-2">
                  <FigureValue
                    v-for="line in plan.lines"
                    :key="line.pigment.name + line.pigment.lot_code"
                    :figure="line.mass"
                    :label="`Weigh out ${line.pigment.name.toLowerCase()}`"
                    size="big"
                  />
                </div>
                <FigureValue :figure="plan.first_pour" size="huge" />
                <FigureValue :figure="plan.oil_to_pour ?? plan.oil_mass" size="huge" />
              </div>
              <ul v-if="plan.additives.length" class="mt-3" aria-label="Additives to weigh">
                <li
                  v-for="line in plan.additives"
                  :key="line.name"
                  class="hairline flex flex-wrap items-baseline gap-x-5 py-1.5"
                >
                  <FigureValue class="w-36" :figure="line.weigh" size="big" />
                  <span class="min-w-48 flex-1"
                    ><template v-if="line.drops"
                      ><span class="figure">{{ digits(line.drops, 0) }}</span> drops, </template
                    >{{ MOMENTS[line.moment]
                    }}<template v-if="line.oil_in_gel_g > 0.005"
                      >; <span class="figure">{{ grams(line.oil_in_gel_g) }}</span> {{ massUnit() }} of it is
                      oil, off the pours</template
                    >. <span class="quiet">{{ line.dosing.additive.note }}</span><strong
                      v-if="line.over_ceiling"
                      class="block text-stop"
                      >Above its ceiling: a trial.</strong
                    ><strong v-if="line.says" class="block text-stop">{{ line.says }}</strong></span
                  >
                </li>
              </ul>
              <p class="mt-2">
                <template v-if="plan.pigment_and_oil_only"
                  >The label may say <strong class="font-semibold">pigment and oil only</strong>.</template
                ><template v-else>The label says what else is in it.</template
                ><template v-if="plan.keeps_days">
                  <strong class="text-stop"
                    >Keeps {{ plan.keeps_days }} days, cold and closed; then it is thrown away.</strong
                  ></template
                ><template v-if="plan.oil_note">
                  The oils together:
                  <span class="figure">{{ digits(plan.oil_note.density_g_per_ml, 3) }}</span> g/ml,
                  {{ plan.oil_note.says }}; yellowing
                  <span class="figure">{{ digits(plan.oil_note.yellowing, 1) }}</span> and film
                  <span class="figure">{{ digits(plan.oil_note.film, 1) }}</span> of 5 (assumed).</template
                >{{ ' ' }}<RouterLink class="underline" to="/additives/body">Body by intent</RouterLink>
              </p>
              <p v-for="line in plan.lines.filter((l) => l.spoons)" :key="line.pigment.name" class="mt-1">
                {{ line.pigment.name }}: {{ line.spoons }},
                {{
                  line.pigment.loose_density_measured
                    ? 'a spoon of this lot was weighed'
                    : 'no spoon of this lot was weighed yet: weighing one narrows it'
                }}.
              </p>
              <ul v-if="short.length" class="mt-3 border-l-4 border-stop pl-3">
                <li v-for="supply in short" :key="supply.source">
                  <strong>Not enough:</strong> {{ supply.name }}, lot {{ supply.lot_code }} holds
                  <span class="figure">{{ grams(supply.on_hand_g ?? 0) }}</span> {{ massUnit() }};
                  <span class="figure">{{ grams(supply.needed_g) }}</span> {{ massUnit() }} may be needed.
                </li>
              </ul>
              <div class="mt-5 grid grid-cols-2 gap-x-6 gap-y-4 sm:grid-cols-3">
                <FigureValue :figure="plan.volume" up />
                <FigureValue :figure="plan.density" up />
                <FigureValue :figure="plan.leftover" up />
                <FigureValue v-if="plan.loads" :figure="plan.loads" label="Loads on this slab" up />
                <FigureValue v-if="plan.load_volume" :figure="plan.load_volume" up />
                <FigureValue v-if="plan.minutes" :figure="plan.minutes" up />
                <FigureValue :figure="plan.ratio" up />
                <FigureValue :figure="plan.oil_absorption" up />
                <FigureValue v-if="plan.stiffening" :figure="plan.stiffening" up />
                <FigureValue v-if="plan.touch_dry[1]" :figure="plan.touch_dry[1]" up />
                <FigureValue v-if="plan.film_pvc" :figure="plan.film_pvc" up />
              </div>
            </div>
            <div>
              <h2>Pour ladder</h2>
              <p class="small quiet">
                Pour the first at once. After each: mull, look, stop when it is right.
              </p>
              <PourLadder :rungs="plan.rungs.map((r, n) => ({ ...r, state: n ? 'to_come' : 'next' }))" />
            </div>
          </div>
          <div class="mt-7 grid gap-x-10 gap-y-6 xl:grid-cols-2">
            <CautionList
              id="cautions"
              :cautions="plan.cautions"
              :always="plan.caution_always"
              :deference="plan.caution_deference"
            />
            <section aria-labelledby="rules">
              <h2 id="rules">How others start, for this pigment</h2>
              <table class="mt-1 w-full text-[0.95rem]">
                <thead>
                  <tr class="small quiet text-left">
                    <th class="font-normal" scope="col">rule</th>
                    <th class="text-right font-normal" scope="col">g per 100 g</th>
                    <th class="text-right font-normal" scope="col">oil, {{ massUnit() }}</th>
                    <th class="pl-5 font-normal" scope="col">gives</th>
                  </tr>
                </thead>
                <tbody>
                  <tr v-for="rule in plan.rules" :key="rule.key" class="hairline align-baseline">
                    <th scope="row" class="py-1.5 pr-2 text-left font-normal">
                      <span class="font-semibold">{{ rule.name }}</span><span class="small quiet block">{{
                        rule.rule
                      }}</span>
                    </th>
                    <td class="figure py-1.5 pl-4 text-right">{{ digits(rule.oil_g_per_100g, 1) }}</td>
                    <td class="figure py-1.5 pl-4 text-right">{{ grams(rule.oil_g) }}</td>
                    <td class="py-1.5 pl-5 whitespace-nowrap">
                      <span :class="rule.body === plan.body ? 'font-bold' : ''">{{ rule.body }}</span>{{ ' '
                      }}<BasisMark :basis="rule.basis" />
                    </td>
                  </tr>
                </tbody>
              </table>
            </section>
          </div>
        </template>
      </div>
    </div>
  </div>
  <PlanSheet v-if="plan" :plan="plan" :name="keptName" />
</template>
