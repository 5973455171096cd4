<script setup lang="ts">
/** One tube or jar: look at it, save it, move it, let it go; whose it may be where nobody knows. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import type { paths } from '@/api/schema'
import { useHome, useServerNow } from '@/api/queries'
import ColourChip from '@/kit/ColourChip.vue'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { scaledDown } from '@/kit/picture'
import { useTried } from '@/kit/tried'
import InspectionForm from './InspectionForm.vue'
import ItemFacts from './ItemFacts.vue'
import LikelyBatches from './LikelyBatches.vue'
import StickInspection from './StickInspection.vue'
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
const stick = computed(() => item.value?.kind === 'stick')
const here = computed(() => item.value?.status === 'kept' || item.value?.status === 'waiting')

const looking = ref(false)
const { refusal, trouble, busy, said, tried: asked, once } = useTried('nothing was recorded')
const tried = (work: () => Promise<void>) =>
  asked(async () => {
    await work()
    for (const key of ['shelf', 'home']) void queries.invalidateQueries({ queryKey: [key] })
  })
const serverNow = useServerNow()
const path = computed(() => ({ params: { path: { item_id: props.number } } }))
const show = (now: Schemas['ItemPage']) => queries.setQueryData(['item', props.number], now)
type Look = Omit<Schemas['InspectAsked'], 'id' | 'made_on'>
type StickLook = Omit<Schemas['StickInspectAsked'], 'id' | 'made_on'>
type Made = { id: string; made_on: string }
const looked = (look: object, send: (made: Made) => Promise<Schemas['ItemPage']>) =>
  tried(async () => {
    const { id, made_at } = once(look, await serverNow())
    show(await send({ id, made_on: made_at.slice(0, 10) }))
    looking.value = false
  })
const inspect = (look: Look) =>
  looked(look, (made) =>
    answered(api.POST('/api/shelf/{item_id}/inspections', { ...path.value, body: { ...made, ...look } })),
  )
const inspectStick = (look: StickLook) =>
  looked(look, (made) =>
    answered(
      api.POST('/api/shelf/{item_id}/stick-inspections', { ...path.value, body: { ...made, ...look } }),
    ),
  )
type Sent = paths['/api/shelf/{number}/acts']['post']['requestBody']['content']['application/json']
type Said<A = Sent> = A extends unknown
  ? Omit<A, 'id' | 'made_at' | 'text' | 'waited'> & { text?: string }
  : never
const act = (said: Said) =>
  tried(async () => {
    show(
      await answered(
        api.POST('/api/shelf/{number}/acts', {
          params: { path: { number: props.number } },
          body: { text: '', waited: false, ...said, ...once(said, await serverNow()) } as Sent,
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
const photographed = (event: Event) =>
  tried(async () => {
    const input = event.target as HTMLInputElement
    const file = input.files?.[0]
    if (!file) return
    const { id, made_at } = once(`${file.name} ${file.lastModified}`, await serverNow())
    const smaller = await scaledDown(file)
    show(
      await answered(
        api.POST('/api/shelf/{number}/photos/{photo_id}', {
          params: { path: { number: props.number, photo_id: id }, query: { made_at } },
          body: smaller as unknown as string,
          bodySerializer: (picture: unknown) => picture as BodyInit,
          headers: { 'content-type': smaller.type || 'image/jpeg' },
        }),
      ),
    )
    input.value = ''
  })
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
      <ColourChip class="h-14 w-24" :colour="item.masstone_srgb" />
      <h1 class="min-w-56 flex-1">
        {{ item.name }} <span class="figure text-xl">{{ item.code }}</span><span
          class="quiet block text-base font-normal"
          >{{ item.container }},
          <span class="figure">{{ digits(stick && item.weight_g ? item.weight_g : item.volume_ml, 1) }}</span>
          {{ stick && item.weight_g ? 'g' : 'ml'
          }}<template v-if="item.pot_number"
            >;
            <RouterLink class="underline" :to="`/sticks/${item.pot_number}`"
              >pot {{ item.pot_number }}</RouterLink
            ></template
          ><template v-if="item.batch_number"
            >;
            <RouterLink class="underline" :to="`/batches/${item.batch_number}`"
              >batch {{ item.batch_number }}</RouterLink
            ><template v-if="item.topped_by">
              and
              <RouterLink class="underline" :to="`/batches/${item.topped_by}`">{{
                item.topped_by
              }}</RouterLink></template
            ></template
          >; {{ stick ? 'cast' : item.batch_number ? 'filled' : 'found' }} {{ day(item.filled_on)
          }}<template v-if="home">, {{ age(item.filled_on, home.now) }}</template
          ><template v-if="item.place">; {{ item.place }}</template></span
        >
      </h1>
      <p class="text-lg font-semibold">
        {{ STATUSES[item.status]
        }}<span v-if="page.why" class="small quiet block font-normal">{{ page.why }}</span>
      </p>
      <RouterLink v-if="item.batch_number || stick" class="btn" :to="`/lineage/items/${item.id}`"
        >What is behind it</RouterLink
      >
      <RouterLink v-if="!stick" class="btn" :to="{ path: '/mixing/find', query: { item: item.id } }"
        >Mix to match it</RouterLink
      >
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
        <StickInspection
          v-if="looking && item.kind === 'stick'"
          :page="page"
          :refusal="refusal"
          :busy="busy"
          @record="inspectStick"
          @close="looking = false"
        />
        <InspectionForm
          v-else-if="looking"
          :page="page"
          :refusal="refusal"
          :busy="busy"
          @record="inspect"
          @close="looking = false"
        />
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
              @click="act({ kind: 'stir_back' })"
            >
              Stirred back
            </button>
            <button
              v-if="item.last_outcome === 'lift_skin' || item.last_outcome === 'peel'"
              type="button"
              class="btn btn-main"
              :disabled="busy"
              @click="act({ kind: 'lift_skin' })"
            >
              {{ item.kind === 'stick' ? 'Skin peeled' : 'Skin lifted, refilled' }}
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
        <LikelyBatches
          v-if="page.likely.length"
          :likely="page.likely"
          :read="page.colour_read"
          :busy="busy"
          @settle="settle"
          @none="act({ kind: 'of_no_batch' })"
        />
        <div v-if="here" class="flex flex-wrap gap-2">
          <label class="btn cursor-pointer"
            >Take a picture<input
              type="file"
              accept="image/*"
              class="sr-only"
              :disabled="busy"
              @change="photographed"
          /></label>
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
          @click="act({ kind: 'back' })"
        >
          Back on the shelf
        </button>
        <form
          v-if="moving"
          class="flex flex-wrap items-end gap-3"
          @submit.prevent="act({ kind: 'move', place: where })"
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
          @submit.prevent="act({ kind: 'leave', how: leaving!, text: why, anyway: false })"
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
          <div v-if="said('anyway')" class="basis-full border-2 border-stop bg-white p-3" role="alert">
            <p>{{ said('anyway') }}</p>
            <button
              type="button"
              class="btn mt-2"
              :disabled="busy"
              @click="act({ kind: 'leave', how: leaving!, text: why, anyway: true })"
            >
              They know what is in it
            </button>
          </div>
          <p v-if="leaving === 'discarded' && page.hazards.length" class="basis-full">
            {{ page.hazards.join('; ') }}: licensed disposal, nothing in the drain.
          </p>
        </form>
      </div>
      <ItemFacts :page="page" />
    </div>
  </div>
</template>
