<script setup lang="ts">
/** The pot: one thing to do now, the thermometer, what is in it, the drop; afterwards its sticks and their trials. */
import { useQuery } from '@tanstack/vue-query'
import { computed, toRef } from 'vue'
import { answered, api } from '@/api/client'
import { clock, digits } from '@/kit/format'
import JobScreen from '@/kit/job/JobScreen.vue'
import DentEntry from './DentEntry.vue'
import DentScale from './DentScale.vue'
import { tapFor, usePot } from './pot'
import PotHead from './PotHead.vue'
import PotMaterials from './PotMaterials.vue'
import PotSticks from './PotSticks.vue'
import ThermoStrip from './ThermoStrip.vue'
import TrialsPanel from './TrialsPanel.vue'
import Term from '@/kit/Term.vue'

const props = defineProps<{ number: number }>()
const job = usePot(toRef(props, 'number'))
const { view, open, panel, refusal, sending, act, weight, temperature } = job
const advice = computed(() => view.value?.advice)
const live = computed(() => temperature.value?.temperature_c ?? null)
/** What goes into the pot: what is advised, or else the oil. */
function show(which: string): void {
  const advised = view.value?.entries.find((one) => one.wanted_g != null)
  const oil = view.value?.materials.find((one) => one.role === 'oil')?.source
  job.show(which === 'amount' ? (advised?.key ?? `amount:${oil}`) : which)
}
const tap = computed(() => {
  const now = view.value && open.value && tapFor(view.value, weight.value?.weight_g != null)
  return now ? { name: now.name, act: () => (now.said ? void act(now.said) : show(now.panel!)) } : undefined
})
const poured = computed(() => view.value?.strip.poured_c != null || view.value?.cold_at != null)
const readLive = () => void act({ kind: 'temperature', temperature_c: Math.round(live.value!) })
const acts = computed(() => [
  { name: 'Into the pot', key: 'i', does: 'something into the pot', act: () => show('amount') },
  {
    name: 'Thermometer',
    figure: live.value != null ? digits(live.value, 0) : undefined,
    act: () => (live.value != null ? readLive() : show('temperature')),
  },
  ...(poured.value
    ? [{ name: 'A flaw', act: () => show('flaw') }]
    : [
        { name: 'Stirred', key: 's', act: () => void act({ kind: 'stir' }) },
        { name: 'A drop', key: 'd', does: 'read a drop', act: () => show('drop') },
      ]),
])
const asides = computed(() => [
  { name: 'Note', key: 'n', does: 'write a note', always: true, act: () => show('note') },
  ...(open.value
    ? [
        { name: 'Temperature', key: 't', does: 'the thermometer', act: () => show('temperature') },
        { name: 'Heat is off', act: () => void act({ kind: 'heat_off' }) },
        { name: 'Poured', key: 'p', act: () => show('pour') },
        { name: 'Paste of a tube', act: () => show('paste') },
        { name: 'Give it up', act: () => show('abandon') },
      ]
    : []),
])
const { data: shelf } = useQuery({
  queryKey: ['shelf', 'paste'],
  enabled: () => panel.value === 'paste',
  queryFn: () => answered(api.GET('/api/shelf', { params: { query: { limit: 200 } } })),
})
const offered = computed(() => ({
  item_id: (shelf.value?.items ?? [])
    .filter((item) => !item.unknown_hazard)
    .map((item) => ({
      value: item.id,
      label: `${item.code} ${item.name}, ${digits(item.volume_ml, 1)} ml`,
    })),
}))
const dent = computed(() => view.value?.dent)
const read = computed(() => view.value?.dents.length)
const DEFERENCE = 'Follow the safety data sheets, local codes and licensed disposal.'
const ALWAYS = 'Hot wax burns: thermometer in, lid at hand, never left alone, no water into it.'
</script>

<template>
  <JobScreen
    :job="job"
    what="pot"
    :all="['/sticks', 'All of the sticks']"
    :acts="acts"
    :asides="asides"
    :tap="tap"
    thumb
    pictures
    :offered="offered"
    :cautions="view?.cautions ?? []"
    :always="ALWAYS"
    :deference="DEFERENCE"
  >
    <template v-if="view" #head
      ><PotHead
        :view="view"
        :waits="job.waiting.value.length"
        :followed="job.followed.value"
        :offline="job.offline.value"
        :lasting="job.lasting.value"
    /></template>
    <template v-if="view" #above>
      <p
        v-if="open && advice?.urgent"
        class="border-4 border-stop bg-white p-3 text-xl font-semibold text-stop"
        role="alert"
      >
        {{ advice.urgent }}
      </p>
    </template>
    <template v-if="view" #offline
      ><p class="mt-2 border-l-4 border-ink pl-3">
        <strong>Mind the heat:</strong> pour at {{ digits(view.strip.pour_low_c, 0) }} to
        {{ digits(view.strip.pour_high_c, 0) }} °C, never above {{ digits(view.strip.most_c, 0) }} °C.
      </p></template
    >
    <template v-if="view" #entry>
      <DentEntry
        :of="panel === 'dent' ? 'dent' : 'drop'"
        :colour="view.masstone_srgb"
        :zones="view.zones"
        :refusal="refusal"
        :busy="sending"
        @record="act"
        @close="job.close()"
      />
    </template>
    <template v-if="view && open && advice" #advice>
      <p class="text-[2.1rem] leading-[1.1] font-semibold">
        {{ advice.step.says
        }}<template v-if="advice.grams != null"
          >&ensp;<template v-if="view.told[advice.source ?? '']"
            >{{ view.told[advice.source ?? '']!.words
            }}<span class="quiet block text-lg font-normal"
              >about {{ digits(view.told[advice.source ?? '']!.grams, 1) }} g</span
            ></template
          ><template v-else-if="Object.keys(view.told).length">all of it</template
          ><span v-else class="figure whitespace-nowrap">{{ digits(advice.grams, 1) }} g</span></template
        >
      </p>
      <p v-if="advice.step.how" class="mt-1">{{ advice.step.how }}</p>
      <ul v-if="Object.keys(advice.parts ?? {}).length" class="mt-1">
        <li v-for="(grams, part) in advice.parts" :key="part">
          <span v-if="view.told[part]" class="text-xl font-semibold">{{ view.told[part]!.words }}</span><span
            v-else
            class="figure text-xl font-semibold"
            >{{ digits(grams, 1) }} g</span
          >
          {{ view.materials.find((m) => m.source === part)?.name ?? part }}
        </li>
      </ul>
      <p v-if="view.cold_at" class="mt-1">
        Set by about <span class="figure font-semibold">{{ clock(view.cold_at) }}</span>
      </p>
      <p v-if="advice.step.done_when" class="small quiet mt-1">Good: {{ advice.step.done_when }}</p>
      <p v-if="advice.step.caution" class="mt-2 border-l-4 border-stop pl-3">
        {{ advice.step.caution }}
      </p>
    </template>
    <template v-if="view" #now>
      <TrialsPanel
        v-if="view.status === 'finished'"
        :view="view"
        :refusal="panel ? undefined : refusal"
        :busy="sending"
        @record="act"
        @dent="show('dent')"
        @flaw="show('flaw')"
        @note="show('note')"
      />
    </template>
    <template v-if="view">
      <ThermoStrip v-if="open" :strip="view.strip" :live="live" :now-at="view.now" />
      <DentScale
        :zones="view.zones"
        :target="view.target_dmm"
        :low="dent ? undefined : view.target_low_dmm"
        :high="dent ? undefined : view.target_high_dmm"
        :pointer="dent?.value"
        :pointer-low="dent?.low"
        :pointer-high="dent?.high"
      />
      <p v-if="dent" class="small quiet -mt-2">
        <Term of="dent">Dent</Term>.
        {{
          read
            ? 'Now: worked out from what is in the pot and from every drop read.'
            : 'Now: worked out from what is in the pot. A drop says how it really is.'
        }}
      </p>
      <PotSticks v-if="view.status === 'finished'" :view="view" />
    </template>
    <template v-if="view" #side><PotMaterials :view="view" /></template>
  </JobScreen>
</template>
