<script setup lang="ts">
/** How old the last backup is; one more at a tap. */
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { answered, api } from '@/api/client'
import { ago, digits } from '@/kit/format'

const queries = useQueryClient()
const { data: seen, dataUpdatedAt } = useQuery({
  queryKey: ['backups'],
  queryFn: () => answered(api.GET('/api/workshop/backups')),
  refetchInterval: 60_000,
})
const { mutate, isPending, isError } = useMutation({
  mutationFn: () => answered(api.POST('/api/workshop/backups')),
  onSuccess: (now) => queries.setQueryData(['backups'], now),
})
const size = computed(() => digits((seen.value?.bytes ?? 0) / 1024 ** 2, 1))
const now = computed(() => new Date(dataUpdatedAt.value).toISOString())
</script>

<template>
  <section v-if="seen" aria-labelledby="backups">
    <h2 id="backups" class="mb-2 text-lg">Backups</h2>
    <p v-if="!seen.kept_here">This database is not Niddy's own: it is backed up by the tools it came with.</p>
    <template v-else>
      <p class="text-lg" :class="seen.too_old ? 'font-semibold text-stop' : ''">
        {{
          seen.last_at
            ? `The last one was made ${ago(seen.last_at, now)}${seen.too_old ? ': too long ago' : ''}.`
            : 'There is none yet.'
        }}
      </p>
      <p class="quiet">
        One a day by itself while Niddy runs, and one before every upgrade, each read back whole before it
        counts; the last of seven days, four weeks and twelve months stay. Now
        <span class="figure">{{ seen.count }}</span> of <span class="figure">{{ size }}</span> MB in all, in
        <span class="figure break-all">{{ seen.folder }}</span>. Copy that folder to another disk now and
        then.
      </p>
      <p v-if="seen.trouble" class="refusal" role="alert">The last try failed: {{ seen.trouble }}</p>
      <p v-else-if="isError" class="refusal" role="alert">
        The server does not answer; try again in a moment.
      </p>
      <button type="button" class="btn mt-2" :disabled="isPending" @click="mutate()">
        {{ isPending ? 'Backing up' : 'Back up now' }}
      </button>
    </template>
    <p class="mt-3">
      <RouterLink class="underline" to="/package">The whole studio as one zip</RouterLink>, out and in, read
      without Niddy.
    </p>
  </section>
</template>
