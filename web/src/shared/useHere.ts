/** What is looked for on a page, in the browser's own memory of where somebody was: there again on the way back, and reloaded. */
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'

/** `name`: no other of the same page has it. What is kept is plain: words, numbers, lists of them. */
export function useHere<T extends object>(name: string, plain: T): Ref<T> {
  const kept = ref({ ...plain, ...(history.state as Record<string, Partial<T>> | null)?.[name] }) as Ref<T>
  watch(kept, (now) => history.replaceState({ ...history.state, [name]: JSON.parse(JSON.stringify(now)) as T }, ''), {
    deep: true,
  })
  return kept
}

/** What is looked for in a list: as it stands in its fields, and as it is asked for once nobody types any more. */
export function useAsked<T extends { find: string }>(name: string, plain: T) {
  const asked = useHere(name, plain)
  const find = refDebounced(
    computed(() => asked.value.find),
    150,
  )
  return { asked, query: computed(() => ({ ...asked.value, find: find.value })) }
}
