<script setup lang="ts">
/** The end of a batch: the maker's verdict, tubes filled, what is left over. */
import { computed, reactive, ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { digits } from '@/kit/format'
import TubeRack from '@/kit/TubeRack.vue'
import VerdictMark from '@/rooms/batches/VerdictMark.vue'

const props = defineProps<{ view: Schemas['SlabView']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{
  finish: [
    verdict: Schemas['Verdict'],
    tubes: { tube_type_id: number; count: number }[],
    goes: Schemas['Goes'][],
  ]
  close: []
}>()
const { data: workshop } = useWorkshop()
/** Seen to be right a moment ago, it need not be said again. */
const verdict = ref<Schemas['Verdict'] | undefined>(props.view.phase === 'right' ? 'right' : undefined)
const counts = reactive<Record<number, number>>({})
for (const tube of props.view.tubes) if (tube.tube_type_id) counts[tube.tube_type_id] = tube.count
type Goes = Schemas['Goes']
/** Where the paint goes. Tubes filled by weight, or tomorrow, come in the filling run. */
const where = ref<'palette' | 'jar' | 'tubes' | 'later'>(
  props.view.tubes.length ? 'tubes' : props.view.habit.how === 'scale' ? 'later' : 'jar',
)
const WHERE: [typeof where.value, string][] = [
  ['palette', 'On the palette now'],
  ['jar', 'A jar, all of it'],
  ['tubes', 'Tubes'],
  ['later', 'I fill it later'],
]
/** What the full tubes leave: nothing, a jar, the palette, or one more tube that is not full. */
const rest = ref<string>('none')
const dab = ref(false)
const missing = ref('')
const VERDICTS: { key: Schemas['Verdict']; says: string }[] = [
  { key: 'stiff', says: 'stiffer than wanted' },
  { key: 'right', says: 'as wanted' },
  { key: 'soft', says: 'softer than wanted' },
]
const types = computed(() => workshop.value?.tube_types ?? [])
const full = computed(() =>
  Object.entries(counts)
    .filter(([, n]) => n > 0)
    .map(([id, count]) => ({ tube_type_id: Number(id), count })),
)
function goes(): Goes[] {
  const aside: Goes[] = dab.value ? [{ to: 'dab' }] : []
  if (where.value === 'palette' || where.value === 'jar') return [...aside, { to: where.value }]
  if (where.value === 'later' || rest.value === 'none') return aside
  if (rest.value === 'jar' || rest.value === 'palette') return [...aside, { to: rest.value }]
  return [...aside, { to: 'tube', tube_type_id: Number(rest.value) }]
}
function send(): void {
  missing.value = ''
  if (!verdict.value) missing.value = 'Say how it came out: stiff, right or soft.'
  else emit('finish', verdict.value, where.value === 'tubes' ? full.value : [], goes())
}
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="send" @keydown.esc.prevent="emit('close')">
    <h2 class="text-xl">How did it come out? Wanted: {{ view.target_body }}</h2>
    <p v-if="view.doubt" class="my-2 border-l-4 border-stop pl-3" role="status">
      {{
        view.doubt.of_entry
          ? 'An amount is still asked about.'
          : 'What you saw and what you logged still contradict each other.'
      }}
      Finished like this, the batch teaches nothing of its powder.
    </p>
    <div class="my-3 grid grid-cols-3 gap-2">
      <button
        v-for="choice in VERDICTS"
        :key="choice.key"
        type="button"
        class="btn btn-slab flex-col gap-0"
        :class="verdict === choice.key ? 'bg-act-wash! outline-3 outline-act' : ''"
        :aria-pressed="verdict === choice.key"
        @click="verdict = choice.key"
      >
        <VerdictMark :verdict="choice.key" /><span class="small quiet font-normal">{{ choice.says }}</span>
      </button>
    </div>
    <span v-if="refusal?.at('verdict')" class="refusal" role="alert">{{ refusal.at('verdict') }}</span>
    <h3 class="mb-1 text-lg">Where does the paint go?</h3>
    <div class="mb-3 flex flex-wrap gap-1.5" role="group" aria-label="Where the paint goes">
      <button
        v-for="[key, name] in WHERE"
        :key="key"
        type="button"
        class="btn btn-slab px-4"
        :class="where === key ? 'bg-ink! text-white' : ''"
        :aria-pressed="where === key"
        @click="where = key"
      >
        {{ name }}
      </button>
    </div>
    <div v-if="where === 'tubes'" class="flex flex-wrap items-end gap-x-8 gap-y-3">
      <fieldset>
        <legend class="label">Tubes filled</legend>
        <div v-for="type in types" :key="type.id" class="mb-1 flex items-center gap-2">
          <span class="w-32">{{ type.name }}</span>
          <button
            type="button"
            class="btn w-12 px-0 text-xl"
            :aria-label="`One ${type.name} less`"
            :disabled="!counts[type.id]"
            @click="counts[type.id] = (counts[type.id] ?? 0) - 1"
          >
            -
          </button>
          <output class="figure w-10 text-center text-2xl font-semibold" :aria-label="type.name">{{
            counts[type.id] ?? 0
          }}</output>
          <button
            type="button"
            class="btn w-12 px-0 text-xl"
            :aria-label="`One ${type.name} more`"
            @click="counts[type.id] = (counts[type.id] ?? 0) + 1"
          >
            +
          </button>
        </div>
        <span v-if="refusal?.at('tubes')" class="refusal" role="alert">{{ refusal.at('tubes') }}</span>
      </fieldset>
      <label
        ><span class="label">All that is left</span
        ><select v-model="rest" class="field">
          <option value="none">Nothing is left</option>
          <option value="jar">Into a jar</option>
          <option value="palette">On the palette now</option>
          <option v-for="type in types" :key="type.id" :value="String(type.id)">
            {{ type.name }}, not full
          </option>
        </select></label
      >
      <TubeRack
        :tubes="types.map((t) => ({ ...t, count: counts[t.id] ?? 0 }))"
        :colour="view.masstone_srgb"
      />
    </div>
    <label class="flex min-h-12 items-center gap-3"
      ><input v-model="dab" type="checkbox" class="h-6 w-6 accent-act" />A dab is set aside, to compare the
      next batch with</label
    >
    <p v-if="view.volume" class="small quiet mt-2">
      By what is on the slab the batch makes about
      <span class="figure">{{ digits(view.volume.value, 1) }}</span> ml.
    </p>
    <p v-else class="small quiet mt-2">
      Nobody said how much oil went in: the batch is taken for the body you saw. You can say it afterwards,
      too.
    </p>
    <span v-if="missing" class="refusal" role="alert">{{ missing }}</span>
    <span v-if="refusal && !refusal.at('tubes') && !refusal.at('verdict')" class="refusal" role="alert">{{
      refusal.words
    }}</span>
    <div class="mt-4 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">Finish the batch</button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
