<script setup lang="ts">
/** A filling run: which tubes, their target weights, each ticked with its gross weight; what is left. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import Swatch from '@/kit/Swatch.vue'
import { useTried } from '@/kit/tried'
import ReleaseMark from '@/rooms/checks/ReleaseMark.vue'
import FilledItems from './FilledItems.vue'
import FillingSteps from './FillingSteps.vue'
import TubeDrawing from './TubeDrawing.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const key = computed(() => ['filling', props.number])
const { data: run, error } = useQuery({
  queryKey: key,
  retry: false,
  queryFn: () => answered(api.GET('/api/tubes/{number}', { params: { path: { number: props.number } } })),
})
const trouble = computed(() =>
  error.value instanceof Refused
    ? error.value.words
    : error.value
      ? 'The server does not answer; try again.'
      : '',
)

/** What is left does not fill a tube of this kind: said before it is filled. */
const tooLittle = computed(() => kind.value && run.value && run.value.left_ml < kind.value.usable_ml * 0.9)
const place = useLocalStorage('niddy-shelf-place', 'Drawer 1')
const chosen = ref<number | 'jar'>()
const jar = ref('')
const cover = ref<'' | 'oil' | 'film'>('')
const gross = ref<number | null>(null)
const tare = ref<number | null>(null)
const volume = ref<number | null>(null)
const part = ref(false)
const topUp = ref<number>()
const reason = ref('')
const kind = computed(() => run.value?.kinds.find((k) => k.tube_type_id === chosen.value))
/** Part-filled tubes of this recipe and of the kind chosen. */
const waiting = computed(() => (run.value?.waiting ?? []).filter((w) => w.container === kind.value?.name))
watch(
  run,
  (now) => {
    if (!now || chosen.value) return
    chosen.value = now.kinds.find((k) => k.suggested)?.tube_type_id ?? now.kinds[0]?.tube_type_id ?? 'jar'
    jar.value = now.jars[0] ?? 'jar'
  },
  { immediate: true },
)
watch(chosen, () => {
  gross.value = volume.value = null
  tare.value = kind.value?.tare_g ?? null
  part.value = false
  topUp.value = undefined
  refusal.value = undefined
  // What is left goes into a jar, unless somebody knows better.
  if (chosen.value === 'jar' && run.value?.left_ml) volume.value = Number(run.value.left_ml.toFixed(1))
})

const {
  refusal,
  trouble: down,
  busy,
  said,
  tried,
  once,
} = useTried('nothing was recorded, what you typed is kept')
const afterFill = ref<{ says: string; fill: string }>()
const field = ref<InstanceType<typeof NumberField> | null>(null)
const fill = () =>
  tried(async () => {
    const filled: Omit<Schemas['FillAsked'], 'id'> = {
      tube_type_id: chosen.value === 'jar' ? null : (chosen.value ?? null),
      jar: chosen.value === 'jar' ? jar.value : null,
      gross_g: gross.value,
      tare_g: tare.value,
      volume_ml: gross.value == null ? volume.value : null,
      part: part.value,
      cover: chosen.value === 'jar' ? cover.value : '',
      place: place.value,
      reason: reason.value,
      top_up_id: topUp.value ?? null,
    }
    const left = run.value?.left_ml
    const body = { ...filled, id: once({ filled, left }).id }
    const done = await answered(
      api.POST('/api/tubes/{number}/fill', { params: { path: { number: props.number } }, body }),
    )
    queries.setQueryData(key.value, done.filling)
    afterFill.value = done.weighed ?? { says: 'Put on the shelf.', fill: 'full' }
    gross.value = volume.value = null
    part.value = false
    topUp.value = undefined
    const next = done.filling.kinds.find((k) => k.suggested)
    if (next && !kind.value?.suggested) chosen.value = next.tube_type_id
    field.value?.focus()
    void queries.invalidateQueries({ queryKey: ['home'] })
    void queries.invalidateQueries({ queryKey: ['tubes'] })
    void queries.invalidateQueries({ queryKey: ['shelf'] })
  })
useKeys(() => [
  { key: 'g', does: 'to the gross weight', act: () => field.value?.focus() },
  ...(run.value?.kinds ?? [])
    .slice(0, 8)
    .map((k, n) => ({ key: String(n + 1), does: `a ${k.name}`, act: () => (chosen.value = k.tube_type_id) })),
  { key: '0', does: 'a jar', act: () => (chosen.value = 'jar') },
  {
    key: 'p',
    does: 'part-filled, or not',
    act: () => (part.value = !part.value),
    when: () => chosen.value !== 'jar',
  },
  {
    key: 'b',
    does: "take the balance's reading and record",
    act: take,
    when: () => steady.value != null && !busy.value,
  },
])
/** The balance, where one is set up: its steady reading is the gross weight. */
const { data: workshop } = useWorkshop()
const weight = ref<Schemas['BalanceReading']>()
let stream: EventSource | undefined
watch(
  () => workshop.value?.settings.balance_port,
  (port) => {
    stream?.close()
    stream = undefined
    weight.value = undefined
    if (!port) return
    stream = new EventSource('/api/balance/live')
    stream.addEventListener(
      'weight',
      (event) =>
        (weight.value = JSON.parse((event as MessageEvent<string>).data) as Schemas['BalanceReading']),
    )
    stream.addEventListener('error', () => (weight.value = undefined))
  },
  { immediate: true },
)
onBeforeUnmount(() => stream?.close())
const steady = computed(() =>
  weight.value?.state === 'steady' && weight.value.weight_g != null && weight.value.weight_g > 0
    ? weight.value.weight_g
    : undefined,
)
function take(): void {
  if (steady.value == null) return
  gross.value = Number(steady.value.toFixed(2))
  void fill()
}
/** The tube on the table, by what is typed or by the balance as it stands, while it is being filled. */
const onTable = computed(() => {
  if (!run.value || !kind.value) return undefined
  const known = {
    usable_ml: kind.value.usable_ml,
    density_g_per_ml: run.value.density_g_per_ml,
    air: run.value.air,
  }
  const heavy = gross.value ?? weight.value?.weight_g
  if (volume.value != null && gross.value == null) return { ...known, volume_ml: volume.value }
  return heavy != null && heavy > 0 && tare.value != null
    ? { ...known, gross_g: heavy, tare_g: tare.value }
    : undefined
})
const asked = refDebounced(onTable, 150)
const { data: judged, error: odd } = useQuery({
  queryKey: ['fill', asked],
  enabled: () => !!asked.value,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/calc/fill', { body: asked.value! })),
})
const seen = computed(() => (asked.value && onTable.value && !odd.value ? judged.value : undefined))
const oddAt = (field: string) =>
  said(field) ?? (odd.value instanceof Refused && gross.value != null ? odd.value.at(field) : undefined)
const now = computed(() => seen.value ?? afterFill.value)
</script>

<template>
  <p v-if="trouble" class="py-10 text-lg">
    <span class="refusal" role="alert">{{ trouble }}</span>{{ ' '
    }}<RouterLink class="underline" to="/tubes">Tubes</RouterLink>
  </p>
  <div v-else-if="run" class="pt-4">
    <div class="mb-3 flex flex-wrap items-center gap-4">
      <Swatch :masstone="run.masstone_srgb" :undertone="run.undertone_srgb" :name="run.name" />
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Fill {{ run.name.toLowerCase()
        }}<span class="quiet block text-base font-normal"
          >batch {{ number }}, <span class="figure">{{ digits(run.density_g_per_ml, 2) }}</span> g/ml, from
          what is in it; <ReleaseMark v-if="run.release" :release="run.release as 'release'" /><template
            v-else
            >not released yet</template
          ></span
        >
      </h1>
      <p class="text-right">
        <span class="figure text-4xl font-semibold">{{ digits(run.left_ml, 1) }}</span> ml left<span
          class="small quiet block"
          >of {{ digits(run.to_fill_ml, 1) }} ml</span
        >
      </p>
      <RouterLink
        v-if="run.items.length"
        class="btn"
        :to="{ path: '/labels', query: { items: run.items.map((i) => i.id).join(',') } }"
        >Labels</RouterLink
      >
      <RouterLink class="btn btn-quiet" :to="{ path: '/cost', query: { batch: number } }">Cost</RouterLink>
    </div>
    <div class="grid gap-x-10 gap-y-6 lg:grid-cols-[1fr_23rem]">
      <div class="min-w-0">
        <div class="flex flex-wrap gap-2" role="group" aria-label="What is filled">
          <button
            v-for="k in run.kinds"
            :key="k.tube_type_id"
            type="button"
            class="btn btn-slab flex-col gap-0 px-4"
            :class="chosen === k.tube_type_id ? 'bg-ink! text-white' : ''"
            :aria-pressed="chosen === k.tube_type_id"
            @click="chosen = k.tube_type_id"
          >
            <span
              >{{ k.name }}<strong v-if="k.suggested">, fill {{ k.suggested }}</strong></span
            ><span class="small font-normal">{{
              k.empties == null ? 'not kept in stock' : `${k.empties} empty`
            }}</span>
          </button>
          <button
            type="button"
            class="btn btn-slab px-4"
            :class="chosen === 'jar' ? 'bg-ink! text-white' : ''"
            :aria-pressed="chosen === 'jar'"
            @click="chosen = 'jar'"
          >
            a jar
          </button>
        </div>
        <form class="mt-3 border-2 border-ink bg-sheet p-4" @submit.prevent="fill">
          <div class="flex flex-wrap gap-6">
            <TubeDrawing
              v-if="chosen !== 'jar'"
              :colour="run.masstone_srgb"
              :full="seen?.of_target ?? 0"
              :over="seen?.fill === 'over'"
              :height="180"
            />
            <div class="min-w-72 flex-1">
              <p v-if="tooLittle" class="mb-2 border-l-4 border-stop pl-3" role="status">
                <strong>Not enough paint for this tube:</strong>{{ ' ' }}
                <span class="figure">{{ digits(run.left_ml, 1) }}</span> ml are left, it takes
                <span class="figure">{{ digits(kind!.usable_ml, 1) }}</span>. Take a smaller one or a jar, or
                fill it in part.
              </p>
              <p v-if="kind" class="mb-2 text-lg">
                Fill to
                <template v-if="kind.target_gross_g"
                  ><span class="figure text-4xl font-semibold">{{ digits(kind.target_gross_g, 1) }}</span> g
                  with the tube</template
                ><template v-else
                  ><span class="figure text-4xl font-semibold">{{ digits(kind.target_fill_g, 1) }}</span> g of
                  paint</template
                >{{ ' '
                }}<span class="small quiet block"
                  >{{ digits(kind.usable_ml, 1) }} ml x {{ digits(run.density_g_per_ml, 2) }} g/ml,
                  {{ digits(100 * run.air, 0) }} % air (assumed)<template v-if="kind.headspace_mm"
                    >; {{ kind.headspace_mm }} mm left empty</template
                  ><template v-if="kind.folds">, folded {{ kind.folds }} times</template></span
                >
              </p>
              <p
                v-if="weight"
                class="mb-2 flex flex-wrap items-center gap-3"
                role="status"
                aria-label="Balance"
              >
                <span
                  ><span class="figure text-3xl font-semibold">{{
                    weight.weight_g != null ? digits(weight.weight_g, 2) : '- - -'
                  }}</span>
                  g <span class="quiet small">balance, {{ weight.state.replace('_', ' ') }}</span></span
                ><button type="button" class="btn btn-main" :disabled="steady == null || busy" @click="take">
                  Take it and record
                </button>
              </p>
              <div class="flex flex-wrap items-end gap-3">
                <label v-if="chosen === 'jar'" class="w-44"
                  ><span class="label">Which jar</span
                  ><input
                    v-model="jar"
                    class="field"
                    maxlength="80"
                    list="jars"
                    :aria-invalid="said('jar') ? 'true' : undefined"
                  /><datalist id="jars"><option v-for="j in run.jars" :key="j" :value="j" /></datalist
                  ><span v-if="said('jar')" class="refusal" role="alert">{{ said('jar') }}</span></label
                >
                <label v-if="chosen === 'jar'" class="w-36"
                  ><span class="label">Covered with</span
                  ><select v-model="cover" class="field">
                    <option value="">nothing</option>
                    <option value="oil">oil</option>
                    <option value="film">film</option>
                  </select></label
                >
                <NumberField
                  ref="field"
                  v-model="gross"
                  class="w-40"
                  large
                  label="Gross weight"
                  unit="g"
                  :refusal="oddAt('gross_g')"
                  @enter="fill"
                />
                <NumberField v-model="tare" class="w-28" label="Empty" unit="g" :refusal="oddAt('tare_g')" />
                <NumberField
                  v-model="volume"
                  class="w-32"
                  label="or how much"
                  unit="ml"
                  :refusal="oddAt('volume_ml')"
                  @enter="fill"
                />
                <label class="w-40"
                  ><span class="label">Place on the shelf</span
                  ><input v-model="place" class="field" maxlength="80"
                /></label>
              </div>
              <label v-if="chosen !== 'jar' && !run?.spoils" class="mt-2 flex min-h-12 items-center gap-3"
                ><input v-model="part" type="checkbox" class="h-6 w-6 accent-act" />Part-filled: it waits for
                the next batch of this recipe</label
              >
              <label v-if="waiting.length" class="mt-1 block max-w-md"
                ><span class="label">or top up one that waits</span
                ><select v-model="topUp" class="field">
                  <option :value="undefined">no</option>
                  <option v-for="w in waiting" :key="w.id" :value="w.id">
                    {{ w.code }}, {{ digits(w.volume_ml, 0) }} of {{ digits(w.usable_ml ?? 0, 0) }} ml
                  </option>
                </select></label
              >
              <label v-if="run.needs_reason" class="mt-2 block max-w-xl"
                ><span class="label">Not released yet. Why tube it now?</span
                ><input
                  v-model="reason"
                  class="field"
                  maxlength="300"
                  :aria-invalid="said('reason') ? 'true' : undefined"
                /><span v-if="said('reason')" class="refusal" role="alert">{{ said('reason') }}</span></label
              >
              <div class="mt-3 flex flex-wrap items-center gap-4">
                <button class="btn btn-main btn-slab px-8" :disabled="busy">Filled</button>
                <p
                  v-if="now"
                  role="status"
                  class="max-w-md text-lg font-semibold"
                  :class="now.fill === 'over' || now.fill === 'airy' ? 'text-stop' : ''"
                >
                  {{ now.says }}
                </p>
              </div>
              <span
                v-if="refusal && !['gross_g', 'tare_g', 'volume_ml', 'reason', 'jar'].some((f) => said(f))"
                class="refusal"
                role="alert"
                >{{ refusal.words }}</span><span v-if="down" class="refusal" role="alert">{{ down }}</span>
            </div>
          </div>
        </form>
        <h2 class="mt-5 text-lg">Filled of this batch</h2>
        <p v-if="!run.items.length" class="quiet">
          Nothing yet.
          {{
            run.leftover_ml > 0.5
              ? `With full tubes ${digits(run.leftover_ml, 1)} ml are left for a jar or the next batch.`
              : ''
          }}
        </p>
        <FilledItems :items="run.items" />
      </div>
      <FillingSteps :ways="run.ways" :jar="chosen === 'jar'" :beware="run.beware" />
    </div>
  </div>
</template>
