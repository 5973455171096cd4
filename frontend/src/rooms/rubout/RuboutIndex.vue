<script setup lang="ts">
import ColourChip from '@/kit/ColourChip.vue'
import { keyOf, librarySource, lotOf, lotSource } from '@/kit/source'
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api } from '@/api/client'
import { useLots } from '@/api/queries'
import { day, digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { newId } from '@/kit/ids'
import NumberField from '@/kit/NumberField.vue'
import { useTried } from '@/kit/tried'
import MaterialPicker from '@/rooms/materials/MaterialPicker.vue'
import Term from '@/kit/Term.vue'

const route = useRoute()
const router = useRouter()
const { data: lots } = useLots()
const { data: tests } = useQuery({ queryKey: ['rubouts'], queryFn: () => answered(api.GET('/api/rubout')) })

const lot = ref('')
const oil = ref(librarySource('linseed-refined'))
const pigmentG = ref<number | null>(5)
const temperature = ref<number | null>(null)
const { refusal, trouble, busy, tried } = useTried('what you chose is kept')
const request = ref(newId())
watch([lot, oil, pigmentG, temperature], () => (request.value = newId()))
watch(
  () => route.query.lot,
  (id) => id && (lot.value = lotSource(String(id))),
  { immediate: true },
)

async function begin(): Promise<void> {
  if (!lot.value)
    return void (trouble.value = 'Choose the lot to test; a tin that is not there yet is received in Stock.')
  await tried(async () => {
    const made = await answered(
      api.POST('/api/rubout', {
        body: {
          request_id: request.value,
          lot_id: lotOf(lot.value)!,
          oil: lotOf(oil.value) != null ? { lot_id: lotOf(oil.value) } : { oil_key: keyOf(oil.value) },
          pigment_g: pigmentG.value as number,
          temperature_c: temperature.value,
        },
      }),
    )
    await router.push(`/rub-out/${made.id}`)
  })
}
useKeys(() => [{ key: 'b', does: 'begin the test', act: () => void begin(), when: () => !!lot.value }])
</script>

<template>
  <div class="pt-5">
    <h1 class="mb-1"><Term of="rub-out">Rub-out</Term></h1>
    <p class="max-w-prose">
      How much oil does this very powder take (its <Term of="oil absorption">oil absorption</Term>)? Weigh a
      little, work oil in by small steps until it just coheres, and Niddy knows this lot better from then on.
    </p>
    <div class="mt-5 grid gap-x-14 gap-y-8 lg:grid-cols-[26rem_1fr]">
      <form class="space-y-4 self-start border-2 border-ink bg-sheet p-4" @submit.prevent="begin">
        <h2 class="text-xl">Begin a test</h2>
        <MaterialPicker v-model="lot" lots-only kind="pigment" label="Lot" :refusal="refusal?.at('lot_id')" />
        <MaterialPicker v-model="oil" kind="oil" label="Oil" :refusal="refusal?.at('oil')" />
        <div class="grid grid-cols-2 gap-3">
          <NumberField
            v-model="pigmentG"
            label="Pigment weighed"
            unit="g"
            :refusal="refusal?.at('pigment_g')"
            accepted="0.2 to 100 g"
          />
          <NumberField
            v-model="temperature"
            label="Temperature, if known"
            unit="°C"
            :refusal="refusal?.at('temperature_c')"
            accepted="0 to 60"
          />
        </div>
        <p class="small">
          <strong>Mask and gloves</strong> while the powder is dry; wet wipe after. Follow the safety data
          sheet, local codes and licensed disposal.
        </p>
        <span v-if="trouble" class="refusal" role="alert">{{ trouble }}</span>
        <span
          v-if="refusal && !['lot_id', 'oil', 'pigment_g', 'temperature_c'].some((f) => refusal?.at(f))"
          class="refusal"
          role="alert"
          >{{ refusal.message }}</span
        >
        <button class="btn btn-main w-full text-lg" :disabled="busy">Begin</button>
      </form>
      <section aria-labelledby="tests">
        <h2 id="tests" class="mb-1 text-lg">Tests</h2>
        <p v-if="tests && !tests.length" class="quiet">
          None yet. {{ lots?.length ? 'Choose a lot and begin.' : 'Receive a tin in Stock first.' }}
        </p>
        <ul>
          <li v-for="test in tests ?? []" :key="test.id" class="hairline">
            <RouterLink class="flex min-h-14 items-center gap-4 hover:bg-white" :to="`/rub-out/${test.id}`">
              <ColourChip class="h-9 w-14" :colour="test.masstone_srgb" />
              <span class="flex-1"
                ><strong class="font-semibold">{{ test.pigment_name }}</strong
                >{{ ' '
                }}<span class="quiet small">lot {{ test.lot_code }}, {{ day(test.begun_at) }}</span></span
              >
              <span v-if="test.status === 'open'" class="font-semibold text-act">go on</span>
              <span v-else-if="test.status === 'abandoned'" class="quiet">given up: {{ test.reason }}</span>
              <span v-else
                ><span class="figure text-lg font-semibold">{{ digits(test.result_g_per_100g ?? 0, 1) }}</span
                >{{ ' ' }}<span class="quiet small">g per 100 g, reference oil</span></span
              >
            </RouterLink>
          </li>
        </ul>
      </section>
    </div>
  </div>
</template>
