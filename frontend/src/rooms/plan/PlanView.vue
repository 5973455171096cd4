<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import { useHome, useWorkshop } from '@/api/queries'
import { useKeys } from '@/kit/keys'
import { newId } from '@/kit/ids'
import { librarySource, lotSource } from '@/kit/source'
import Swatch from '@/kit/Swatch.vue'
import WettingScale from '@/kit/WettingScale.vue'
import { useUnits } from '@/kit/units'
import { asked, draftOf, emptyLine, useComputed, usePlanDraft } from './draft'
import BodyFirst from './BodyFirst.vue'
import PlanOutcome from './PlanOutcome.vue'
import PlanSheet from './PlanSheet.vue'
import PlanWish from './PlanWish.vue'
import SurfaceLine from '@/rooms/slab/SurfaceLine.vue'

const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const draft = usePlanDraft()
const { teaspoon } = useUnits()
const { data: workshop } = useWorkshop()

const wish = computed(() => asked(draft.value))
const { answer, refusal, offline, ask } = useComputed(wish)
const plan = computed(() => (wish.value ? answer.value?.plan : undefined))

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
    draft.value.lines = [emptyLine('', teaspoon.value)]
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
    if (
      !before ||
      now === before ||
      usual == null ||
      draft.value.recipe ||
      draft.value.wished ||
      draft.value.reduced === usual
    )
      return
    draft.value.reduced = usual
    targetBack.value = true
  },
)

const keptName = ref('')
/** The kept plan it was opened from: what the day waits for is then known to be begun. */
const keptId = ref<number>()
watch(
  () => [route.query.kept, route.query.batch, route.query.lot, route.query.pigment],
  async ([kept, batch, lot, pigment]) => {
    if (kept) {
      const found = await answered(
        api.GET('/api/plan/saved/{plan_id}', { params: { path: { plan_id: Number(kept) } } }),
      )
      draft.value = draftOf(found.asked)
      keptName.value = found.name
      keptId.value = found.id
    } else if (batch) {
      const found = await answered(
        api.GET('/api/batches/{number}', { params: { path: { number: Number(batch) } } }),
      )
      draft.value = { ...draftOf(found.asked), same_as: Number(batch) }
    } else if (lot || pigment) {
      // From a rub-out or a pigment's page: that powder, and everything else as it was.
      const source = lot ? lotSource(Number(lot)) : librarySource(String(pigment))
      draft.value = {
        ...draft.value,
        lines: [emptyLine(source, teaspoon.value)],
        recipe: null,
      }
    }
    settle()
  },
  { immediate: true },
)

/** What lies on the slab it is planned for. */
const { data: home } = useHome()
const surface = computed(() =>
  home.value?.slabs.find((slab) => slab.slab_id === draft.value.slab_id && slab.surface !== 'clean'),
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
      api.POST('/api/plan/take-to-slab', {
        body: { request_id: request.value, plan: { ...wish.value, kept_id: keptId.value } },
      }),
    )
    void queries.invalidateQueries({ queryKey: ['home'] })
    void queries.invalidateQueries({ queryKey: ['day'] })
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
    keptId.value = kept.id
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
const nudge = (by: number) =>
  (draft.value.reduced = Number(Math.min(1.15, Math.max(0.5, draft.value.reduced + by)).toFixed(2)))

useKeys(() => [
  { key: '[', does: 'a stiffer target, by 0.01', act: () => nudge(0.01) },
  { key: ']', does: 'a softer target, by 0.01', act: () => nudge(-0.01) },
  {
    key: 'b',
    does: 'add a pigment to the blend',
    act: () => void draft.value.lines.push(emptyLine('', teaspoon.value)),
  },
  { key: 'k', does: 'keep this plan under a name', act: openKeep, when: () => !!plan.value },
  { key: 'r', does: 'print this plan', act: print, when: () => !!plan.value },
  { key: 't', does: 'take it to the slab', act: () => void takeToSlab(), when: () => !!plan.value },
])
</script>

<template>
  <div class="no-print max-sm:pb-24">
    <div class="flex min-h-[5.2rem] flex-wrap items-center gap-x-4 gap-y-2 pt-4 pb-3">
      <Swatch v-if="plan" :masstone="plan.masstone_srgb" :undertone="plan.undertone_srgb" :name="plan.name" />
      <span v-else class="h-14 w-[150px] border border-dashed border-rule" aria-hidden="true" />
      <h1 class="min-w-[55%] flex-1 sm:min-w-0">
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
        :class="
          plan
            ? 'max-sm:fixed max-sm:inset-x-2 max-sm:bottom-2 max-sm:z-30 max-sm:min-h-[72px] max-sm:text-xl'
            : ''
        "
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

    <BodyFirst
      v-model:purpose="draft.purpose"
      :reduced="draft.reduced"
      class="mb-5"
      :colour="plan?.masstone_srgb ?? '#777777'"
      :body="plan?.body"
      @update:reduced="
        (reduced) => ((draft.reduced = reduced), (draft.wished = true), (draft.same_as = null))
      "
    />
    <SurfaceLine v-if="surface && home" class="mb-4" :slab="surface" :now="home.now" />
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
            :model-value="draft.same_as ? plan.scale.target_reduced_pvc : draft.reduced"
            movable
            :scale="plan.scale"
            :marks="plan.rules.filter((r) => r.key !== 'rub_out')"
            @update:model-value="
              (reduced) => ((draft.reduced = reduced!), (draft.wished = false), (draft.same_as = null))
            "
          />
          <p v-if="targetBack" class="mt-2" role="status">
            Another powder: the target is back at {{ draft.reduced.toFixed(2) }}, as the studio has it.
          </p>
          <PlanOutcome class="mt-4" :plan="plan" :supplies="answer?.supplies ?? []" @narrowed="ask" />
        </template>
      </div>
    </div>
  </div>
  <PlanSheet v-if="plan" :plan="plan" :name="keptName" />
</template>
