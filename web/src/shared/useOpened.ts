import { onMounted, type Ref } from 'vue'

/** What opens is scrolled to and has the focus: its first entry, or by thumb, where that would raise the keys, only the eye. */
export function showOpened(box: HTMLElement | undefined, first = 'input, textarea, button'): void {
  box?.scrollIntoView({ block: 'nearest' })
  if (!matchMedia('(pointer: coarse)').matches) box?.querySelector<HTMLElement>(first)?.focus()
}

/** The same for a part that is there once it opens. */
export const useOpened = (box: Ref<HTMLElement | undefined>) => onMounted(() => showOpened(box.value))
