<script setup lang="ts">
/** A day: its hours, its lines by the clock, what does not fit; put on, move, print, take along as a calendar. */
import { computed, ref, toRef } from 'vue'
import { answered, api } from '@/api/client'
import { useHome } from '@/api/queries'
import FigureValue from '@/kit/FigureValue.vue'
import { digits } from '@/kit/format'
import DayLines from './DayLines.vue'
import DaySheet from './DaySheet.vue'
import HoursForm from './HoursForm.vue'
import SurfaceLine from '@/rooms/slab/SurfaceLine.vue'
import PutOn from './PutOn.vue'
import { clockOf, dateSaid, dayBeside, offset, useDay } from './room'

const props = defineProps<{ on?: string; studio: string }>()
const { day, isError, refusal, moved, busy, put, takeOff, setMinutes, setHours, setOrder } = useDay(
  toRef(props, 'on'),
)
const { data: home } = useHome()
const dirty = computed(() => home.value?.slabs.filter((slab) => slab.surface === 'to_clean') ?? [])
const hours = ref(false)
const feed = ref('')
async function address(anew: boolean): Promise<void> {
  const params = { query: { utc_offset_min: offset() } }
  feed.value = (await answered(api.POST('/api/day/feed', { params, body: { anew } }))).address
}
const page = () => window.print()
</script>

<template>
  <p v-if="isError && !day" class="refusal" role="alert">
    The server does not answer: the day comes when it does.
  </p>
  <section v-else-if="day" aria-labelledby="day">
    <DaySheet :day="day" :studio="studio" />
    <div class="print:hidden">
      <div class="mb-1 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <h1 id="day" class="text-2xl">{{ day.today ? 'Today' : 'The day' }}, {{ dateSaid(day.on_date) }}</h1>
        <span class="flex-1" />
        <RouterLink class="btn btn-quiet px-2" :to="`/day/${dayBeside(day.on_date, -1)}`"
          >The day before</RouterLink
        >
        <RouterLink class="btn btn-quiet px-2" :to="`/day/${dayBeside(day.on_date, 1)}`">{{
          day.today ? 'Tomorrow' : 'The day after'
        }}</RouterLink>
        <RouterLink v-if="!day.today" class="btn btn-quiet px-2" to="/day">Today</RouterLink>
      </div>
      <p class="text-lg">
        <strong>{{ day.says }}</strong>
        <template v-if="day.cleaning.value && !day.order_by_hand">
          The order is the one with the least cleaning.</template
        >
      </p>
      <FigureValue v-if="day.cleaning.value" class="my-1 w-44" :figure="day.cleaning" />
      <p class="quiet flex flex-wrap items-baseline gap-x-3">
        <span
          ><span class="figure">{{ clockOf(day.start_min) }}</span> to
          <span class="figure">{{ clockOf(day.end_min) }}</span>{{
            day.slabs > 1 ? `, ${day.slabs} slabs` : ''
          }}. {{ day.pace_says }}</span
        ><button type="button" class="btn btn-quiet px-1" :aria-expanded="hours" @click="hours = !hours">
          Change the hours
        </button>
      </p>
      <HoursForm
        v-if="hours"
        class="my-2"
        :day="day"
        :refusal="refusal"
        :busy="busy"
        @close="hours = false"
        @keep="async (asked) => (hours = !(await setHours(asked)))"
      />
      <p v-if="day.order_by_hand || moved != null" class="my-2 border-l-4 border-act pl-3" role="status">
        <template v-if="moved != null"
          >Moved: <span class="figure">{{ moved >= 0 ? '+' : '' }}{{ digits(moved, 0) }}</span> min of
          cleaning.
        </template>
        <template v-if="day.order_by_hand">
          {{ day.order_says }}
          <button type="button" class="btn" :disabled="busy" @click="setOrder(null)">
            Least cleaning
          </button></template
        >
      </p>
      <template v-if="day.today">
        <SurfaceLine v-for="slab in dirty" :key="slab.slab_id" class="my-2" :slab="slab" :now="home!.now" />
      </template>
      <p v-if="refusal && !hours" class="refusal" role="alert">{{ refusal.words }}</p>

      <DayLines
        class="mt-2"
        :day="day"
        :busy="busy"
        @order="setOrder"
        @off="(line) => line.job_id && takeOff(line.job_id)"
        @minutes="(line, minutes) => line.job_id && setMinutes(line.job_id, minutes)"
      />
      <section
        v-if="day.left_over.length"
        class="mt-3 border-l-4 border-stop pl-4"
        aria-labelledby="left-over"
      >
        <h3 id="left-over" class="text-lg text-stop">Does not fit</h3>
        <ul>
          <li
            v-for="line in day.left_over"
            :key="line.key"
            class="flex min-h-12 flex-wrap items-center gap-x-3"
          >
            <RouterLink class="flex-1 underline" :to="line.page"
              >{{ line.what }} {{ line.name
              }}<template v-if="line.status === 'going'">, on the slab now</template></RouterLink
            ><span class="small quiet"
              ><span class="figure">{{ digits(line.minutes, 0) }}</span> min{{
                line.says && `, ${line.says}`
              }}</span
            ><button
              v-if="line.job_id"
              type="button"
              class="btn btn-quiet px-2"
              :disabled="busy"
              @click="takeOff(line.job_id)"
            >
              Take off
            </button>
          </li>
        </ul>
      </section>
      <ul v-if="day.ticked.length" class="mt-3" aria-label="Done of what was put on">
        <li v-for="line in day.ticked" :key="line.key" class="hairline">
          <RouterLink class="flex min-h-12 items-center gap-4" :to="line.page"
            ><span class="figure w-16">{{ line.done_min != null ? clockOf(line.done_min) : '' }}</span
            ><svg viewBox="0 0 20 20" width="20" height="20" aria-hidden="true">
              <path d="M2 11l5 5L18 4" fill="none" stroke="#171717" stroke-width="3" /></svg
            ><span class="quiet">{{ line.what }} {{ line.name }}, done</span></RouterLink
          >
        </li>
      </ul>
      <PutOn class="mt-4" :on="day.on_date" :busy="busy" :refusal="refusal" @put="put">
        <button type="button" class="btn" @click="page">Print the day</button>
        <a class="btn" href="/api/day/calendar.ics" download>Calendar file</a>
        <button type="button" class="btn" @click="address(false)">For a phone</button>
      </PutOn>
      <div v-if="feed" class="mt-3 border-2 border-ink bg-sheet p-3">
        <p class="mb-1">
          A phone's calendar subscribes to this address and stays up to date. Who has it can read what is due
          here.
        </p>
        <p class="figure break-all select-all" aria-label="Address of the calendar">{{ feed }}</p>
        <button type="button" class="btn btn-quiet -ml-3" @click="address(true)">
          A new address: the old one ends
        </button>
      </div>
    </div>
  </section>
</template>
