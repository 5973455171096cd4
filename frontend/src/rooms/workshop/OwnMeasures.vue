<script setup lang="ts">
/** What one measures with: the spoons at hand, and measures of one's own by any of five ways to say what they hold. */
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import NumberField from '@/kit/NumberField.vue'
import OneOf from '@/kit/OneOf.vue'
import { digits } from '@/kit/format'

const props = defineProps<{
  workshop: Schemas['Workshop']
  send: (part: string, asked: Promise<Schemas['Workshop']>, words: string) => Promise<boolean>
  said: (field: string) => string | undefined
}>()
const settings = defineModel<Schemas['SettingsAsked']>('settings', { required: true })
const emit = defineEmits<{ keep: [] }>()

const missing = computed(() => new Set(settings.value.spoons_missing ?? []))
function own(unit: Schemas['Unit']): void {
  const gone = new Set(missing.value)
  if (!gone.delete(unit)) gone.add(unit)
  settings.value.spoons_missing = [...gone]
  emit('keep')
}

type Measure = Omit<Schemas['OwnMeasureAsked'], 'amount'> & { id: number | null; amount: number | null }
const NAMES = ['straw', 'pipette', 'scoop', 'bottle cap', 'jar lid', 'cup']
const HOLDS: { key: Schemas['Holds']; name: string; figure: string; unit: string }[] = [
  { key: 'ml', name: 'so many ml', figure: 'It holds', unit: 'ml' },
  { key: 'spoons', name: 'so many of a spoon', figure: 'How many', unit: '' },
  { key: 'drops', name: 'drops, counted', figure: 'How many', unit: 'drops' },
  { key: 'weighed', name: 'weighed full of water', figure: 'The water weighs', unit: 'g' },
  { key: 'unknown', name: 'nobody knows', figure: '', unit: '' },
]
const editing = ref<Measure>()
const holds = computed(() => HOLDS.find((one) => one.key === editing.value?.holds)!)
const edit = (one?: Schemas['OwnMeasureKept']) =>
  (editing.value = one
    ? { ...one, amount: one.amount ?? null }
    : { id: null, name: '', powder: false, liquid: true, holds: 'ml', amount: null, spoon: 'teaspoon' })
function call(name: string): void {
  editing.value!.name = name
  editing.value!.powder = !['straw', 'pipette'].includes(name)
  editing.value!.liquid = name !== 'scoop'
}
async function keep(): Promise<void> {
  const { id, name, powder, liquid, holds, amount, spoon } = editing.value!
  const body = { name, powder, liquid, holds, amount, spoon }
  const asked = answered(
    id
      ? api.PUT('/api/workshop/measures/{measure_id}', { params: { path: { measure_id: id } }, body })
      : api.POST('/api/workshop/measures', { body }),
  )
  if (await props.send('measures', asked, `The ${name} is kept.`)) editing.value = undefined
}
const remove = (one: Schemas['OwnMeasureKept']) =>
  props.send(
    'measures',
    answered(
      api.DELETE('/api/workshop/{kind}/{item_id}', {
        params: { path: { kind: 'measures', item_id: one.id } },
      }),
    ),
    `The ${one.name} is removed; what was taken with it keeps its amounts.`,
  )
const what = (one: { powder: boolean; liquid: boolean }) =>
  one.powder && one.liquid ? 'powder and oil' : one.powder ? 'powder' : 'oil'
</script>

<template>
  <section aria-labelledby="measures">
    <h2 id="measures" class="mb-1 text-lg">What you measure with</h2>
    <p class="mb-2">Take out the spoons you do not own: no amount is told in them.</p>
    <div class="flex flex-wrap gap-1.5" role="group" aria-label="Spoons and cups you own">
      <button
        v-for="one in workshop.spoons"
        :key="one.unit"
        type="button"
        class="btn px-3 text-[0.95rem]"
        :class="missing.has(one.unit) ? 'line-through text-quiet' : 'bg-act-wash!'"
        :aria-pressed="!missing.has(one.unit)"
        @click="own(one.unit)"
      >
        {{ one.one }}
      </button>
    </div>
    <span v-if="said('spoons_missing')" class="refusal" role="alert">{{ said('spoons_missing') }}</span>
    <ul class="mt-3">
      <li
        v-for="one in workshop.own_measures"
        :key="one.id"
        class="hairline flex min-h-14 flex-wrap items-center gap-3"
      >
        <span class="flex-1 font-semibold">{{ one.name }}</span>
        <span
          >for {{ what(one)
          }}<template v-if="one.holds === 'unknown'"
            >, <span class="quiet">what it holds is not known</span></template
          ><template v-else
            >, <span class="figure">{{ digits(one.ml, one.ml < 10 ? 1 : 0) }}</span> ml</template
          ></span
        >
        <button type="button" class="btn btn-quiet" :aria-label="`Change ${one.name}`" @click="edit(one)">
          change
        </button>
        <button type="button" class="btn btn-quiet" :aria-label="`Remove ${one.name}`" @click="remove(one)">
          remove
        </button>
      </li>
    </ul>
    <form
      v-if="editing"
      class="mt-2 border-2 border-ink bg-sheet p-4"
      aria-label="A measure of your own"
      @submit.prevent="keep"
      @keydown.esc="editing = undefined"
    >
      <OneOf
        class="mb-2"
        label="What it is"
        :model-value="editing.name"
        :of="NAMES.map((name) => [name, name] as const)"
        @update:model-value="call(String($event))"
      />
      <label
        ><span class="label">Its name</span
        ><input
          v-model="editing.name"
          class="field"
          maxlength="30"
          :aria-invalid="said('name') ? 'true' : undefined"
        /><span v-if="said('name')" class="refusal" role="alert">{{ said('name') }}</span></label
      >
      <div class="mt-3 flex flex-wrap gap-x-6 gap-y-1">
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="editing.liquid" type="checkbox" class="h-7 w-7 accent-act" />for oil</label
        >
        <label class="flex min-h-12 items-center gap-3"
          ><input v-model="editing.powder" type="checkbox" class="h-7 w-7 accent-act" />for powder</label
        >
      </div>
      <span v-if="said('powder')" class="refusal" role="alert">{{ said('powder') }}</span>
      <p class="label mt-2">What it holds</p>
      <OneOf
        v-model="editing.holds"
        label="What it holds"
        :of="HOLDS.map((one) => [one.key, one.name] as const)"
      />
      <div v-if="holds.figure" class="mt-3 flex flex-wrap items-end gap-3">
        <NumberField
          v-model="editing.amount"
          class="w-40"
          :label="holds.figure"
          :unit="holds.unit"
          :refusal="said('amount')"
        />
        <label v-if="editing.holds === 'spoons'"
          ><span class="label">of a level</span
          ><select v-model="editing.spoon" class="field">
            <option v-for="one in workshop.spoons" :key="one.unit" :value="one.unit">{{ one.one }}</option>
          </select></label
        >
      </div>
      <p v-else class="mt-2">
        You can type it in; it counts with a wide spread, and no amount is told in it.
      </p>
      <div class="mt-3 flex gap-3">
        <button class="btn btn-main">Keep</button
        ><button type="button" class="btn" @click="editing = undefined">Cancel</button>
      </div>
    </form>
    <button v-else type="button" class="btn btn-quiet -ml-2" @click="edit()">
      Add a straw, a scoop, a cap
    </button>
  </section>
</template>
