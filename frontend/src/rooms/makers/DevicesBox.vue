<script setup lang="ts">
/** Every device that is signed in: an owner sees all, a maker their own. Each can be ended. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api } from '@/api/client'
import { ago } from '@/kit/format'
import { changeHands, useHere } from '@/kit/here'
import { useTried } from '@/kit/tried'

const queries = useQueryClient()
const { here } = useHere()
const { data: devices } = useQuery({
  queryKey: ['devices'],
  queryFn: () => answered(api.GET('/api/makers/sessions')),
})
const now = computed(() => here.value?.now ?? new Date().toISOString())
const { refusal, trouble, busy, tried } = useTried('nothing was changed')
async function end(id: number, here: boolean): Promise<void> {
  const params = { path: { session_id: id } }
  const done = await tried(async () => {
    queries.setQueryData(
      ['devices'],
      await answered(api.DELETE('/api/makers/sessions/{session_id}', { params })),
    )
  })
  if (done && here) await changeHands()
}
const BY = { password: 'by password', phone: 'paired by a code', pin: 'by PIN' }
</script>

<template>
  <section aria-labelledby="devices">
    <h2 id="devices" class="mb-1 text-lg">Signed in</h2>
    <ul>
      <li v-for="device in devices" :key="device.id" class="hairline flex min-h-14 items-center gap-3 py-1">
        <span class="min-w-0 flex-1 leading-tight"
          ><strong>{{ device.device }}</strong
          >{{ device.here ? ' (this one)' : ''
          }}<span class="small quiet block"
            >{{ device.maker }}, {{ BY[device.by] }}{{ device.shared ? ', shared' : '' }}; used
            {{ ago(device.seen_at, now) }}</span
          ></span
        >
        <button
          type="button"
          class="btn btn-quiet"
          :disabled="busy"
          :aria-label="`Sign out ${device.device} of ${device.maker}`"
          @click="end(device.id, device.here)"
        >
          sign out
        </button>
      </li>
    </ul>
    <p v-if="refusal || trouble" class="refusal" role="alert">{{ refusal?.words ?? trouble }}</p>
  </section>
</template>
