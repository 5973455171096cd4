<script setup lang="ts">
/** The waste book: every litre that left a run, what it may hold, where it stands or went; prints as it is. */
import { useQuery } from '@tanstack/vue-query'
import { answered, api } from '@/api/client'
import { day, digits } from '@/kit/format'

const { data: book, isError } = useQuery({
  queryKey: ['making', 'waste'],
  queryFn: () => answered(api.GET('/api/making/waste')),
})
const WAYS = { kept: 'kept here', handed_over: 'handed over', drain: 'poured away' } as const
const litres = (ml: number) => digits(ml / 1000, 1)
const print = () => window.print()
</script>

<template>
  <p v-if="isError && !book" class="refusal py-10 text-lg" role="alert">
    The server does not answer; this screen tries again by itself.
  </p>
  <div v-else-if="book" class="pt-5">
    <div class="mb-4 flex flex-wrap items-center gap-4">
      <h1 class="min-w-[60%] flex-1 sm:min-w-80">
        Waste book<span class="quiet block text-base font-normal"
          >every litre that left a run; what holds metals goes to licensed disposal, never down the
          drain</span
        >
      </h1>
      <p class="text-lg">
        <strong class="figure text-3xl">{{ litres(book.kept_ml) }}</strong> l kept here,
        <strong class="figure text-3xl">{{ litres(book.handed_ml) }}</strong> l handed over
      </p>
      <button type="button" class="btn" @click="print">Print it</button>
    </div>
    <p v-if="!book.entries.length" class="quiet">Nothing is in it yet.</p>
    <table v-else class="w-full">
      <thead class="small quiet text-left">
        <tr>
          <th class="font-normal" scope="col">day</th>
          <th class="font-normal" scope="col">of</th>
          <th class="text-right font-normal" scope="col">litres</th>
          <th class="pl-5 font-normal" scope="col">may hold</th>
          <th class="font-normal" scope="col">where</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in book.entries" :key="one.id" class="hairline align-top">
          <td class="py-2 whitespace-nowrap">{{ day(one.at) }}</td>
          <td class="py-2">
            <RouterLink class="underline" :to="`/making/runs/${one.run_number}`"
              >{{ one.run_name }}, run {{ one.run_number }}</RouterLink
            >
          </td>
          <td class="figure py-2 text-right font-semibold">{{ litres(one.ml) }}</td>
          <td class="py-2 pl-5" :class="one.holds.length ? 'text-stop' : 'quiet'">
            {{ one.holds.join(', ') || 'salts of the process' }}
          </td>
          <td class="py-2">
            {{ WAYS[one.way] }}<template v-if="one.where">: {{ one.where }}</template
            ><template v-if="one.handed_over_at"
              >, {{ day(one.handed_over_at)
              }}<template v-if="one.handed_to">, {{ one.handed_to }}</template></template
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p class="mt-3">Follow the safety data sheets, local codes and licensed disposal.</p>
  </div>
</template>
