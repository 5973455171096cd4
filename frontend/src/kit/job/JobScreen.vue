<script setup lang="ts">
/**
 * The screen of any job at the bench: one thing to do now, the acts under the thumb, what is entered, its log, and
 * what to do while the server is away. A room gives its own drawings as slots.
 */
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import CautionList from '@/kit/CautionList.vue'
import { useKeys } from '@/kit/keys'
import LogList from '@/kit/log/LogList.vue'
import NotTaken from '@/kit/log/NotTaken.vue'
import OfflineBox from '@/kit/log/OfflineBox.vue'
import TakePicture from '@/kit/log/TakePicture.vue'
import ActEntry from './ActEntry.vue'
import type { Act, Job, Offer, Tap } from './job'

const props = defineProps<{
  job: Job
  /** What it is called where there is none of that number, and where all of them are. */
  what: string
  all: [to: string, says: string]
  acts: Act[]
  /** Acts that are made seldom, under the side. */
  asides: Act[]
  tap?: Tap
  /** The acts stay under the thumb on a phone. */
  thumb?: boolean
  pictures?: boolean
  logTitle?: string
  earlier?: number
  /** What fields of an entry may be picked from, where the screen asked for it. */
  offered?: Record<string, Offer[]>
  cautions: Schemas['Caution'][]
  always: string
  deference: string
}>()
const { job } = props
const { view, open, gone, isError, panel, entry, refusal, sending, offline, waiting, waitsFor, wide, last } =
  job
const { picture, ready } = job
const group = computed(() =>
  entry.value?.group ? view.value?.entries.filter((one) => one.group === entry.value!.group) : undefined,
)
function tapped(): void {
  if (!sending.value && !offline.value) props.tap?.act()
}
const idle = () => !panel.value
useKeys(() => [
  { key: 'Enter', does: 'do what the large line says', act: tapped, when: ready },
  ...[...props.acts, ...props.asides]
    .filter((one) => one.key)
    .map((one) => ({
      key: one.key!,
      does: one.does ?? one.name.toLowerCase(),
      act: one.act,
      when: one.always ? idle : ready,
    })),
  ...(props.pictures
    ? [{ key: 'h', does: 'take a picture', act: () => picture.value?.open(), when: idle }]
    : []),
  { key: 'x', does: 'undo the last act', act: () => void job.undo(), when: ready },
  { key: 'Escape', does: 'close what is open', act: () => job.close(), when: () => !!panel.value },
])
</script>

<template>
  <section v-if="gone" class="py-12">
    <h1>There is no {{ what }} {{ job.number.value }}.</h1>
    <RouterLink class="underline" :to="all[0]">{{ all[1] }}</RouterLink>
  </section>
  <p v-else-if="isError && !view" class="refusal py-10 text-lg" role="alert">
    The server does not answer. What was acknowledged is safe; this screen tries again by itself.
  </p>
  <div v-else-if="view" class="pt-4" :class="open && thumb ? 'max-lg:pb-44' : ''">
    <slot name="head" />
    <NotTaken :log="{ room: job.room, number: job.number.value }" />
    <div class="grid gap-x-8 gap-y-5 lg:grid-cols-[1fr_23rem]">
      <div
        :ref="(element) => (job.work.value = element as HTMLElement)"
        class="min-w-0 scroll-mt-2 space-y-4"
      >
        <slot name="above" />
        <OfflineBox v-if="offline" :waiting="waiting" :waits-for="waitsFor"
          ><slot name="offline"
        /></OfflineBox>
        <slot v-if="panel && $slots.entry && !entry" name="entry" />
        <ActEntry
          v-else-if="entry"
          :key="entry.key"
          :entry="entry"
          :group="group"
          :offered="offered"
          :weight="job.weight.value"
          :temperature="job.temperature.value?.temperature_c"
          :ph="job.acidity.value?.ph"
          :refusal="refusal"
          :busy="sending"
          @record="job.entered"
          @close="job.close()"
          @other="job.show"
        />
        <div
          v-else-if="$slots.advice && !(offline && open)"
          class="border-2 border-ink bg-sheet p-4"
          data-part="advice"
        >
          <div class="flex flex-wrap items-center gap-x-6 gap-y-3">
            <div class="min-w-64 flex-1"><slot name="advice" /></div>
            <button
              v-if="tap && (wide || !thumb)"
              type="button"
              class="btn btn-main btn-slab min-w-48 px-6 text-xl max-sm:w-full"
              :disabled="sending"
              @click="tapped"
            >
              {{ tap.name }}<kbd class="keycap max-sm:hidden">Enter</kbd>
            </button>
          </div>
          <span v-if="refusal" class="refusal" role="alert">{{ refusal.words }}</span>
          <button
            v-if="open && !wide && last"
            type="button"
            class="btn btn-quiet mt-2 -ml-2"
            @click="job.undo()"
          >
            Undo: {{ last.text }}
          </button>
        </div>
        <slot name="now" />
        <div
          v-if="open && (wide || !panel)"
          :class="thumb ? 'thumb-bar' : 'flex flex-wrap gap-2'"
          role="group"
          aria-label="Acts"
        >
          <button
            v-if="tap && thumb && !wide"
            type="button"
            class="btn btn-main btn-slab basis-full text-xl"
            :disabled="sending || offline"
            @click="tapped"
          >
            {{ tap.name }}
          </button>
          <button
            v-for="one in acts"
            :key="one.name"
            type="button"
            class="btn btn-slab act-beside"
            :disabled="one.off"
            @click="one.act()"
          >
            {{ one.name }}<span v-if="one.figure" class="figure">{{ one.figure }}</span>
          </button>
          <button v-if="wide" type="button" class="btn btn-slab px-4" :disabled="!last" @click="job.undo()">
            Undo
          </button>
        </div>
        <slot />
        <CautionList :cautions="cautions" :always="always" :deference="deference" />
      </div>
      <div class="space-y-5">
        <slot name="side" />
        <div class="-ml-2 flex flex-wrap">
          <button v-if="pictures" type="button" class="btn btn-quiet" @click="picture?.open()">
            Picture
          </button>
          <button
            v-for="one in asides"
            :key="one.name"
            type="button"
            class="btn btn-quiet"
            @click="one.act()"
          >
            {{ one.name }}
          </button>
        </div>
        <LogList
          :title="logTitle ?? 'Log'"
          :lines="view.timeline"
          :earlier="earlier"
          :busy="sending"
          :photos="pictures ? `/api/${job.room}/${job.number.value}/photos` : undefined"
          @strike="job.strike"
        />
        <slot name="foot" />
      </div>
    </div>
    <TakePicture v-if="pictures" ref="picture" camera label="Take a picture" @picture="job.pictured" />
  </div>
</template>
