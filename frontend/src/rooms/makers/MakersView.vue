<script setup lang="ts">
/** The makers of a studio, their devices, and who did what. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { ago } from '@/kit/format'
import { useHere } from '@/kit/here'
import { useTried } from '@/kit/tried'
import DevicesBox from './DevicesBox.vue'
import DoingBox from './DoingBox.vue'
import MakerForm from './MakerForm.vue'
import MyProofs from './MyProofs.vue'

const queries = useQueryClient()
const { here, me } = useHere()
const { data: makers } = useQuery({
  queryKey: ['makers'],
  queryFn: () => answered(api.GET('/api/makers')),
})
const now = computed(() => here.value?.now ?? new Date().toISOString())
const manages = computed(() => here.value && (!here.value.asked || me.value?.owns))
const editing = ref<number | 'new'>()
const removing = ref<number>()
const { refusal, trouble, busy, tried } = useTried()
const ROLES = { owner: 'owner: everything', maker: 'maker: works', looker: 'looks and prints' }
function changed(now: readonly Schemas['MakerKept'][]): void {
  queries.setQueryData(['makers'], now)
  void queries.invalidateQueries({ queryKey: ['here'] })
  editing.value = undefined
}
async function remove(id: number): Promise<void> {
  const path = { maker_id: id }
  await tried(async () => changed(await answered(api.DELETE('/api/makers/{maker_id}', { params: { path } }))))
  removing.value = undefined
  void queries.invalidateQueries({ queryKey: ['devices'] })
}
</script>

<template>
  <h1 class="mt-4 text-2xl">Makers</h1>
  <p v-if="here && !here.asked" class="quiet mt-1 max-w-3xl">
    On this machine alone nobody signs in. On the studio's network, with
    <span class="figure">NIDDY_ADDRESS</span> set, everybody here does, and every act carries who made it. The
    first owner is made at this machine:
    <span class="figure whitespace-nowrap">./niddy owner "your name"</span>.
  </p>
  <p v-if="here?.readable" class="mt-2 max-w-3xl border-l-4 border-stop pl-3">
    Whoever is on this network can read along. <span class="figure">./niddy certificate</span> at the machine
    ends that.
  </p>
  <div class="mt-4 grid gap-x-12 gap-y-8 lg:grid-cols-2">
    <section aria-labelledby="all-makers">
      <h2 id="all-makers" class="mb-1 text-lg">Who works here</h2>
      <p v-if="makers && !makers.length" class="quiet">Nobody is kept yet.</p>
      <ul>
        <li v-for="maker in makers" :key="maker.id" class="hairline py-2">
          <div class="flex flex-wrap items-center gap-x-3">
            <span
              class="flex h-9 min-w-9 items-center justify-center rounded-full border-2 border-ink px-1.5 font-bold"
              >{{ maker.initials }}</span
            >
            <span class="min-w-0 flex-1 leading-tight"
              ><strong>{{ maker.name }}</strong
              ><span class="small quiet block"
                >{{ ROLES[maker.role] }}{{ maker.has_pin ? ', has a PIN' : '' }};
                {{ maker.seen_at ? `here ${ago(maker.seen_at, now)}` : 'not here yet' }}</span
              ></span
            >
            <template v-if="manages">
              <button
                type="button"
                class="btn btn-quiet"
                :aria-label="`Change ${maker.name}`"
                @click="editing = editing === maker.id ? undefined : maker.id"
              >
                change
              </button>
              <button
                v-if="removing !== maker.id"
                type="button"
                class="btn btn-quiet"
                :aria-label="`Remove ${maker.name}`"
                @click="removing = maker.id"
              >
                remove
              </button>
              <template v-else>
                <button type="button" class="btn" :disabled="busy" @click="remove(maker.id)">
                  Yes, remove {{ maker.name }}
                </button>
                <button type="button" class="btn btn-quiet" @click="removing = undefined">Keep</button>
              </template>
            </template>
          </div>
          <p v-if="removing === maker.id" class="small quiet">
            Every device of theirs is signed out. Their initials stay on what they made.
          </p>
          <MakerForm
            v-if="editing === maker.id"
            :maker="maker"
            @kept="changed"
            @cancelled="editing = undefined"
          />
        </li>
      </ul>
      <p v-if="refusal || trouble" class="refusal" role="alert">{{ refusal?.words ?? trouble }}</p>
      <template v-if="manages">
        <MakerForm v-if="editing === 'new'" @kept="changed" @cancelled="editing = undefined" />
        <button v-else type="button" class="btn btn-quiet -ml-2" @click="editing = 'new'">Add a maker</button>
      </template>
    </section>
    <MyProofs v-if="me" />
    <DevicesBox v-if="here?.asked" />
    <DoingBox :makers="makers ?? []" />
  </div>
</template>
