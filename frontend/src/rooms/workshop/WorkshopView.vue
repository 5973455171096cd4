<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import NumberField from '@/kit/NumberField.vue'
import { digits } from '@/kit/format'
import { useTried } from '@/kit/tried'
import BackupsBox from './BackupsBox.vue'
import BalanceSettings from './BalanceSettings.vue'
import OwnMeasures from './OwnMeasures.vue'
import StudioSettings from './StudioSettings.vue'
import ThermometerSettings from './ThermometerSettings.vue'

type Workshop = Schemas['Workshop']
const queries = useQueryClient()
const { data: workshop } = useWorkshop()
const TEETH = [
  { key: 'fresh', name: 'fresh, bites' },
  { key: 'fair', name: 'fair' },
  { key: 'worn', name: 'worn smooth' },
] as const
type ToothKey = (typeof TEETH)[number]['key']

const settings = ref<Schemas['SettingsAsked']>()
watch(workshop, (kept) => kept && (settings.value ??= { ...kept.settings } as Schemas['SettingsAsked']), {
  immediate: true,
})
const { refusal, trouble, said: saidOf, tried } = useTried()
const where = ref('')
const said = (part: string, field: string) => (where.value === part ? saidOf(field) : undefined)
const done = ref('')

function send(part: string, asked: Promise<Workshop>, words: string): Promise<boolean> {
  where.value = part
  done.value = ''
  return tried(async () => {
    queries.setQueryData(['workshop'], await asked)
    void queries.invalidateQueries({ queryKey: ['home'] })
    done.value = words
  })
}

type Measures = {
  diameter_mm: number | null
  length_mm: number | null
  headspace_mm: number | null
  tare_g: number | null
  folds: number | null
}
type Item = {
  id: number | null
  name: string
  figure: number | null
  tooth: ToothKey
  film: number | null
  tube?: Measures
}
const NO_TUBE: Measures = {
  diameter_mm: null,
  length_mm: null,
  headspace_mm: null,
  tare_g: null,
  folds: null,
}
const KINDS = [
  { key: 'slabs', one: 'slab', name: 'Slabs', figure: 'Area', unit: 'cm2', field: 'area_cm2', tooth: true },
  {
    key: 'mullers',
    one: 'muller',
    name: 'Mullers',
    figure: 'Face',
    unit: 'mm across',
    field: 'face_mm',
    tooth: true,
  },
  {
    key: 'tube-types',
    one: 'tube type',
    name: 'Tube types',
    figure: 'Takes',
    unit: 'ml to its mark',
    field: 'usable_ml',
    tooth: false,
  },
] as const
type Kind = (typeof KINDS)[number]
const editing = ref<{ kind: Kind['key']; item: Item }>()

function items(kind: Kind): Item[] {
  const kept = workshop.value
  if (!kept) return []
  if (kind.key === 'slabs')
    return kept.slabs.map((s) => ({
      id: s.id,
      name: s.name,
      figure: s.area_cm2,
      tooth: s.tooth,
      film: s.film_mm ?? null,
    }))
  if (kind.key === 'mullers')
    return kept.mullers.map((m) => ({
      id: m.id,
      name: m.name,
      figure: m.face_mm,
      tooth: m.tooth,
      film: null,
    }))
  return kept.tube_types.map((t) => ({
    id: t.id,
    name: t.name,
    figure: t.usable_ml,
    tooth: 'fresh',
    film: null,
    tube: {
      diameter_mm: t.diameter_mm ?? null,
      length_mm: t.length_mm ?? null,
      headspace_mm: t.headspace_mm ?? null,
      tare_g: t.tare_g ?? null,
      folds: t.folds ?? null,
    },
  }))
}
function edit(kind: Kind, item?: Item): void {
  refusal.value = undefined
  editing.value = {
    kind: kind.key,
    item: item
      ? { ...item, ...(item.tube && { tube: { ...item.tube } }) }
      : {
          id: null,
          name: '',
          figure: null,
          tooth: 'fresh',
          film: null,
          ...(kind.key === 'tube-types' && { tube: { ...NO_TUBE } }),
        },
  }
}
async function keep(kind: Kind): Promise<void> {
  const { item } = editing.value!
  const figure = item.figure as number
  const path = (name: string) => ({ params: { path: { [name]: item.id } } }) as never
  let asked: Promise<Workshop>
  if (kind.key === 'slabs') {
    const body = { name: item.name, area_cm2: figure, tooth: item.tooth, film_mm: item.film }
    asked = answered(
      item.id
        ? api.PUT('/api/workshop/slabs/{slab_id}', { ...(path('slab_id') as object), body } as never)
        : api.POST('/api/workshop/slabs', { body }),
    ) as Promise<Workshop>
  } else if (kind.key === 'mullers') {
    const body = { name: item.name, face_mm: figure, tooth: item.tooth }
    asked = answered(
      item.id
        ? api.PUT('/api/workshop/mullers/{muller_id}', { ...(path('muller_id') as object), body } as never)
        : api.POST('/api/workshop/mullers', { body }),
    ) as Promise<Workshop>
  } else {
    const body = { name: item.name, usable_ml: item.figure, ...item.tube }
    asked = answered(
      item.id
        ? api.PUT('/api/workshop/tube-types/{tube_type_id}', {
            ...(path('tube_type_id') as object),
            body,
          } as never)
        : api.POST('/api/workshop/tube-types', { body }),
    ) as Promise<Workshop>
  }
  if (await send(kind.key, asked, `${item.name} is kept.`)) editing.value = undefined
}
/** What many work on who have no slab: added as it is at one tap. */
const SLABS = [
  { name: 'Tile 15 x 15 cm', area_cm2: 225, tooth: 'worn' },
  { name: 'Tile 20 x 30 cm', area_cm2: 600, tooth: 'worn' },
  { name: 'Sheet of glass 30 x 40 cm', area_cm2: 1200, tooth: 'worn' },
  { name: 'Marble board 30 x 40 cm', area_cm2: 1200, tooth: 'worn' },
] as const
const newSlabs = computed(() =>
  SLABS.filter((one) => !workshop.value?.slabs.some((slab) => slab.name === one.name)),
)
const addSlab = (body: Schemas['SlabAsked']) =>
  send('slabs', answered(api.POST('/api/workshop/slabs', { body })), `${body.name} is kept.`)
const retire = (kind: Kind, item: Item) =>
  send(
    kind.key,
    answered(
      api.DELETE('/api/workshop/{kind}/{item_id}', {
        params: { path: { kind: kind.key, item_id: item.id! } },
      }),
    ),
    `${item.name} is out of use; past batches keep it.`,
  )
const keepSettings = () =>
  send(
    'settings',
    answered(api.PUT('/api/workshop/settings', { body: settings.value! })),
    'Settings are kept.',
  )
</script>

<template>
  <div v-if="workshop && settings" class="pt-5">
    <h1 class="mb-1">Workshop</h1>
    <p class="mb-4 min-h-6" role="status">
      <span v-if="done">{{ done }}</span><span v-if="trouble" class="text-stop">{{ trouble }}</span>
    </p>
    <div class="grid gap-x-14 gap-y-8 lg:grid-cols-2">
      <section v-for="kind in KINDS" :key="kind.key" :aria-label="kind.name">
        <h2 class="mb-1 text-lg">{{ kind.name }}</h2>
        <ul>
          <li
            v-for="item in items(kind)"
            :key="item.id ?? 0"
            class="hairline flex min-h-14 flex-wrap items-center gap-3"
          >
            <span class="flex-1 font-semibold">{{ item.name }}</span>
            <span
              ><span class="figure">{{ digits(item.figure ?? 0, (item.figure ?? 0) % 1 ? 1 : 0) }}</span
              >{{ ' ' }}<span class="quiet">{{ kind.unit }}</span
              ><template v-if="kind.tooth">, {{ TEETH.find((t) => t.key === item.tooth)?.name }}</template
              ><template v-if="item.film"
                >, film <span class="figure">{{ item.film }}</span> mm</template
              ></span
            >
            <button
              type="button"
              class="btn btn-quiet"
              :aria-label="`Change ${item.name}`"
              @click="edit(kind, item)"
            >
              change
            </button>
            <button
              type="button"
              class="btn btn-quiet"
              :aria-label="`Put ${item.name} out of use`"
              @click="retire(kind, item)"
            >
              out of use
            </button>
          </li>
        </ul>
        <form
          v-if="editing?.kind === kind.key"
          class="mt-2 border-2 border-ink bg-sheet p-4"
          @submit.prevent="keep(kind)"
          @keydown.esc="editing = undefined"
        >
          <div class="grid grid-cols-2 gap-3">
            <label class="col-span-2"
              ><span class="label">Name of the {{ kind.one }}</span
              ><input
                v-model="editing.item.name"
                class="field"
                maxlength="80"
                autofocus
                :aria-invalid="said(kind.key, 'name') ? 'true' : undefined"
              /><span v-if="said(kind.key, 'name')" class="refusal" role="alert">{{
                said(kind.key, 'name')
              }}</span></label
            >
            <NumberField
              v-model="editing.item.figure"
              :label="kind.figure"
              :unit="kind.unit"
              :refusal="said(kind.key, kind.field)"
              accepted="a number above 0"
            />
            <template v-if="editing.item.tube">
              <NumberField
                v-model="editing.item.tube.tare_g"
                label="Empty, with its cap"
                unit="g"
                :refusal="said(kind.key, 'tare_g')"
              />
              <p class="small quiet col-span-2">
                Leave "Takes" empty, and it follows from the measures: diameter, and length less the room left
                at the end.
              </p>
              <NumberField
                v-model="editing.item.tube.diameter_mm"
                label="Diameter"
                unit="mm"
                :refusal="said(kind.key, 'diameter_mm')"
              />
              <NumberField
                v-model="editing.item.tube.length_mm"
                label="Length"
                unit="mm"
                :refusal="said(kind.key, 'length_mm')"
              />
              <NumberField
                v-model="editing.item.tube.headspace_mm"
                label="Room left at the end"
                unit="mm"
                :refusal="said(kind.key, 'headspace_mm')"
              />
              <NumberField
                v-model="editing.item.tube.folds"
                label="Folds"
                :refusal="said(kind.key, 'folds')"
                accepted="1 to 6"
              />
            </template>
            <NumberField
              v-if="kind.key === 'slabs'"
              v-model="editing.item.film"
              label="Film, if you know yours"
              unit="mm"
              :refusal="said(kind.key, 'film_mm')"
            />
            <label v-if="kind.tooth"
              ><span class="label">Tooth</span
              ><select v-model="editing.item.tooth" class="field">
                <option v-for="tooth in TEETH" :key="tooth.key" :value="tooth.key">{{ tooth.name }}</option>
              </select></label
            >
          </div>
          <div class="mt-3 flex gap-3">
            <button class="btn btn-main">Keep</button
            ><button type="button" class="btn" @click="editing = undefined">Cancel</button>
          </div>
        </form>
        <div v-else class="-ml-2 flex flex-wrap gap-x-2">
          <button type="button" class="btn btn-quiet" @click="edit(kind)">Add a {{ kind.one }}</button>
          <button
            v-for="one in kind.key === 'slabs' ? newSlabs : []"
            :key="one.name"
            type="button"
            class="btn btn-quiet"
            @click="addSlab(one)"
          >
            {{ one.name }}
          </button>
        </div>
      </section>

      <OwnMeasures
        v-model:settings="settings"
        :workshop="workshop"
        :send="send"
        :said="(field) => said('measures', field) ?? said('settings', field)"
        @keep="keepSettings"
      />

      <section class="lg:row-span-2" aria-labelledby="settings">
        <h2 id="settings" class="mb-2 text-lg">Settings of the studio</h2>
        <StudioSettings
          v-model:settings="settings"
          :workshop="workshop"
          :said="(field) => said('settings', field)"
          @keep="keepSettings"
        />
        <p class="mt-6">
          <RouterLink class="underline" to="/makers">Makers</RouterLink>: who may work here, devices that are
          signed in, and who did what.
        </p>
        <p class="mt-3">
          For programs: <a class="underline" href="/api-page.html">calculators and interface</a>.
        </p>
      </section>

      <section aria-labelledby="at-slab">
        <h2 id="at-slab" class="mb-2 text-lg">At the slab</h2>
        <form class="grid grid-cols-2 gap-3" @submit.prevent="keepSettings">
          <NumberField
            v-model="settings.scrape_interval_min"
            label="Scrape reminder every; 0 for none"
            unit="min"
            :refusal="said('settings', 'scrape_interval_min')"
            accepted="0 to 60"
          />
          <label class="flex items-center gap-3 pt-5 leading-tight"
            ><input v-model="settings.scrape_sound" type="checkbox" class="h-6 w-6 accent-act" />Sound at the
            slab for scrapes and minutes</label
          >
          <BalanceSettings
            v-model:settings="settings"
            :said="(field) => said('settings', field)"
            :kept="workshop.settings"
          />
          <ThermometerSettings
            v-model:settings="settings"
            :said="(field) => said('settings', field)"
            :kept="workshop.settings"
          />
          <div class="col-span-2"><button class="btn btn-main">Keep these settings</button></div>
        </form>
      </section>
      <BackupsBox class="mt-10" />
    </div>
  </div>
</template>
