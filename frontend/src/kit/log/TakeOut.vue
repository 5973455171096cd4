<script setup lang="ts">
/** Takes an act out of a log: the last by one tap, an earlier one after asking, since what came after stands on it. */
import { ref } from 'vue'

const props = defineProps<{
  line: { id: string; kind: string; text: string; can_strike: boolean }
  last?: string
  busy?: boolean
}>()
const emit = defineEmits<{ strike: [id: string] }>()
const asking = ref(false)
function strike(): void {
  asking.value = !asking.value && props.line.id !== props.last
  if (!asking.value) emit('strike', props.line.id)
}
</script>

<template>
  <template v-if="asking">
    <button
      type="button"
      class="btn min-h-12 px-2"
      :aria-label="`Yes, take out: ${line.text}`"
      @click="strike()"
    >
      Take it out
    </button>
    <button type="button" class="btn btn-quiet min-h-12 px-1" @click="asking = false">Keep it</button>
  </template>
  <button
    v-else-if="line.can_strike"
    type="button"
    class="btn btn-quiet small min-h-12 px-1"
    :disabled="busy"
    :aria-label="`Take out: ${line.text}`"
    @click="strike()"
  >
    {{ line.kind === 'strike' ? 'put back' : line.id === last ? 'undo' : 'take out' }}
  </button>
</template>
