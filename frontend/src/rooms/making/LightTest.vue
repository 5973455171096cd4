<script setup lang="ts">
/** The light test: half covered in a window, looked at after a week, a month and three months; a verdict. */
import { computed, ref } from 'vue'
import type { Refused } from '@/api/client'
import { day, digits } from '@/kit/format'
import { useWidth } from '@/kit/width'
import NumberField from '@/kit/NumberField.vue'
import { FADING, VERDICTS, type Run, type RunSaid } from './room'

const props = defineProps<{
  light: Run['trials']['light']
  now: string
  refusal?: Refused
  busy?: boolean
}>()
const emit = defineEmits<{ record: [said: RunSaid] }>()
const where = ref('')
const reading = ref(false)
const lab = () => ({ L: null as number | null, a: null as number | null, b: null as number | null })
const halves = ref({ covered: lab(), uncovered: lab() })
const missing = ref('')
function read(): void {
  const { covered, uncovered } = halves.value
  missing.value = [covered, uncovered].some((one) => Object.values(one).some((v) => v == null))
    ? 'Needed: L, a and b of both halves.'
    : ''
  if (!missing.value)
    emit('record', {
      kind: 'faded',
      covered: covered as { L: number; a: number; b: number },
      uncovered: uncovered as { L: number; a: number; b: number },
    })
}
const width = useWidth(280, 560)
const most = computed(() => props.light?.schedule_days.at(-1) ?? 84)
const x = (days: number) => 20 + (Math.min(days, most.value) / most.value) * (width.value - 40)
const SHADE = { none: '#1d545c', barely: '#5d8b91', clearly: '#b58f8b', gone: '#8f1d14' } as const
const FIELDS = ['L', 'a', 'b'] as const
</script>

<template>
  <section ref="box" aria-labelledby="light">
    <h3 id="light" class="font-semibold">Light test</h3>
    <div v-if="!light" class="flex flex-wrap items-end gap-3">
      <p class="basis-full">
        Paint a strip of it, cover one half with foil, and hang it in a bright window. Nothing else says
        whether it lasts.
      </p>
      <label class="min-w-52 flex-1"
        ><span class="label">Where it hangs</span><input v-model="where" class="field" maxlength="300"
      /></label>
      <button
        type="button"
        class="btn btn-main"
        :disabled="busy"
        @click="emit('record', { kind: 'light', text: where })"
      >
        It hangs
      </button>
    </div>
    <template v-else>
      <p>
        Hung {{ day(light.begun_at) }}<template v-if="light.where">, {{ light.where }}</template
        >; <span class="figure">{{ digits(light.days, 0) }}</span> days so far<template
          v-if="light.next_at && !light.verdict"
          >; look at it
          <strong :class="light.due ? 'text-stop' : ''">{{
            light.due ? `now (since ${day(light.next_at)})` : day(light.next_at)
          }}</strong></template
        >
      </p>
      <svg
        :viewBox="`0 0 ${width} 62`"
        class="block w-full"
        height="62"
        role="img"
        :aria-label="`Light test: ${light.looks.length} looks in ${digits(light.days, 0)} days`"
        font-size="13"
      >
        <path :d="`M20 26H${width - 20}`" stroke="#171717" stroke-width="1.5" />
        <g v-for="d in light.schedule_days" :key="d">
          <path :d="`M${x(d)} 18v16`" stroke="#171717" />
          <text :x="x(d)" y="54" :text-anchor="d === most ? 'end' : 'middle'">
            {{ d < 14 ? `${d} d` : `${d / 7} weeks` }}
          </text>
        </g>
        <path :d="`M20 26H${x(light.days)}`" stroke="#1d545c" stroke-width="5" />
        <circle
          v-for="look in light.looks"
          :key="look.days"
          :cx="x(look.days)"
          cy="26"
          r="9"
          :fill="SHADE[look.fading]"
          stroke="#171717"
          stroke-width="1.5"
        />
      </svg>
      <p v-if="light.looks.length" class="small">
        <template v-for="(look, n) in light.looks" :key="look.days"
          ><template v-if="n">; </template>day <span class="figure">{{ digits(look.days, 0) }}</span>:
          {{ FADING[look.fading]
          }}<template v-if="look.delta_e != null"
            >, <span class="figure">{{ digits(look.delta_e, 1) }}</span> dE00</template
          ></template
        >
      </p>
      <p v-if="light.verdict" class="text-lg">
        Verdict: <strong>{{ light.verdict_says }}</strong>
      </p>
      <template v-else>
        <div class="mt-2 flex flex-wrap gap-2" role="group" aria-label="The open half beside the covered one">
          <button
            v-for="(name, key) in FADING"
            :key="key"
            type="button"
            class="btn"
            :disabled="busy"
            @click="emit('record', { kind: 'faded', fading: key })"
          >
            {{ name }}
          </button>
          <button type="button" class="btn btn-quiet" :aria-expanded="reading" @click="reading = !reading">
            Read with a colour reader
          </button>
        </div>
        <div v-if="reading" class="mt-2 space-y-2">
          <div
            v-for="half in ['covered', 'uncovered'] as const"
            :key="half"
            class="flex flex-wrap items-end gap-2"
            role="group"
            :aria-label="half === 'covered' ? 'Covered half' : 'Open half'"
          >
            <span class="w-24">{{ half === 'covered' ? 'covered' : 'open' }}</span>
            <NumberField
              v-for="axis in FIELDS"
              :key="axis"
              v-model="halves[half][axis]"
              class="w-24"
              :label="axis"
              :refusal="refusal?.at(`${half}.${axis}`)"
            />
          </div>
          <span v-if="missing" class="refusal" role="alert">{{ missing }}</span>
          <button type="button" class="btn" :disabled="busy" @click="read">Keep both readings</button>
        </div>
        <p v-if="light.suggested" class="mt-2">
          By these looks <strong>{{ VERDICTS[light.suggested] }}</strong>.
        </p>
        <div v-if="light.looks.length" class="mt-1 flex flex-wrap gap-2" role="group" aria-label="Verdict">
          <button
            v-for="(name, key) in VERDICTS"
            :key="key"
            type="button"
            class="btn"
            :class="light.suggested === key ? 'btn-main' : ''"
            :disabled="busy"
            @click="emit('record', { kind: 'light_verdict', verdict: key })"
          >
            Verdict: {{ name }}
          </button>
        </div>
      </template>
    </template>
  </section>
</template>
