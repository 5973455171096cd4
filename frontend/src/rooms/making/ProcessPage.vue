<script setup lang="ts">
/** A process: what goes in and in what steps, its versions, and a run planned forward or back. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import { day } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import { KINDS, within } from './room'
import RunOnPaper from './RunOnPaper.vue'
import YieldChart from './YieldChart.vue'
import HandOver from '@/rooms/swap/HandOver.vue'

const props = defineProps<{ number: number }>()
const route = useRoute()
const router = useRouter()
const version = computed(() => (route.query.version ? Number(route.query.version) : undefined))
const path = { process_id: props.number }
const { data: page, error } = useQuery({
  queryKey: ['process', props.number, version],
  queryFn: () =>
    answered(
      api.GET('/api/making/processes/{process_id}', {
        params: { path, query: version.value ? { version: version.value } : {} },
      }),
    ),
})
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const way = ref<'written' | 'hand' | 'wanted'>('written')
const wanted = ref<number | null>(null)
const hand = reactive<Record<number, number | null>>({})
/** The lots it is weighed from, by place: the first offered that nobody suspects, until another is chosen. */
const chosen = reactive<Record<number, number | 0>>({})
const lots = computed(() => {
  const found: Record<number, number> = {}
  page.value?.offered.forEach((offers, n) => {
    const lot = chosen[n] ?? offers.find((one) => !one.suspect && one.left_g > 0)?.lot_id ?? 0
    if (lot) found[n] = lot
  })
  return found
})
const doubted = computed(() =>
  (page.value?.offered ?? []).flatMap((offers, n) =>
    offers.filter((one) => one.suspect && lots.value[n] === one.lot_id),
  ),
)
const change = computed(() => page.value?.yields.change)
const changing = ref(true)
const going = computed(() => page.value?.yields.runs.filter((one) => one.status === 'open') ?? [])
const queries = useQueryClient()
const { busy, trouble, refusal: begunRefusal, tried, once } = useTried()
const begin = () =>
  tried(async () => {
    const taken = changing.value ? change.value : undefined
    const body = {
      ...asked.value,
      changed: taken ? `${taken.what}: ${taken.to}` : '',
      change_washes: taken?.washes ?? null,
      change_hold_min: taken?.hold_min ?? null,
    }
    const begun = await answered(
      api.POST('/api/making/processes/{process_id}/runs', {
        params: { path },
        body: { ...body, request_id: once(body).id },
      }),
    )
    for (const queryKey of [['making'], ['process'], ['home']]) void queries.invalidateQueries({ queryKey })
    await router.push(`/making/runs/${begun.number}`)
  })
const asked = computed(() => ({
  lots: lots.value,
  version: page.value?.version ?? null,
  wanted_g: way.value === 'wanted' ? wanted.value : null,
  on_hand:
    way.value === 'hand'
      ? Object.fromEntries(Object.entries(hand).filter((pair): pair is [string, number] => pair[1] != null))
      : {},
}))
const settled = refDebounced(asked, 150)
const some = computed(
  () =>
    way.value === 'written' ||
    (way.value === 'wanted' ? wanted.value != null : Object.keys(asked.value.on_hand).length > 0),
)
const { data: run, error: refused } = useQuery({
  queryKey: ['process-run', props.number, settled],
  queryFn: () =>
    answered(api.POST('/api/making/processes/{process_id}/plan', { params: { path }, body: settled.value })),
  enabled: computed(() => !!page.value && some.value),
  placeholderData: keepPreviousData,
})
const said = (field: string) => (refused.value instanceof Refused ? refused.value.at(field) : undefined)
const shown = computed(() =>
  some.value ? (run.value ?? page.value?.previewed.run) : page.value?.previewed.run,
)
const WAYS = [
  ['written', 'As written'],
  ['hand', 'From what I have'],
  ['wanted', 'Back from what I want'],
] as const
useKeys(() => [
  { key: 'v', does: 'write a new version', act: () => void router.push(`/making/${props.number}/change`) },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no process {{ number }}{{ version ? `, version ${version}` : '' }}.</h1>
    <RouterLink class="underline" to="/making">All of the making</RouterLink>
  </section>
  <p v-else-if="error && !page" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="page" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-3">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        {{ page.name
        }}<span class="quiet block text-base font-normal"
          >version {{ page.version }}<template v-if="page.note">; {{ page.note }}</template></span
        >
      </h1>
      <HandOver :id="number" kind="process" />
      <RouterLink class="btn btn-slab px-6" :to="`/making/${number}/change`">New version</RouterLink>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1.3fr_1fr]">
      <section class="self-start border-2 border-ink bg-sheet p-4" aria-labelledby="run">
        <h2 id="run" class="mb-2 text-xl">A run on paper</h2>
        <div class="mb-3 flex flex-wrap" role="group" aria-label="Worked out">
          <button
            v-for="[key, name] in WAYS"
            :key="key"
            type="button"
            class="btn -ml-[1.5px] rounded-none first:ml-0"
            :class="way === key ? 'bg-ink! text-white' : ''"
            :aria-pressed="way === key"
            @click="way = key"
          >
            {{ name }}
          </button>
        </div>
        <div v-if="way === 'hand'" class="mb-3 flex flex-wrap gap-3">
          <NumberField
            v-for="(one, n) in page.said.ingredients"
            :key="n"
            :model-value="hand[n] ?? null"
            class="w-44"
            :label="`I have ${one.name}`"
            unit="g"
            :refusal="said(`on_hand.${n}`)"
            @update:model-value="hand[n] = $event"
          />
        </div>
        <NumberField
          v-else-if="way === 'wanted'"
          v-model="wanted"
          class="mb-3 w-56"
          large
          label="Pigment wanted"
          unit="g"
          :refusal="said('wanted_g')"
        />
        <div v-if="page.offered.some((one) => one.length)" class="mb-3 flex flex-wrap gap-3">
          <template v-for="(offers, n) in page.offered" :key="n">
            <label v-if="offers.length" class="min-w-52 flex-1"
              ><span class="label">{{ page.said.ingredients[n]!.name }} from</span
              ><select
                class="field"
                :value="lots[n] ?? 0"
                @change="chosen[n] = Number(($event.target as HTMLSelectElement).value)"
              >
                <option :value="0">no lot of the stock</option>
                <option v-for="one in offers" :key="one.lot_id" :value="one.lot_id">
                  {{ one.code }}, {{ one.name }}, {{ Math.round(one.left_g) }} g{{
                    one.suspect ? ' - UNDER SUSPICION' : ''
                  }}
                </option></select
              ><span v-if="said(`lots.${n}`)" class="refusal" role="alert">{{
                said(`lots.${n}`)
              }}</span></label
            >
          </template>
        </div>
        <p v-for="one in doubted" :key="one.lot_id" class="mb-3 border-l-4 border-stop pl-3 text-stop">
          Lot {{ one.code }} is under suspicion: {{ one.suspect }}
        </p>
        <RunOnPaper v-if="shown" :run="shown" />
        <div class="mt-4 border-t-2 border-ink pt-3">
          <template v-if="change">
            <label class="flex items-start gap-3"
              ><input v-model="changing" type="checkbox" class="mt-1 h-7 w-7 shrink-0 accent-act" /><span
                class="leading-snug"
                >Change one thing: <strong>{{ change.what }}</strong>, {{ change.now }} →
                <strong>{{ change.to }}</strong><span class="quiet small block"
                  >{{ change.why }}; all else as before</span
                ></span
              ></label
            >
            <p v-for="one in going.filter((r) => r.changed)" :key="one.number" class="small mt-1">
              Run {{ one.number }} tries: {{ one.changed }}.
            </p>
          </template>
          <button
            type="button"
            class="btn btn-main btn-slab mt-3 px-8"
            :disabled="busy || !some || !!refused"
            @click="begin"
          >
            Begin this run
          </button>
          <span v-if="begunRefusal" class="refusal" role="alert">{{ begunRefusal.words }}</span>
          <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        </div>
        <p v-if="refused && !(refused instanceof Refused)" class="refusal" role="alert">
          The server does not answer; what you typed is kept.
        </p>
      </section>
      <div class="space-y-6">
        <YieldChart :yields="page.yields" />
        <section aria-labelledby="steps">
          <h2 id="steps" class="mb-1 text-lg">Steps</h2>
          <p v-if="!page.said.steps?.length" class="quiet">None written down.</p>
          <ol>
            <li v-for="(step, n) in page.said.steps" :key="n" class="hairline flex gap-3 py-1.5">
              <span class="figure quiet w-6 shrink-0 text-right">{{ n + 1 }}</span>
              <span class="min-w-0 flex-1 leading-snug"
                ><strong class="font-semibold">{{ step.says }}</strong
                ><template v-if="within(step)">, {{ within(step) }}</template
                ><span v-if="step.how" class="block">{{ step.how }}</span
                ><span class="quiet small block"
                  ><template v-if="page.previewed.measured[n]"
                    >measured: {{ page.previewed.measured[n] }}</template
                  ><template v-if="page.previewed.measured[n] && page.previewed.good[n]">; </template
                  ><template v-if="page.previewed.good[n]">good: {{ page.previewed.good[n] }}</template></span
                ></span
              >
              <span class="quiet small">{{ KINDS[step.kind] }}</span>
            </li>
          </ol>
        </section>
        <section v-if="page.versions.length > 1" aria-labelledby="versions">
          <h2 id="versions" class="mb-1 text-lg">Versions</h2>
          <ul>
            <li v-for="one in page.versions" :key="one.version" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center gap-3"
                :to="{ query: { version: one.version } }"
                :aria-current="one.version === page.version ? 'true' : undefined"
                ><span :class="one.version === page.version ? 'font-bold' : 'underline'"
                  >version {{ one.version }}</span
                ><span class="min-w-0 flex-1">{{ one.why }}</span
                ><span class="quiet small">{{ day(one.made_at) }}</span></RouterLink
              >
            </li>
          </ul>
        </section>
        <CautionList
          :cautions="page.previewed.cautions"
          :always="page.previewed.always"
          :deference="page.previewed.deference"
        />
      </div>
    </div>
  </div>
</template>
