<script setup lang="ts">
/** A paint in numbers: its masstone and tint, what they come to, and what is still to be read. */
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toRef, watch } from 'vue'
import { answered, api, Refused, type Schemas } from '@/api/client'
import ColourReading, { type Colour } from '@/kit/ColourReading.vue'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { useTried } from '@/kit/tried'
import PaintChip from './PaintChip.vue'
import PaintCurves from './PaintCurves.vue'
import { dE, BY, HIDES, HOW, PARTS_BY, strength, usePaint, wants } from './room'
import SureBars from './SureBars.vue'
import { TINTS } from './tints'
import Term from '@/kit/Term.vue'

const props = defineProps<{ number: number }>()
const queries = useQueryClient()
const { data: page, error } = usePaint(toRef(props, 'number'))
const line = computed(() => page.value?.line)
const gone = computed(() => error.value instanceof Refused && error.value.problem.status === 404)
const reading = ref<'masstone' | 'tint'>()
const colour = ref<Colour>({})
const parts = ref<number | null>(10)
/** Weight or volume: as this studio measures, until the maker says otherwise. */
const chosenBy = ref<Schemas['PartsBy']>()
const by = computed(() => chosenBy.value ?? page.value?.by ?? 'weight')
const note = ref('')
const { refusal, trouble, busy, said, tried, once } = useTried()
/** The server's clock less ours. */
let ahead = 0
watch(page, (seen) => seen && (ahead = Date.parse(seen.now) - Date.now()), { immediate: true })
const path = computed(() => ({ paint_id: props.number }))
function show(after: Schemas['PaintPage']): void {
  queries.setQueryData(['mixing', 'paint', props.number], after)
  void queries.invalidateQueries({ queryKey: ['mixing'] })
}
const reader = async () =>
  (
    await answered(
      api.POST('/api/mixing/paints/{paint_id}/stand-in-reading', {
        params: { path: path.value, query: { kind: reading.value ?? 'masstone' } },
      }),
    )
  ).spectrum
async function keep(): Promise<void> {
  const kind = reading.value
  if (!kind) return
  const done = await tried(async () => {
    const body = {
      ...colour.value,
      kind,
      note: note.value,
      by: by.value,
      ...(kind === 'tint' ? { white_parts: parts.value } : {}),
    }
    show(
      await answered(
        api.POST('/api/mixing/paints/{paint_id}/readings', {
          params: { path: path.value },
          body: { ...body, ...once(body, new Date(Date.now() + ahead)) },
        }),
      ),
    )
  })
  if (!done) return
  note.value = ''
  colour.value = {}
  // What is still missing comes next by itself.
  reading.value =
    kind === 'masstone' && line.value?.missing.includes('tint') && !line.value.white ? 'tint' : undefined
}
const aside = ref<{ id: string; reason: string }>()
const setAside = (id: string, reason: string | null) =>
  tried(async () => {
    show(
      await answered(
        api.PUT('/api/mixing/paints/{paint_id}/readings/{reading_id}', {
          params: { path: { ...path.value, reading_id: id } },
          body: { reason },
        }),
      ),
    )
    aside.value = undefined
  })
const own = ref<Schemas['PaintChange']>()
const change = (body: Schemas['PaintChange']) =>
  tried(async () => {
    show(await answered(api.PUT('/api/mixing/paints/{paint_id}', { params: { path: path.value }, body })))
    own.value = undefined
  })
function open(kind: 'masstone' | 'tint'): void {
  refusal.value = undefined
  reading.value = reading.value === kind ? undefined : kind
}
useKeys(() => [
  { key: 'm', does: 'read the masstone', act: () => open('masstone') },
  { key: 't', does: 'read the tint', act: () => open('tint'), when: () => !line.value?.white },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => (reading.value = undefined),
    when: () => !!reading.value,
  },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no paint {{ number }}.</h1>
    <RouterLink class="underline" to="/mixing">All paints</RouterLink>
  </section>
  <p v-else-if="error && !page" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="page && line" class="pt-4">
    <div class="mb-4 flex flex-wrap items-center gap-x-5 gap-y-3">
      <PaintChip large :masstone="line.srgb" :tint="line.tint_srgb" :alone="line.white" />
      <div class="min-w-60 flex-1">
        <h1>{{ line.name }}</h1>
        <p class="quiet">
          <RouterLink v-if="line.batch_number != null" class="underline" :to="`/batches/${line.batch_number}`"
            >batch {{ line.batch_number }}</RouterLink
          ><RouterLink v-else-if="line.item_id != null" class="underline" :to="`/shelf/${line.item_id}`"
            >on the shelf</RouterLink
          ><template v-else>a paint of no batch here</template
          ><template v-if="line.white">; the studio’s white</template>
        </p>
        <p class="mt-1 flex items-center gap-2"><SureBars :how="line.how" />{{ HOW[line.how] }}</p>
        <p v-if="wants(line)" class="font-semibold" :class="line.trouble ? 'text-stop' : ''" role="status">
          {{ wants(line) }}
        </p>
      </div>
      <RouterLink class="btn px-5" :to="{ path: '/mixing/find', query: { paint: number } }"
        >Mix to match it</RouterLink
      >
    </div>
    <div class="flex flex-wrap gap-3" role="group" aria-label="Read it">
      <button
        type="button"
        class="btn btn-slab min-w-48 px-6"
        :class="line.missing.includes('masstone') ? 'btn-main' : reading === 'masstone' ? 'bg-act-wash' : ''"
        :aria-expanded="reading === 'masstone'"
        @click="open('masstone')"
      >
        {{ line.lab ? 'Read the masstone again' : 'Read the masstone' }}
      </button>
      <button
        v-if="!line.white"
        type="button"
        class="btn btn-slab min-w-48 px-6"
        :class="
          line.missing.includes('tint') && !line.missing.includes('masstone')
            ? 'btn-main'
            : reading === 'tint'
              ? 'bg-act-wash'
              : ''
        "
        :aria-expanded="reading === 'tint'"
        @click="open('tint')"
      >
        {{ line.tint_srgb ? 'Read the tint again' : 'Read the tint' }}
      </button>
    </div>
    <form v-if="reading" class="mt-4 border-2 border-ink bg-sheet p-4" @submit.prevent="keep">
      <h2 class="text-[1.7rem] leading-tight font-semibold">
        <Term :of="reading">{{ reading === 'masstone' ? 'Masstone' : 'Tint' }}</Term>
      </h2>
      <p class="mt-1 mb-3">
        <template v-if="reading === 'masstone'"
          >Draw it out thick, so that nothing shows through, and read the middle.</template
        ><template v-else
          >One part of the paint to <span class="figure">{{ parts ?? 10 }}</span> of the white
          {{ PARTS_BY[by] }}<template v-if="by === 'volume'">, dabs or spoons of one size</template>, mixed
          until it is even; draw it out thick.<template v-if="page.white_now">
            White: <strong>{{ page.white_now }}</strong>.<template
              v-if="by === 'volume' && !page.heavy_known"
            >
              The density of these two is assumed.</template
            ></template
          ></template
        >
      </p>
      <div class="flex flex-wrap items-end gap-3">
        <ColourReading
          :key="reading"
          v-model="colour"
          :guess="line.srgb"
          :reader="reader"
          :refusal="refusal"
        />
        <NumberField
          v-if="reading === 'tint'"
          v-model="parts"
          class="w-36"
          label="White to one of paint"
          unit="parts"
          :refusal="said('white_parts')"
        />
        <OneOf
          v-if="reading === 'tint'"
          label="Parts"
          :model-value="by"
          :of="BY"
          @update:model-value="chosenBy = $event"
        />
        <button class="btn btn-main btn-slab px-8" :disabled="busy">Keep it</button>
      </div>
      <label class="mt-3 block max-w-lg"
        ><span class="label">A note to it, if any</span><input v-model="note" class="field" maxlength="500"
      /></label>
      <p v-if="said('white_id')" class="refusal" role="alert">
        {{ said('white_id') }} <RouterLink class="underline" to="/mixing">To Colour</RouterLink>
      </p>
      <p
        v-else-if="refusal && !said('lab') && !said('srgb') && !said('spectrum') && !said('white_parts')"
        class="refusal"
        role="alert"
      >
        {{ refusal.words }}
      </p>
      <p v-if="trouble" class="refusal" role="alert">{{ trouble }}</p>
    </form>
    <div class="mt-6 grid gap-x-10 gap-y-6 lg:grid-cols-[1.2fr_1fr]">
      <section aria-labelledby="curves">
        <h2 id="curves" class="mb-1 text-lg">Reflectance</h2>
        <PaintCurves :page="page" />
      </section>
      <div class="space-y-5">
        <p v-if="page.hides">
          Scraped thin it hides <strong>{{ HIDES[page.hides] }}</strong> of what is under it.
        </p>
        <section v-if="!line.white" aria-labelledby="strong">
          <h2 id="strong" class="mb-1 text-lg">How strong</h2>
          <p v-if="line.strength != null">
            Painted squares find it
            <span class="figure text-2xl font-semibold">{{ digits(line.strength, 2) }}</span> times as strong
            as its readings say<span class="quiet small block"
              >{{ strength(line) }}, nine times in ten; learned here from {{ line.squares }} squares</span
            >
          </p>
          <p v-else-if="line.how === 'masstone' || line.how === 'guess'">
            A rough guess until its tint is read: taken for a paint that tints
            {{ TINTS.find(([key]) => key === line!.tinting)?.[1] }}.
          </p>
          <p v-else class="quiet">By its readings. Squares of a chart teach better, once some are read.</p>
        </section>
        <section aria-labelledby="readings">
          <h2 id="readings" class="mb-1 text-lg">Readings</h2>
          <p v-if="!page.readings.length" class="quiet">None yet.</p>
          <ul>
            <li
              v-for="one in page.readings"
              :key="one.id"
              class="hairline flex flex-wrap items-center gap-3 py-1.5"
            >
              <span
                class="h-9 w-12 border-4 border-[#bdbdbd]"
                :style="{ background: one.srgb }"
                aria-hidden="true"
              />
              <span class="min-w-0 flex-1 leading-snug" :class="one.set_aside ? 'line-through' : ''"
                ><span class="figure"
                  >L {{ digits(one.lab.L, 1) }}, a {{ digits(one.lab.a, 1) }}, b
                  {{ digits(one.lab.b, 1) }}</span
                ><span class="small quiet block"
                  >{{ one.kind
                  }}<template v-if="one.white_parts"
                    >, 1 to {{ digits(one.white_parts, one.white_parts % 1 ? 1 : 0) }} of
                    {{ one.white ?? 'white' }} by weight</template
                  >, {{ one.spectral ? 'spectrum' : 'three figures' }}, ±{{ dE(one.off) }} ΔE00,
                  {{ day(one.made_at) }}<template v-if="one.from_checks">, from its checks</template
                  ><template v-if="one.note">: {{ one.note }}</template></span
                ></span
              >
              <button
                v-if="one.set_aside"
                type="button"
                class="btn btn-quiet"
                :disabled="busy"
                @click="setAside(one.id, null)"
              >
                count it again
              </button>
              <button v-else type="button" class="btn btn-quiet" @click="aside = { id: one.id, reason: '' }">
                set aside
              </button>
              <form
                v-if="aside?.id === one.id"
                class="flex basis-full gap-2"
                @submit.prevent="setAside(one.id, aside.reason)"
              >
                <input
                  v-model="aside.reason"
                  class="field flex-1"
                  maxlength="300"
                  placeholder="why it does not count"
                  aria-label="Why it does not count"
                />
                <button class="btn" :disabled="busy">Set aside</button>
              </form>
              <span v-if="aside?.id === one.id && said('reason')" class="refusal basis-full" role="alert">{{
                said('reason')
              }}</span>
            </li>
          </ul>
        </section>
        <section v-if="page.charts.length" aria-labelledby="on">
          <h2 id="on" class="mb-1 text-lg">On charts</h2>
          <ul>
            <li v-for="chart in page.charts" :key="chart.number" class="hairline">
              <RouterLink
                class="flex min-h-12 items-center underline underline-offset-4"
                :to="`/mixing/charts/${chart.number}`"
                >{{ chart.name }}, chart {{ chart.number }}</RouterLink
              >
            </li>
          </ul>
        </section>
        <details
          @toggle="
            own = {
              name: line.name,
              tinting: line.tinting as Schemas['PaintChange']['tinting'],
              swatch_srgb: line.srgb,
              retired: line.retired,
            }
          "
        >
          <summary class="min-h-12 py-3 font-semibold">The paint itself</summary>
          <form v-if="own" class="space-y-3" @submit.prevent="change(own)">
            <label class="block"
              ><span class="label">Name</span><input v-model="own.name" class="field" maxlength="120" /><span
                v-if="said('name')"
                class="refusal"
                role="alert"
                >{{ said('name') }}</span
              ></label
            >
            <label class="block"
              ><span class="label">Tints, where nobody read a tint</span
              ><select v-model="own.tinting" class="field">
                <option v-for="[key, says] in TINTS" :key="key" :value="key">{{ says }}</option>
              </select></label
            >
            <label class="flex min-h-12 items-center gap-3"
              ><input v-model="own.retired" type="checkbox" class="h-6 w-6" />I have none of it: leave it out
              of mixtures</label
            >
            <span v-if="said('retired')" class="refusal" role="alert">{{ said('retired') }}</span>
            <button class="btn px-6" :disabled="busy">Keep</button>
          </form>
        </details>
      </div>
    </div>
    <p class="mt-4"><RouterLink class="btn btn-quiet -ml-2" to="/mixing">All of Colour</RouterLink></p>
  </div>
</template>
