<script setup lang="ts">
/** The whole studio out, and another in: seen first, then all or nothing. */
import { computed, ref } from 'vue'
import { answered, api, queryClient, type Schemas } from '@/api/client'
import { clock, day } from '@/kit/format'
import { useHere } from '@/kit/here'
import { useTried } from '@/kit/tried'

type Look = Schemas['PackageLook']
const { here } = useHere()
const seen = ref<Look>()
const how = ref<Schemas['How']>()
const sure = ref(false)
const done = ref('')
const { refusal, trouble, busy, tried } = useTried('nothing was changed')

async function choose(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  seen.value = how.value = undefined
  sure.value = false
  done.value = ''
  await tried(async () => {
    seen.value = await answered(
      api.POST('/api/package/look', {
        body: file as never,
        bodySerializer: (body: unknown) => body as Blob,
        headers: { 'content-type': 'application/zip' },
      }),
    )
    how.value = seen.value.ways[0]
  })
}
async function takeIn(): Promise<void> {
  const look = seen.value
  if (!look || !how.value) return
  const params = { path: { token: look.token } }
  await tried(async () => {
    const taken = await answered(api.POST('/api/package/{token}', { params, body: { how: how.value! } }))
    done.value = `It is all in: ${taken.rows} records.`
    seen.value = undefined
    void queryClient.invalidateQueries()
  })
}
const sum = (what: 'new' | 'same' | 'otherwise') =>
  seen.value?.tables.reduce((total, table) => total + table[what], 0) ?? 0
const news = computed(() => sum('new'))
const others = computed(() => sum('otherwise'))
const says = computed(() => {
  if (seen.value?.here_is_empty) return 'Nothing is recorded here yet: it comes in whole.'
  if (others.value) {
    return `${others.value} of its records have the numbers of records here and say otherwise. They cannot stand side by
      side: it comes in only in place of all that is here.`
  }
  return news.value ? 'Nothing in it contradicts what is here.' : 'All of it is here already.'
})
</script>

<template>
  <h1 class="mt-4 text-2xl">The whole studio</h1>
  <div class="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-2">
    <section aria-labelledby="out">
      <h2 id="out" class="mb-1 text-lg">Out</h2>
      <p>
        Every record and picture in one zip: tables that any spreadsheet reads, with each column and its unit
        explained. For safekeeping, another machine, or your own sums. Passwords and PINs stay here.
      </p>
      <a class="btn mt-3 inline-flex" href="/api/package" download>Save the whole studio</a>
    </section>
    <section aria-labelledby="in">
      <h2 id="in" class="mb-1 text-lg">In</h2>
      <p>A zip saved there by "Save the whole studio". You see what would come in before anything does.</p>
      <label class="btn mt-3 inline-flex cursor-pointer" :class="busy ? 'opacity-60' : ''"
        >{{ busy && !seen ? 'Looking into it' : 'Choose the zip'
        }}<input
          type="file"
          accept=".zip,application/zip"
          class="sr-only"
          :disabled="busy"
          aria-label="A studio's zip"
          @change="choose"
      /></label>
      <p v-if="refusal || trouble" class="refusal mt-2" role="alert">{{ refusal?.words ?? trouble }}</p>
      <p v-if="done" class="mt-2 text-lg font-semibold" role="status">{{ done }}</p>
    </section>
    <section v-if="seen" class="border-2 border-ink bg-sheet p-4 lg:col-span-2" aria-labelledby="would">
      <h2 id="would" class="text-lg">What would come in</h2>
      <p class="mt-1">
        <template v-if="seen.made">Saved {{ day(seen.made) }} {{ clock(seen.made) }}. </template
        ><strong>{{ says }}</strong>
      </p>
      <p v-if="seen.unknown.length" class="mt-1">
        Not known here, and left in the zip: {{ seen.unknown.join(', ') }}.
      </p>
      <div class="mt-3 overflow-x-auto">
        <table class="w-full max-w-3xl">
          <thead>
            <tr class="small quiet text-right">
              <th class="text-left font-normal">Records</th>
              <th class="font-normal">new</th>
              <th class="font-normal">the same here</th>
              <th class="font-normal">otherwise here</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="table in seen.tables" :key="table.table" class="hairline text-right">
              <th class="py-1 text-left font-semibold">
                {{ table.table.replaceAll('_', ' ')
                }}<span class="small quiet block max-w-xl leading-tight font-normal">{{ table.says }}</span>
              </th>
              <td class="figure align-top">{{ table.new || '' }}</td>
              <td class="figure align-top">{{ table.same || '' }}</td>
              <td class="figure align-top" :class="table.otherwise ? 'font-semibold text-stop' : ''">
                {{ table.otherwise || '' }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <fieldset v-if="seen.ways.length > 1" class="mt-3">
        <legend class="label">How</legend>
        <label v-for="way in seen.ways" :key="way" class="flex min-h-12 items-center gap-3"
          ><input v-model="how" type="radio" :value="way" class="h-6 w-6 accent-act" />{{
            way === 'add' ? 'What is new, beside what is here' : 'All of it, in place of all that is here'
          }}</label
        >
      </fieldset>
      <label v-if="how === 'replace' && !seen.here_is_empty" class="mt-2 flex min-h-12 items-center gap-3"
        ><input v-model="sure" type="checkbox" class="h-7 w-7 shrink-0 accent-act" /><span
          >All that is here makes way<span class="small quiet block">{{
            seen.backed_up
              ? 'It is backed up first, by itself.'
              : "This database is not Niddy's own: back it up first, by its own tools."
          }}</span></span
        ></label
      >
      <p v-if="how === 'replace' && here?.asked" class="mt-1">
        Its makers come in place of yours. Who is here under the same name and number keeps the password; the
        others get one from an owner, or by <span class="figure">./niddy owner</span> at the machine.
      </p>
      <div class="mt-3 flex gap-3">
        <button
          type="button"
          class="btn btn-main"
          :disabled="busy || (how === 'replace' && !seen.here_is_empty && !sure)"
          @click="takeIn"
        >
          {{ busy ? 'Taking it in' : 'Take it in' }}
        </button>
        <button type="button" class="btn" :disabled="busy" @click="seen = undefined">Leave it</button>
      </div>
    </section>
  </div>
</template>
