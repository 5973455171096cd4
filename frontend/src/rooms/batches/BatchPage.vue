<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toRef } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useBatch, useStory } from '@/api/queries'
import FigureValue from '@/kit/FigureValue.vue'
import { clock, day, digits } from '@/kit/format'
import { useOnce } from '@/kit/ids'
import { useKeys } from '@/kit/keys'
import Swatch from '@/kit/Swatch.vue'
import TubeRack from '@/kit/TubeRack.vue'
import WettingScale from '@/kit/WettingScale.vue'
import { usePaper } from '@/kit/paper'
import CameLate from '@/rooms/slab/CameLate.vue'
import ActLog from '@/rooms/slab/ActLog.vue'
import { useRoute, useRouter } from 'vue-router'
import ToldAfterwards from '@/rooms/slab/ToldAfterwards.vue'
import CleanUp from './CleanUp.vue'
import SessionChart from './SessionChart.vue'
import VerdictMark from './VerdictMark.vue'
import { ends, provideWho } from '@/kit/log/who'

const props = defineProps<{ number: number }>()
const paper = usePaper()
const router = useRouter()
const route = useRoute()
const queries = useQueryClient()
const { data: page, error } = useBatch(toRef(props, 'number'))
const { data: story } = useStory(toRef(props, 'number'))
const view = computed(() => page.value?.view)
provideWho(
  'slab',
  () => view.value?.number,
  () => ends(view.value?.timeline),
)
/** What of it is in tubes and jars already, to be labelled. */
const { data: filling } = useQuery({
  queryKey: ['filling', () => props.number],
  retry: false,
  enabled: () => view.value?.status === 'finished',
  queryFn: () => answered(api.GET('/api/tubes/{number}', { params: { path: { number: props.number } } })),
})
const filled = computed(() => filling.value?.items)
/** Just finished: what was made of it is labelled now, while one knows what it is. */
const made = computed(() => !!route.query.made)
const kept = computed(() => filled.value?.filter((item) => item.status !== 'used_up') ?? [])

/** Acts before those the page came with, fetched a part at a time. */
const before = ref<Schemas['LogPart']>()
const earlier = computed(() => before.value?.earlier ?? view.value?.earlier ?? 0)
const log = computed(() => [...(before.value?.entries ?? []), ...(view.value?.timeline ?? [])])
const fetching = ref(false)
async function fetchEarlier(): Promise<void> {
  const first = log.value[0]
  if (!first) return
  fetching.value = true
  try {
    const part = await answered(
      api.GET('/api/batches/{number}/log', {
        params: { path: { number: props.number }, query: { before: first.seq } },
      }),
    )
    before.value = { entries: [...part.entries, ...(before.value?.entries ?? [])], earlier: part.earlier }
  } catch {
    noteRefusal.value = 'The server does not answer; try again.'
  } finally {
    fetching.value = false
  }
}

const note = ref('')
const noteRefusal = ref('')
const noting = ref(false)
const { once, settled } = useOnce()
async function act(
  said: { kind: 'note'; text: string } | { kind: 'strike'; strikes: string },
): Promise<void> {
  noting.value = true
  noteRefusal.value = ''
  try {
    await answered(
      api.POST('/api/slab/{number}/acts', {
        params: { path: { number: props.number } },
        body: { ...said, ...once(said, new Date(view.value!.now)), waited: false },
      }),
    )
    settled()
    note.value = ''
    before.value = undefined
    await Promise.all([
      queries.invalidateQueries({ queryKey: ['batch'] }),
      queries.invalidateQueries({ queryKey: ['story'] }),
    ])
    void queries.invalidateQueries({ queryKey: ['home'] })
  } catch (problem) {
    if (problem instanceof Refused) settled()
    noteRefusal.value =
      problem instanceof Refused
        ? (problem.at('text') ?? problem.message)
        : 'The server does not answer; what you typed is kept.'
  } finally {
    noting.value = false
  }
}
const why = ref('spoiled: past its use-by')
const discardRefusal = ref('')
async function discard(): Promise<void> {
  noting.value = true
  discardRefusal.value = ''
  try {
    await answered(
      api.POST('/api/batches/{number}/discard', {
        params: { path: { number: props.number } },
        body: { why: why.value },
      }),
    )
    await queries.invalidateQueries({ queryKey: ['batch'] })
    void queries.invalidateQueries({ queryKey: ['home'] })
  } catch (problem) {
    discardRefusal.value =
      problem instanceof Refused ? problem.words : 'The server does not answer; try again.'
  } finally {
    noting.value = false
  }
}
async function takeUpAgain(): Promise<void> {
  const last = view.value?.timeline.findLast(
    (e) => (e.kind === 'finish' || e.kind === 'abandon') && !e.struck,
  )
  if (!last) return
  await act({ kind: 'strike', strikes: last.id })
  await router.push(`/slab/${props.number}`)
}
useKeys(() => [
  {
    key: 's',
    does: 'go to its slab',
    act: () => void router.push(`/slab/${props.number}`),
    when: () => view.value?.status === 'open',
  },
  {
    key: 'c',
    does: 'plan the same again',
    act: () => void router.push({ path: '/plan', query: { batch: props.number } }),
  },
])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no batch {{ number }}.</h1>
    <RouterLink class="underline" to="/batches">All batches</RouterLink>
  </section>
  <div v-else-if="page && view" class="pt-5">
    <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
      <Swatch
        :masstone="view.masstone_srgb"
        :undertone="view.undertone_srgb"
        :name="view.name"
        :width="190"
        :height="72"
      />
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ view.name }}
        <span class="quiet block text-base font-normal"
          >batch {{ number }}, {{ day(page.started_at) }}, {{ clock(page.started_at)
          }}<template v-if="page.ended_at"> to {{ clock(page.ended_at) }}</template
          >; in {{ view.oil.name.toLowerCase()
          }}<template v-if="view.oil.lot_code">, bottle {{ view.oil.lot_code }}</template></span
        >
      </h1>
      <p class="text-xl font-semibold">
        <VerdictMark v-if="view.verdict" :verdict="view.verdict" />
        <template v-else>{{ view.status === 'abandoned' ? 'given up' : 'still open' }}</template>
      </p>
    </div>
    <section v-if="made && kept.length" class="mt-3 border-2 border-ink bg-sheet p-3" aria-label="Label it">
      <h2 class="text-lg">Label it while you know what it is</h2>
      <ul class="my-1">
        <li v-for="item in kept" :key="item.id" class="py-0.5">
          <strong>{{ item.code }}</strong> {{ item.name }}, in {{ view.oil.name.toLowerCase() }}; batch
          {{ number }}, {{ day(item.filled_on)
          }}<template v-if="item.use_by">; use by {{ day(item.use_by) }}</template>
        </li>
      </ul>
      <p class="small quiet">Lines to copy by hand; or print them below.</p>
    </section>
    <div class="mt-2 flex flex-wrap items-center gap-2" role="group" aria-label="What to do with it">
      <RouterLink v-if="view.status === 'open'" class="btn btn-main" :to="`/slab/${number}`"
        >Go to the slab</RouterLink
      >
      <button v-else type="button" class="btn btn-quiet" @click="takeUpAgain">Take it up again</button>
      <RouterLink v-if="view.status === 'finished'" class="btn" :to="`/checks/${number}`"
        >Check it</RouterLink
      >
      <RouterLink v-if="view.status === 'finished'" class="btn" :to="`/tubes/${number}`"
        >Fill tubes</RouterLink
      >
      <RouterLink
        v-if="filled?.length"
        class="btn"
        :to="{ path: '/labels', query: { items: filled.map((item) => item.id).join(',') } }"
        >{{
          filled.length > 1 ? 'Labels' : filled[0]!.kind === 'jar' ? 'Label the jar' : 'Label the tube'
        }}</RouterLink
      >
      <RouterLink class="btn" :to="{ path: '/plan', query: { batch: number } }"
        >Plan the same again</RouterLink
      >
      <RouterLink class="btn btn-quiet" :to="{ path: '/cost', query: { batch: number } }">Cost</RouterLink>
      <a
        class="btn btn-quiet -ml-3"
        :href="`/api/batches/${number}/sheet.pdf?paper=${paper}`"
        target="_blank"
        rel="noopener"
        >Print a sheet</a
      >
      <a class="btn btn-quiet -ml-3" :href="`/api/batches/${number}/export.json`" download>Export as JSON</a>
      <a class="btn btn-quiet -ml-3" :href="`/api/batches/${number}/export.csv`" download>as CSV</a>
    </div>

    <div
      v-if="page.past_use_by"
      class="mt-3 flex flex-wrap items-end gap-4 border-2 border-stop bg-sheet p-4"
      role="alert"
    >
      <p class="min-w-64 flex-1 text-lg">
        <strong class="text-stop">Past its use-by, {{ day(page.keeping.use_by!) }}.</strong> What is in it
        spoils: throw it away with licensed disposal, do not open it over food.
      </p>
      <form class="flex flex-wrap items-end gap-3" @submit.prevent="discard">
        <label
          ><span class="label">Why it is thrown away</span
          ><input
            v-model="why"
            class="field w-64"
            maxlength="300"
            :aria-invalid="discardRefusal ? 'true' : undefined" /></label
        ><button class="btn btn-main" :disabled="noting">It is thrown away</button
        ><span v-if="discardRefusal" class="refusal basis-full" role="alert">{{ discardRefusal }}</span>
      </form>
    </div>
    <ToldAfterwards
      v-if="view.status === 'finished' && view.can_tell"
      class="mt-3"
      :view="view"
      @tell="router.push({ path: `/slab/${number}`, query: { tell: '1' } })"
    />
    <CleanUp
      v-if="page.ended_at"
      class="mt-3"
      :number="number"
      :steps="view.cleaning"
      :dirty="page.to_clean"
      :ended-at="page.ended_at"
      :now="view.now"
    />
    <CameLate class="mt-3" :number="number" :late="view.late ?? []" />
    <p class="mt-2">
      <template v-if="view.pigment_and_oil_only">Pigment and oil only.</template
      ><template v-else-if="!view.fully_known">Recycled; contents not fully known.</template
      ><template v-else-if="page.plan.lines.some((line) => line.pigment.recycled)"
        >Recycled: its label says of what.</template
      ><template v-else
        >Holds besides pigment and oil:
        {{
          view.additives
            .filter((a) => a.in_g > 0)
            .map((a) => `${a.name.toLowerCase()} ${digits(a.in_g, a.in_g < 5 ? 2 : 1)} g`)
            .join(', ') ||
          page.plan.oil.hazards.filter((h) => h === 'driers' || h === 'solvent').join(', ') ||
          'an extender'
        }}.</template
      >{{ ' ' }}<template v-if="page.plan.trial">A trial. </template
      ><template v-if="page.keeping.discarded_at"
        >Thrown away {{ day(page.keeping.discarded_at) }}: {{ page.keeping.discarded_why }}.</template
      ><template v-else-if="page.keeping.use_by && !page.past_use_by"
        ><strong>Use by {{ day(page.keeping.use_by) }}, cold and closed.</strong></template
      >
    </p>
    <div class="mt-5 grid gap-x-10 gap-y-7 lg:grid-cols-[1.35fr_1fr]">
      <div class="min-w-0 space-y-6">
        <WettingScale
          :scale="view.scale"
          :pointer="view.ratio?.value"
          :marks="[{ key: 'plan', name: 'plan', oil_g_per_100g: page.plan.ratio.value }]"
        />
        <section v-if="story && story.points.length > 1" aria-labelledby="session">
          <h2 id="session" class="text-lg">The session</h2>
          <SessionChart
            :story="story"
            :zones="view.scale.zones"
            :target="view.target_reduced_pvc"
            :colour="view.masstone_srgb"
          />
        </section>
        <section aria-labelledby="against">
          <h2 id="against" class="text-lg">What happened, against the plan</h2>
          <p v-if="!page.differences.length" class="quiet">Nothing is on the slab yet.</p>
          <div v-else role="group" aria-label="Plan and what happened">
            <table class="mt-1 w-full">
              <thead>
                <tr class="small quiet text-left">
                  <th class="font-normal" scope="col"><span class="sr-only">figure</span></th>
                  <th class="text-right font-normal" scope="col">planned</th>
                  <th class="pl-5 text-right font-normal" scope="col">happened</th>
                  <th class="pl-2 font-normal" scope="col">unit</th>
                  <th class="pl-4 font-normal max-sm:hidden" scope="col">why</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="row in page.differences" :key="row.label" class="hairline align-baseline">
                  <th scope="row" class="py-1.5 pr-2 text-left font-semibold">
                    {{ row.label
                    }}<span class="small quiet block font-normal sm:hidden">{{
                      row.reason || 'as planned'
                    }}</span>
                  </th>
                  <td class="figure py-1.5 text-right">{{ digits(row.planned, row.digits) }}</td>
                  <td class="figure py-1.5 pl-5 text-right font-semibold">
                    {{ digits(row.happened, row.digits) }}
                  </td>
                  <td class="quiet small py-1.5 pl-2 whitespace-nowrap">
                    {{ row.unit === 'g oil per 100 g' ? 'g per 100 g' : row.unit }}
                  </td>
                  <td class="small py-1.5 pl-4 max-sm:hidden">{{ row.reason || 'as planned' }}</td>
                </tr>
              </tbody>
            </table>
          </div>
        </section>
        <div class="flex flex-wrap items-start gap-x-10 gap-y-4">
          <FigureValue v-if="view.ratio" :figure="view.ratio" size="big" up />
          <FigureValue v-if="view.reduced_pvc" :figure="view.reduced_pvc" size="big" up />
          <FigureValue v-if="view.volume" :figure="view.volume" size="big" up />
          <div v-if="page.filled.length || page.leftover_ml">
            <span class="small quiet block">Filled</span>
            <TubeRack :tubes="page.filled" :colour="view.masstone_srgb" :leftover-ml="page.leftover_ml" />
          </div>
        </div>
      </div>
      <section aria-labelledby="timeline">
        <h2 id="timeline" class="text-lg">Timeline</h2>
        <button
          v-if="earlier"
          type="button"
          class="btn btn-quiet -ml-2"
          :disabled="fetching"
          @click="fetchEarlier"
        >
          {{ earlier }} earlier {{ earlier === 1 ? 'act' : 'acts' }}
        </button>
        <ActLog
          :entries="log"
          :number="number"
          oldest-first
          :readonly="view.status !== 'open'"
          @strike="(id) => act({ kind: 'strike', strikes: id })"
        />
        <form class="hairline mt-2 pt-3" @submit.prevent="act({ kind: 'note', text: note })">
          <label
            ><span class="label">Add a note</span
            ><textarea
              v-model="note"
              class="field py-2"
              rows="2"
              maxlength="2000"
              :aria-invalid="noteRefusal ? 'true' : undefined"
            />
          </label>
          <span v-if="noteRefusal" class="refusal" role="alert">{{ noteRefusal }}</span>
          <button class="btn mt-2" :disabled="noting">Add the note</button>
        </form>
      </section>
    </div>
  </div>
</template>
