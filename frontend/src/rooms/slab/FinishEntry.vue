<script setup lang="ts">
/** The end of a batch: the maker's verdict, tubes filled, what is left over. */
import { reactive, ref } from 'vue'
import type { Refused, Schemas } from '@/api/client'
import { useWorkshop } from '@/api/queries'
import { digits } from '@/kit/format'
import NumberField from '@/kit/NumberField.vue'
import TubeRack from '@/kit/TubeRack.vue'
import VerdictMark from '@/rooms/batches/VerdictMark.vue'

const props = defineProps<{ view: Schemas['SlabView']; refusal?: Refused; busy?: boolean }>()
const emit = defineEmits<{
  finish: [
    verdict: Schemas['Verdict'],
    tubes: { tube_type_id: number; count: number }[],
    leftoverMl: number,
    jar: boolean,
  ]
  close: []
}>()
const { data: workshop } = useWorkshop()
/** Seen to be right a moment ago, it need not be said again. */
const verdict = ref<Schemas['Verdict'] | undefined>(props.view.phase === 'right' ? 'right' : undefined)
const counts = reactive<Record<number, number>>({})
for (const tube of props.view.tubes) if (tube.tube_type_id) counts[tube.tube_type_id] = tube.count
const leftover = ref<number | null>(0)
/** All of it in one jar: nobody counts tubes then, nor ml. */
const jar = ref(false)
const missing = ref('')
const VERDICTS: { key: Schemas['Verdict']; says: string }[] = [
  { key: 'stiff', says: 'stiffer than wanted' },
  { key: 'right', says: 'as wanted' },
  { key: 'soft', says: 'softer than wanted' },
]
function send(): void {
  missing.value = ''
  if (!verdict.value) missing.value = 'Say how it came out: stiff, right or soft.'
  else if (jar.value) emit('finish', verdict.value, [], 0, true)
  else if (leftover.value == null) missing.value = 'Say how much is left over, in ml; 0 if nothing.'
  else
    emit(
      'finish',
      verdict.value,
      Object.entries(counts)
        .filter(([, n]) => n > 0)
        .map(([id, count]) => ({ tube_type_id: Number(id), count })),
      leftover.value,
      false,
    )
}
</script>

<template>
  <form class="border-2 border-ink bg-sheet p-4" @submit.prevent="send" @keydown.esc.prevent="emit('close')">
    <h2 class="text-xl">How did it come out, against {{ view.target_body }}?</h2>
    <p v-if="view.doubt" class="my-2 border-l-4 border-stop pl-3" role="status">
      Looks and log still contradict each other. Finished like this, the batch teaches nothing of its powder.
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
    <div class="mb-3 flex flex-wrap gap-1.5" role="group" aria-label="What it goes into">
      <button
        type="button"
        class="btn"
        :class="jar ? '' : 'bg-ink! text-white'"
        :aria-pressed="!jar"
        @click="jar = false"
      >
        Tubes, or later
      </button>
      <button
        type="button"
        class="btn"
        :class="jar ? 'bg-ink! text-white' : ''"
        :aria-pressed="jar"
        @click="jar = true"
      >
        All of it in one jar
      </button>
    </div>
    <div v-if="!jar" class="flex flex-wrap items-end gap-x-8 gap-y-3">
      <fieldset>
        <legend class="label">Tubes filled</legend>
        <div v-for="type in workshop?.tube_types ?? []" :key="type.id" class="mb-1 flex items-center gap-2">
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
      <NumberField
        v-model="leftover"
        class="w-44"
        large
        label="Left over"
        unit="ml"
        :refusal="refusal?.at('leftover_ml')"
      />
      <TubeRack
        :tubes="(workshop?.tube_types ?? []).map((t) => ({ ...t, count: counts[t.id] ?? 0 }))"
        :colour="view.masstone_srgb"
        :leftover-ml="leftover ?? 0"
      />
    </div>
    <p v-if="view.volume" class="small quiet mt-2">
      By what is on the slab the batch makes about
      <span class="figure">{{ digits(view.volume.value, 1) }}</span> ml.
    </p>
    <p v-else class="small quiet mt-2">
      Nobody said how much oil went in: the batch is taken for the body you saw. You can say it afterwards,
      too.
    </p>
    <span v-if="missing" class="refusal" role="alert">{{ missing }}</span>
    <span
      v-if="refusal && !refusal.at('tubes') && !refusal.at('leftover_ml') && !refusal.at('verdict')"
      class="refusal"
      role="alert"
      >{{ refusal.words }}</span
    >
    <div class="mt-4 flex gap-3">
      <button class="btn btn-main btn-slab px-8" :disabled="busy">Finish the batch</button>
      <button type="button" class="btn btn-slab px-5" @click="emit('close')">Cancel</button>
    </div>
  </form>
</template>
