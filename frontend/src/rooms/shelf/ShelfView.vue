<script setup lang="ts">
/** Every tube and jar where it stands, the oldest first; a code opens one. */
import { keepPreviousData, useInfiniteQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, Refused, type Schemas } from '@/api/client'
import { useHome } from '@/api/queries'
import { digits } from '@/kit/format'
import { useKeys } from '@/kit/keys'
import { usePaper } from '@/kit/paper'
import Swatch from '@/kit/Swatch.vue'
import { walkKeys } from '@/kit/walk'
import ShelfRow from './ShelfRow.vue'
import { age, wrong } from './words'

const route = useRoute()
const router = useRouter()
const { data: home } = useHome()
const setting = (key: string) =>
  computed({
    get: () => String(route.query[key] ?? ''),
    set: (value: string) => void router.replace({ query: { ...route.query, [key]: value || undefined } }),
  })
const place = setting('place')
const sort = setting('sort')
const show = setting('show')
const words = ref('')
const asked = refDebounced(words, 150)
const SORTS = [
  ['oldest', 'oldest first'],
  ['newest', 'newest first'],
  ['colour', 'by colour'],
  ['due', 'due first'],
  ['name', 'by name'],
  ['place', 'by place'],
] as const
const SHOWS = [
  ['', 'all here'],
  ['due', 'to inspect'],
  ['risk', 'at risk'],
  ['gone', 'with those gone'],
] as const
const AT_ONCE = 120
const query = computed(() => ({
  words: asked.value || undefined,
  place: place.value || undefined,
  sort: (sort.value || 'oldest') as 'oldest',
  only_due: show.value === 'due' || undefined,
  at_risk: show.value === 'risk' || undefined,
  gone: show.value === 'gone' || undefined,
  limit: AT_ONCE,
}))
const paper = usePaper()
const printed = computed(() => {
  const wanted = { ...query.value, limit: undefined, paper: paper.value }
  return new URLSearchParams(
    Object.entries(wanted).flatMap(([key, value]) => (value == null ? [] : [[key, String(value)]])),
  )
})
const {
  data: parts,
  fetchNextPage,
  isFetchingNextPage: fetching,
} = useInfiniteQuery({
  queryKey: ['shelf', query],
  placeholderData: keepPreviousData,
  initialPageParam: 0,
  queryFn: ({ pageParam: offset }) =>
    answered(api.GET('/api/shelf', { params: { query: { ...query.value, offset } } })),
  getNextPageParam: (last, all) => {
    const shown = all.reduce((sum, part) => sum + part.items.length, 0)
    return last.items.length && shown < last.total ? shown : undefined
  },
})
/** All that was fetched, as one page with the newest counts. */
const page = computed(() => {
  const last = parts.value?.pages.at(-1)
  return last && { ...last, items: parts.value!.pages.flatMap((part) => part.items) }
})
/** What one batch filled is one line, opened by a touch; where something is looked for, each stands by itself. */
const groups = computed(() => {
  const apart = !!(asked.value || show.value)
  const made: Schemas['ItemLine'][][] = []
  for (const item of page.value?.items ?? []) {
    const last = made.at(-1)?.[0]
    if (!apart && last?.batch_number != null && last.batch_number === item.batch_number)
      made.at(-1)!.push(item)
    else made.push([item])
  }
  return made
})
const opened = reactive(new Set<number>())
const KINDS = { tube: 'tubes', jar: 'jars', stick: 'sticks' } as const
function together(group: Schemas['ItemLine'][]): string {
  const counted = (of: (item: Schemas['ItemLine']) => string) => {
    const by = new Map<string, number>()
    for (const item of group) if (of(item)) by.set(of(item), (by.get(of(item)) ?? 0) + 1)
    return [...by]
  }
  const kinds = counted((item) => item.kind)
  const what = kinds.length === 1 ? KINDS[kinds[0]![0] as 'tube'] : 'pieces'
  const seen = counted((item) => wrong(item)?.words ?? (item.due ? 'to inspect' : ''))
  return [`${group.length} ${what}`, ...seen.map(([words, n]) => `${n} of them ${words}`)].join(', ')
}
const code = ref('')
const codeRefusal = ref('')
const field = ref<HTMLInputElement | null>(null)
const search = ref<HTMLInputElement | null>(null)
const list = ref<HTMLElement | null>(null)
/** What a scanner types: a code, a batch number, or the address in a label's QR code. */
async function open(): Promise<void> {
  codeRefusal.value = ''
  const typed = code.value
    .trim()
    .replace(/^.*\/(batches|shelf)\//, (_, where: string) => (where === 'shelf' ? 'item/' : ''))
  if (!typed) return
  if (typed.startsWith('item/')) return void router.push(`/shelf/${typed.slice(5)}`)
  try {
    const found = await answered(api.GET('/api/shelf/code/{code}', { params: { path: { code: typed } } }))
    await router.push(`/shelf/${found.id}`)
  } catch (problem) {
    codeRefusal.value =
      problem instanceof Refused
        ? `Nothing here has the code ${typed}. Try a code such as 21-1, or a batch number.`
        : 'The server does not answer; try again.'
  }
}
useKeys(() => [
  { key: '/', does: 'search the shelf', act: () => search.value?.focus() },
  { key: 'o', does: 'scan or type a code', act: () => field.value?.focus() },
  {
    key: 'i',
    does: 'only what is to inspect, or all',
    act: () => (show.value = show.value === 'due' ? '' : 'due'),
  },
  { key: 'f', does: 'a jar nobody can name', act: () => void router.push('/shelf/found') },
  ...walkKeys(list, 'on the shelf'),
])
</script>

<template>
  <div class="pt-5">
    <div class="mb-3 flex flex-wrap items-end gap-3">
      <h1 class="min-w-48 flex-1">
        Shelf<span class="quiet block text-base font-normal">{{
          page ? `${page.total} tubes and jars; ${page.due} to inspect` : '\u00a0'
        }}</span>
      </h1>
      <form class="flex items-end gap-2" @submit.prevent="open">
        <label
          ><span class="label">Scan or type a code</span
          ><input
            ref="field"
            v-model="code"
            class="field figure w-44"
            maxlength="200"
            placeholder="21-1"
            :aria-invalid="codeRefusal ? 'true' : undefined" /></label
        ><button class="btn">Open</button>
      </form>
      <RouterLink class="btn" to="/shelf/found">Found a jar</RouterLink>
      <RouterLink
        v-if="page?.items.length"
        class="btn btn-quiet"
        :to="{
          path: '/labels',
          query: {
            items: page.items
              .slice(0, 600)
              .map((i) => i.id)
              .join(','),
          },
        }"
        >Labels of these</RouterLink
      >
      <a class="btn btn-quiet" :href="`/api/shelf/list.pdf?${printed}`" target="_blank" rel="noopener"
        >Print the list</a
      >
    </div>
    <span v-if="codeRefusal" class="refusal mb-2" role="alert">{{ codeRefusal }}</span>
    <div class="mb-4 flex flex-wrap items-end gap-2">
      <label class="min-w-44 flex-1"
        ><span class="sr-only">Search the shelf</span
        ><input
          ref="search"
          v-model="words"
          class="field"
          type="search"
          maxlength="100"
          placeholder="paint, code or place"
      /></label>
      <div class="flex" role="group" aria-label="Which">
        <button
          v-for="[key, text] in SHOWS"
          :key="key"
          type="button"
          class="btn -ml-[1.5px] rounded-none px-3 first:ml-0"
          :class="show === key ? 'bg-ink! text-white' : ''"
          :aria-pressed="show === key"
          @click="show = key"
        >
          {{ text }}
        </button>
      </div>
      <select v-model="place" class="field w-auto" aria-label="Place">
        <option value="">every place</option>
        <option v-for="p in page?.places ?? []" :key="p">{{ p }}</option>
      </select>
      <select
        class="field w-auto"
        aria-label="Order"
        :value="sort || 'oldest'"
        @change="sort = ($event.target as HTMLSelectElement).value"
      >
        <option v-for="[key, text] in SORTS" :key="key" :value="key">{{ text }}</option>
      </select>
    </div>
    <p v-if="page && !page.items.length" class="py-6 text-lg">
      {{
        words || place || show
          ? 'Nothing on the shelf matches that.'
          : 'The shelf is empty. Tubes filled in Tubes stand here.'
      }}
    </p>
    <ul
      v-if="sort === 'colour'"
      ref="list"
      class="grid grid-cols-2 gap-x-4 gap-y-5 sm:grid-cols-4 lg:grid-cols-6"
    >
      <li v-for="item in page?.items ?? []" :key="item.id">
        <RouterLink class="block hover:bg-sheet" :to="`/shelf/${item.id}`">
          <Swatch
            class="h-auto w-full"
            :masstone="item.masstone_srgb"
            :undertone="item.undertone_srgb"
            :name="`${item.name} ${item.code}`"
            :height="76"
          />
          <span class="mt-1 block leading-tight"
            ><strong class="font-semibold">{{ item.name }}</strong
            >{{ ' ' }}<span class="quiet small">{{ item.code }}</span
            ><span class="small quiet block"
              >{{ digits(item.volume_ml, 0) }} ml<template v-if="item.place"
                >, {{ item.place }}</template
              ></span
            ><span
              v-if="wrong(item)"
              class="small block font-semibold"
              :class="wrong(item)!.harm ? 'text-stop' : ''"
              >{{ wrong(item)!.words }}</span
            ><span v-else-if="item.due" class="small block font-semibold">inspect now</span></span
          >
        </RouterLink>
      </li>
    </ul>
    <ul v-else ref="list" class="grid gap-x-8 md:grid-cols-2">
      <li v-for="group in groups" :key="group[0]!.id" class="hairline">
        <template v-if="group.length > 1">
          <button
            type="button"
            class="flex min-h-[72px] w-full items-center gap-3 py-1 text-left hover:bg-sheet"
            :aria-expanded="opened.has(group[0]!.id)"
            @click="opened.has(group[0]!.id) ? opened.delete(group[0]!.id) : opened.add(group[0]!.id)"
          >
            <span
              class="h-12 w-9 shrink-0 border-4 border-[#bdbdbd]"
              :style="{ background: group[0]!.masstone_srgb }"
              aria-hidden="true"
            />
            <span class="min-w-0 flex-1 leading-tight"
              ><strong class="font-semibold">{{ group[0]!.name }}</strong
              >{{ ' ' }}<span class="quiet small">{{ group[0]!.code }} to {{ group.at(-1)!.code }}</span
              ><span
                class="small block"
                :class="group.some((item) => wrong(item)?.harm) ? 'text-stop' : ''"
                >{{ together(group) }}</span
              ></span
            >
            <span class="figure shrink-0 text-right">{{
              home ? age(group[0]!.filled_on, home.now) : ''
            }}</span>
          </button>
          <ul v-if="opened.has(group[0]!.id)" class="border-l-4 border-rule pl-3">
            <li v-for="item in group" :key="item.id"><ShelfRow :item="item" :now="home?.now" /></li>
          </ul>
        </template>
        <ShelfRow v-else :item="group[0]!" :now="home?.now" />
      </li>
    </ul>
    <button
      v-if="page && page.items.length < page.total"
      type="button"
      class="btn mt-4"
      :disabled="fetching"
      @click="void fetchNextPage()"
    >
      {{ page.total - page.items.length }} more
    </button>
  </div>
</template>
