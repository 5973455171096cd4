<script setup lang="ts">
/** One tube or jar: look at it, save it, move it, let it go; whose it may be where nobody knows. */
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useHome } from '@/api/queries'
import { clock, day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import LayerGauge from './LayerGauge.vue'
import { age, STATUSES } from './words'

const props = defineProps<{ number: number }>()
const router = useRouter()
const queries = useQueryClient()
const { data: home } = useHome()
const { data: page, error } = useQuery({
  queryKey: ['item', () => props.number],
  queryFn: () => answered(api.GET('/api/shelf/{item_id}', { params: { path: { item_id: props.number } } })),
})
const item = computed(() => page.value?.line)
const here = computed(() => item.value?.status === 'kept' || item.value?.status === 'waiting')

const looking = ref(false)
const layer = ref<number | null>(0)
const height = ref<number | null>(80)
const skin = ref<Schemas['Skin']>('none')
const body = ref<Schemas['KeptBody']>('as_filled')
const smell = ref<Schemas['Smell']>('oil')
const readable = ref(true)
const note = ref('')
const look = computed(() => ({
  layer_mm: layer.value ?? 0,
  fill_height_mm: height.value ?? 0,
  skin: skin.value,
  body: body.value,
  smell: smell.value,
  label_readable: readable.value,
}))
/** What it would come to, said before it is recorded. */
const { data: seen, error: odd } = useQuery({
  queryKey: ['inspection', look],
  enabled: () => looking.value && layer.value != null && height.value != null,
  retry: false,
  placeholderData: keepPreviousData,
  queryFn: () => answered(api.POST('/api/calc/inspection', { body: look.value })),
})
const oddAt = (field: string) =>
  unmeasured(field) ?? said(field) ?? (odd.value instanceof Refused ? odd.value.at(field) : undefined)
/** An emptied field is not zero: what was not measured is not kept as nothing on top. */
const unmeasured = (field: string) =>
  (field === 'layer_mm' ? layer : height).value == null
    ? 'Missing. Accepted: how many mm, 0 for none on top.'
    : undefined

const { refusal, trouble, busy, said, tried: asked, once } = useTried('nothing was recorded')
const tried = (work: () => Promise<void>) =>
  asked(async () => {
    await work()
    for (const key of ['shelf', 'home']) void queries.invalidateQueries({ queryKey: [key] })
  })
const serverNow = () => new Date(home.value?.now ?? Date.now())
const path = computed(() => ({ params: { path: { item_id: props.number } } }))
const show = (now: Schemas['ItemPage']) => queries.setQueryData(['item', props.number], now)
const inspect = () =>
  tried(async () => {
    const { id, made_at } = once({ look: look.value, note: note.value }, serverNow())
    const made_on = made_at.slice(0, 10)
    show(
      await answered(
        api.POST('/api/shelf/{item_id}/inspections', {
          ...path.value,
          body: { id, made_on, ...look.value, note: note.value },
        }),
      ),
    )
    looking.value = false
  })
const act = (kind: Schemas['ItemAct'], what: Partial<Schemas['ItemActAsked']> = {}) =>
  tried(async () => {
    show(
      await answered(
        api.POST('/api/shelf/{item_id}/acts', {
          ...path.value,
          body: {
            kind,
            text: '',
            ...what,
            ...once({ kind, what }, serverNow()),
          },
        }),
      ),
    )
    leaving.value = undefined
    moving.value = false
  })
const regrind = () =>
  tried(async () => {
    const made = await answered(
      api.POST('/api/shelf/{item_id}/regrind', { ...path.value, body: { request_id: once('regrind').id } }),
    )
    await router.push(`/slab/${made.number}`)
  })
const settle = (batch: number) =>
  tried(
    async () =>
      void show(
        await answered(
          api.POST('/api/shelf/{item_id}/settle', { ...path.value, body: { batch_number: batch } }),
        ),
      ),
  )
const leaving = ref<Schemas['Left']>()
const why = ref('')
const moving = ref(false)
const where = ref('')
const WAYS = [
  ['given', 'Given away'],
  ['sold', 'Sold'],
  ['used_up', 'Used up'],
  ['discarded', 'Discarded'],
] as const
const SKINS = [
  ['none', 'no skin', ''],
  ['skin', 'a skin', 'M6 14q30-8 60 0'],
  ['through', 'hard through', 'M6 14q30-8 60 0M12 24h48M12 34h48M12 44h48'],
] as const
const BODIES = [
  ['as_filled', 'as filled'],
  ['stiffer', 'stiffer'],
  ['grainy', 'grainy'],
] as const
const SMELLS = [
  ['oil', 'of oil'],
  ['rancid', 'rancid'],
  ['spoiled', 'spoiled'],
] as const
useKeys(() => [
  {
    key: 'i',
    does: 'inspect it',
    act: () => (looking.value = true),
    when: () => here.value && !looking.value,
  },
  {
    key: 'Escape',
    does: 'close what is open',
    act: () => (looking.value = false),
    when: () => looking.value,
  },
])
</script>

<template>
  <section v-if="error instanceof Refused && error.problem.status === 404" class="py-12">
    <h1>There is no tube or jar {{ number }}.</h1>
    <RouterLink class="underline" to="/shelf">The shelf</RouterLink>
  </section>
  <div v-else-if="page && item" class="pt-5">
    <div class="mb-3 flex flex-wrap items-center gap-4">
      <span
        class="h-14 w-24 border-4 border-[#bdbdbd]"
        :style="{ background: item.masstone_srgb }"
        aria-hidden="true"
      />
      <h1 class="min-w-56 flex-1">
        {{ item.name }} <span class="figure text-xl">{{ item.code }}</span><span
          class="quiet block text-base font-normal"
          >{{ item.container }}, <span class="figure">{{ digits(item.volume_ml, 1) }}</span> ml<template
            v-if="item.batch_number"
            >;
            <RouterLink class="underline" :to="`/batches/${item.batch_number}`"
              >batch {{ item.batch_number }}</RouterLink
            ><template v-if="item.topped_by">
              and
              <RouterLink class="underline" :to="`/batches/${item.topped_by}`">{{
                item.topped_by
              }}</RouterLink></template
            ></template
          >; {{ item.batch_number ? 'filled' : 'found' }} {{ day(item.filled_on)
          }}<template v-if="home">, {{ age(item.filled_on, home.now) }}</template
          ><template v-if="item.place">; {{ item.place }}</template></span
        >
      </h1>
      <p class="text-lg font-semibold">
        {{ STATUSES[item.status]
        }}<span v-if="page.why" class="small quiet block font-normal">{{ page.why }}</span>
      </p>
      <RouterLink v-if="here" class="btn" :to="{ path: '/labels', query: { items: String(item.id) } }"
        >Label</RouterLink
      >
    </div>
    <p v-if="item.unknown_hazard" class="mb-3 border-l-4 border-stop pl-3 text-lg">
      <strong>Unknown hazard.</strong> Gloves on, lid on, until it is matched. The safety data sheet and
      licensed disposal come first.
    </p>
    <p v-if="item.past_use_by" class="mb-3 border-l-4 border-stop pl-3 text-lg">
      <strong>Past its use-by, {{ day(item.use_by!) }}.</strong> What is in it spoils: throw it away with
      licensed disposal.
    </p>
    <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
    <div class="grid gap-x-12 gap-y-6 lg:grid-cols-[1.3fr_1fr]">
      <div class="min-w-0 space-y-5">
        <form
          v-if="looking"
          class="border-2 border-ink bg-sheet p-4"
          aria-label="Inspection"
          @submit.prevent="inspect"
        >
          <p v-if="page.beware.length" class="mb-3 border-l-4 border-stop pl-3">
            <strong class="text-stop">{{ page.beware.join('; ') }}.</strong> Gloves on, wipe wet, no food
            about; the safety data sheet comes first.
          </p>
          <div class="flex flex-wrap gap-6">
            <LayerGauge
              v-model="layer"
              :height="height ?? 80"
              :kind="item.kind"
              :colour="item.masstone_srgb"
              :skin="skin !== 'none'"
              ><p v-if="seen && layer != null && height != null">
                <span class="figure text-2xl font-semibold">{{ digits(100 * seen.layer_fraction, 0) }}</span>
                % of it
              </p></LayerGauge
            >
            <div class="min-w-64 flex-1 space-y-3">
              <div class="flex flex-wrap items-end gap-3">
                <NumberField
                  v-model="layer"
                  class="w-36"
                  large
                  label="Oil on top"
                  unit="mm"
                  :refusal="oddAt('layer_mm')"
                />
                <NumberField
                  v-model="height"
                  class="w-36"
                  large
                  label="Filling, high"
                  unit="mm"
                  :refusal="oddAt('fill_height_mm')"
                />
              </div>
              <div role="group" aria-label="Skin" class="flex flex-wrap gap-2">
                <button
                  v-for="[key, text, line] in SKINS"
                  :key="key"
                  type="button"
                  class="btn min-h-16 flex-col gap-0 px-3"
                  :class="skin === key ? 'bg-ink! text-white' : ''"
                  :aria-pressed="skin === key"
                  @click="skin = key"
                >
                  <svg viewBox="0 0 72 50" class="h-7 w-10" aria-hidden="true">
                    <path d="M6 14v32h60V14" fill="none" stroke="currentColor" stroke-width="2" />
                    <path :d="line" fill="none" stroke="currentColor" stroke-width="3" /></svg
                  >{{ text }}
                </button>
              </div>
              <div role="group" aria-label="Body" class="flex flex-wrap gap-2">
                <span class="quiet w-16 self-center">body</span
                ><button
                  v-for="[key, text] in BODIES"
                  :key="key"
                  type="button"
                  class="btn"
                  :class="body === key ? 'bg-ink! text-white' : ''"
                  :aria-pressed="body === key"
                  @click="body = key"
                >
                  {{ text }}
                </button>
              </div>
              <div role="group" aria-label="Smell" class="flex flex-wrap gap-2">
                <span class="quiet w-16 self-center">smells</span
                ><button
                  v-for="[key, text] in SMELLS"
                  :key="key"
                  type="button"
                  class="btn"
                  :class="smell === key ? 'bg-ink! text-white' : ''"
                  :aria-pressed="smell === key"
                  @click="smell = key"
                >
                  {{ text }}
                </button>
              </div>
              <label class="flex min-h-12 items-center gap-3"
                ><input v-model="readable" type="checkbox" class="h-6 w-6 accent-act" />Its label can be
                read</label
              >
              <label class="block"
                ><span class="label">A note</span><input v-model="note" class="field" maxlength="500"
              /></label>
            </div>
          </div>
          <span v-if="refusal && !said('layer_mm') && !said('fill_height_mm')" class="refusal" role="alert">{{
            refusal.words
          }}</span>
          <p
            v-if="seen && !odd && layer != null && height != null"
            class="mt-3 border-l-4 border-ink pl-3 text-lg"
            role="status"
          >
            <strong>{{ seen.title }}.</strong> {{ seen.why }}
          </p>
          <div class="mt-3 flex gap-3">
            <button class="btn btn-main btn-slab px-8" :disabled="busy || layer == null || height == null">
              Record</button
            ><button type="button" class="btn btn-slab px-5" @click="looking = false">Cancel</button>
          </div>
        </form>
        <div v-else class="border-2 border-ink bg-sheet p-4" data-part="verdict">
          <div class="flex flex-wrap items-center gap-4">
            <div class="min-w-64 flex-1">
              <p class="text-[1.9rem] leading-tight font-semibold">
                {{ page.inspected ? page.inspected.title : 'Not inspected yet' }}
              </p>
              <p>{{ page.inspected?.why }}</p>
              <p v-if="here && item.next_inspection_on" class="quiet">
                {{ item.due ? 'An inspection is due now' : 'Next inspection' }},
                {{ day(item.next_inspection_on) }}.
              </p>
            </div>
            <button
              v-if="here"
              type="button"
              class="btn btn-slab px-6"
              :class="item.due || !page.inspected ? 'btn-main' : ''"
              @click="looking = true"
            >
              Inspect it
            </button>
          </div>
          <ol v-if="page.inspected?.steps.length && here && item.last_outcome !== 'good'" class="mt-2">
            <li v-for="(step, n) in page.inspected.steps" :key="step" class="flex gap-3 py-0.5">
              <span class="figure quiet">{{ n + 1 }}</span>{{ step }}
            </li>
          </ol>
          <div
            v-if="here && item.last_outcome && item.last_outcome !== 'good'"
            class="mt-3 flex flex-wrap gap-2"
          >
            <button
              v-if="item.last_outcome === 'stir_back'"
              type="button"
              class="btn btn-main"
              :disabled="busy"
              @click="act('stir_back')"
            >
              Stirred back
            </button>
            <button
              v-if="item.last_outcome === 'lift_skin'"
              type="button"
              class="btn btn-main"
              :disabled="busy"
              @click="act('lift_skin')"
            >
              Skin lifted, refilled
            </button>
            <button
              v-if="item.last_outcome.startsWith('regrind') && page.can_regrind"
              type="button"
              class="btn btn-main"
              :disabled="busy"
              @click="regrind"
            >
              Back on the slab
            </button>
            <RouterLink
              v-if="item.last_outcome.startsWith('regrind')"
              class="btn"
              :to="{
                path: '/additives/ladders/new',
                query: page.recipe_id ? { recipe: page.recipe_id } : {},
              }"
              >A stabiliser ladder</RouterLink
            >
          </div>
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
        </div>
        <section v-if="page.likely.length" aria-labelledby="likely">
          <h2 id="likely" class="text-lg">
            Whose it may be, by colour and weight <span class="quiet small font-normal">spread assumed</span>
          </h2>
          <ul>
            <li
              v-for="one in page.likely"
              :key="one.number ?? 0"
              class="hairline grid min-h-14 grid-cols-[6.5rem_5rem_1fr_auto] items-center gap-3 sm:grid-cols-[6.5rem_6rem_4rem_1fr_auto]"
            >
              <span class="text-lg font-semibold whitespace-nowrap"
                >{{ one.likely < 0.01 ? 'under 1' : digits(100 * one.likely, 0) }} %</span
              >
              <svg viewBox="0 0 100 14" preserveAspectRatio="none" class="h-3.5 w-full" aria-hidden="true">
                <rect width="100" height="14" fill="#fff" />
                <rect :width="100 * one.likely" height="14" fill="#171717" />
              </svg>
              <span
                class="h-9 max-sm:hidden"
                :class="one.number ? 'border-4 border-[#bdbdbd]' : ''"
                :style="{ background: one.masstone_srgb }"
                aria-hidden="true"
              />
              <span class="leading-tight"
                ><template v-if="one.number"
                  ><strong class="font-semibold">{{ one.name }}</strong
                  >{{ ' '
                  }}<RouterLink class="underline" :to="`/batches/${one.number}`"
                    >batch {{ one.number }}</RouterLink
                  ></template
                ><template v-else>none of them</template>{{ ' '
                }}<span class="small quiet block">{{ one.says }}</span></span
              >
              <button
                v-if="one.number"
                type="button"
                class="btn btn-quiet"
                :disabled="busy"
                @click="settle(one.number)"
              >
                it is this
              </button>
            </li>
          </ul>
        </section>
        <div v-if="here" class="flex flex-wrap gap-2">
          <button type="button" class="btn" :aria-expanded="moving" @click="moving = !moving">Move it</button>
          <button
            v-for="[key, text] in WAYS"
            :key="key"
            type="button"
            class="btn"
            :aria-pressed="leaving === key"
            @click="leaving = leaving === key ? undefined : key"
          >
            {{ text }}
          </button>
        </div>
        <button
          v-else-if="item.status !== 'reground'"
          type="button"
          class="btn"
          :disabled="busy"
          @click="act('back')"
        >
          Back on the shelf
        </button>
        <form
          v-if="moving"
          class="flex flex-wrap items-end gap-3"
          @submit.prevent="act('move', { place: where })"
        >
          <label class="min-w-56"
            ><span class="label">Where it stands now</span
            ><input
              v-model="where"
              class="field"
              maxlength="80"
              autofocus
              :aria-invalid="said('place') ? 'true' : undefined" /></label
          ><button class="btn btn-main" :disabled="busy">Move</button>
        </form>
        <form
          v-if="leaving"
          class="flex flex-wrap items-end gap-3"
          @submit.prevent="act('leave', { how: leaving, text: why })"
        >
          <label class="min-w-72 flex-1"
            ><span class="label">{{
              leaving === 'discarded' ? 'Why it is discarded' : 'To whom, or a note, if any'
            }}</span
            ><input
              v-model="why"
              class="field"
              maxlength="500"
              :aria-invalid="said('text') ? 'true' : undefined" /></label
          ><button class="btn btn-main" :disabled="busy">It is {{ STATUSES[leaving] }}</button>
          <p v-if="leaving === 'discarded' && page.hazards.length" class="basis-full">
            {{ page.hazards.join('; ') }}: licensed disposal, nothing in the drain.
          </p>
        </form>
      </div>
      <section aria-labelledby="log">
        <h2 id="log" class="text-lg">What happened to it</h2>
        <ol>
          <li v-for="one in [...page.events].reverse()" :key="one.id" class="hairline flex gap-3 py-2">
            <span class="quiet small w-32 shrink-0">{{ day(one.at) }}, {{ clock(one.at) }}</span
            ><span>{{ one.text }}</span>
          </li>
        </ol>
        <dl class="mt-4">
          <div v-if="page.density_g_per_ml" class="hairline flex justify-between py-1.5">
            <dt class="quiet">weight for each ml</dt>
            <dd>
              <span class="figure">{{ digits(page.density_g_per_ml, 2) }}</span> g/ml
            </dd>
          </div>
          <div v-if="page.gross_g" class="hairline flex justify-between py-1.5">
            <dt class="quiet">weighed</dt>
            <dd>
              <span class="figure">{{ digits(page.gross_g, 1) }}</span> g, empty
              <span class="figure">{{ digits(page.tare_g ?? 0, 1) }}</span> g
            </dd>
          </div>
          <div v-if="page.cover" class="hairline flex justify-between py-1.5">
            <dt class="quiet">covered with</dt>
            <dd>{{ page.cover }}</dd>
          </div>
          <div v-if="item.last_outcome" class="hairline flex justify-between py-1.5">
            <dt class="quiet">seen last</dt>
            <dd>{{ item.last_seen }}</dd>
          </div>
          <div v-if="page.hazards.length" class="hairline flex justify-between gap-4 py-1.5">
            <dt class="quiet">hazards</dt>
            <dd class="text-right">{{ page.hazards.join('; ') }}</dd>
          </div>
          <div v-if="page.note" class="hairline flex justify-between gap-4 py-1.5">
            <dt class="quiet">note</dt>
            <dd class="text-right">{{ page.note }}</dd>
          </div>
        </dl>
      </section>
    </div>
  </div>
</template>
