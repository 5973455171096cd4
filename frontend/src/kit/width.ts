import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'

/** The width a drawing has in the element of the template ref `box`, so that its words are as large on a phone. */
export function useWidth(least = 300, usual = 700) {
  const { width } = useElementSize(useTemplateRef<HTMLElement>('box'))
  return computed(() => Math.max(least, width.value || usual))
}
