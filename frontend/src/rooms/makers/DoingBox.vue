<script setup lang="ts">
/** Who did what, the last first. */
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { clock, day } from '@/kit/format'

defineProps<{ makers: readonly Schemas['MakerKept'][] }>()
const of = ref<number | null>(null)
const before = ref<string>()
const { data: lines } = useQuery({
  queryKey: ['doing', of, before],
  queryFn: () => {
    const query = { maker_id: of.value ?? undefined, before: before.value }
    return answered(api.GET('/api/makers/doing', { params: { query } }))
  },
  placeholderData: (shown) => shown,
})
</script>

<template>
  <section aria-labelledby="doing">
    <div class="flex flex-wrap items-end gap-x-4">
      <h2 id="doing" class="mb-1 flex-1 text-lg">Who did what</h2>
      <label class="mb-1"
        ><span class="sr-only">Made by</span
        ><select v-model="of" class="field" @change="before = undefined">
          <option :value="null">everybody</option>
          <option v-for="maker in makers" :key="maker.id" :value="maker.id">{{ maker.name }}</option>
        </select></label
      >
    </div>
    <p v-if="lines && !lines.length" class="quiet">Nothing was done by anybody signed in.</p>
    <ol>
      <li v-for="(line, n) in lines" :key="n" class="hairline flex items-baseline gap-3 py-1.5">
        <span class="quiet small w-24 shrink-0"
          >{{ day(line.at).slice(0, -5) }} <span class="figure">{{ clock(line.at) }}</span></span
        >
        <strong class="w-10 shrink-0">{{ line.initials }}</strong>
        <span class="min-w-0 flex-1 leading-tight">{{ line.what }}</span>
        <span v-if="line.acts" class="small quiet"
          ><span class="figure">{{ line.acts }}</span> {{ line.acts === 1 ? 'act' : 'acts' }}</span
        >
      </li>
    </ol>
    <div class="mt-1 flex gap-3">
      <button
        v-if="lines && lines.length >= 60"
        type="button"
        class="btn btn-quiet -ml-2"
        @click="before = lines.at(-1)?.at"
      >
        Earlier
      </button>
      <button v-if="before" type="button" class="btn btn-quiet" @click="before = undefined">
        The latest
      </button>
    </div>
  </section>
</template>
