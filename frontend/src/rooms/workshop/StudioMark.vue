<script setup lang="ts">
/** The studio's own mark: a picture given once, that stands on every label. */
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { answered, api } from '@/api/client'
import { useTried } from '@/kit/tried'

defineProps<{ there: boolean }>()
const queries = useQueryClient()
const { said, trouble, busy, tried } = useTried()
/** Its picture is asked for anew after each change. */
const version = ref(0)
async function take(event: Event): Promise<void> {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  await tried(async () => {
    const kept = await answered(
      api.PUT('/api/workshop/mark', {
        body: file as unknown as string,
        bodySerializer: (body: unknown) => body as Blob,
        headers: { 'content-type': file.type || 'image/jpeg' },
      }),
    )
    version.value += 1
    queries.setQueryData(['workshop'], kept)
  })
}
const drop = () =>
  tried(async () => {
    queries.setQueryData(['workshop'], await answered(api.DELETE('/api/workshop/mark')))
  })
</script>

<template>
  <div>
    <span class="label">Its mark, a picture for labels</span>
    <div class="flex flex-wrap items-center gap-3">
      <img
        v-if="there"
        :src="`/api/workshop/mark.png?v=${version}`"
        alt="The studio’s mark"
        class="h-16 max-w-40 border border-line bg-white object-contain p-1"
      />
      <label class="btn cursor-pointer" :class="busy ? 'opacity-60' : ''"
        >{{ there ? 'Another picture' : 'Choose a picture'
        }}<input
          type="file"
          accept="image/*"
          class="sr-only"
          aria-label="A picture for the mark"
          :disabled="busy"
          @change="take"
      /></label>
      <button v-if="there" type="button" class="btn btn-quiet" :disabled="busy" @click="drop">
        Take it off
      </button>
    </div>
    <p v-if="said('picture') || trouble" class="refusal" role="alert">{{ said('picture') ?? trouble }}</p>
  </div>
</template>
