import { until, watchDebounced } from '@vueuse/core'
import { ref, shallowRef, watch, type WatchSource } from 'vue'
import { refusedOf } from './api/client'

/**
 * An answer that follows what is typed. The last one stays, dimmed by `stale`, until the next is
 * there; refusals stand in `fields` by the name of their field. Late answers are dropped.
 */
export function useWork<I, A>(inputs: WatchSource<I | null>, ask: (inputs: I) => Promise<A>) {
  const answer = shallowRef<A | null>(null)
  /** What the answer is of: shown beside something else it would be a wrong one. */
  const of = shallowRef<I | null>(null)
  const fields = ref<Record<string, string>>({})
  const message = ref('')
  const stale = ref(false)
  /** From the moment something is typed until it is answered or refused. */
  const pending = ref(false)
  /** Nobody answered the last question. */
  const unreachable = ref(false)
  let asked = 0

  watch(inputs, () => (pending.value = stale.value = true), { deep: true })

  watchDebounced(
    inputs,
    async (now) => {
      const mine = ++asked
      if (now === null || now === undefined) {
        answer.value = of.value = null
        fields.value = {}
        message.value = ''
        stale.value = pending.value = false
        return
      }
      try {
        const got = await ask(now as I)
        if (mine !== asked) return
        answer.value = got
        of.value = now as I
        fields.value = {}
        message.value = ''
        stale.value = pending.value = unreachable.value = false
      } catch (error) {
        if (mine !== asked) return
        const no = refusedOf(error)
        fields.value = no.fields
        message.value = no.message
        unreachable.value = no.unreachable
        pending.value = false
      }
    },
    { debounce: 140, deep: true, immediate: true },
  )
  /** Resolves once what stands here belongs to what is typed; what was said of an earlier state is taken back at once. */
  const settled = () => {
    if (pending.value) fields.value = {}
    return until(pending).toBe(false, { timeout: 2000 })
  }
  return { answer, of, fields, message, stale, pending, unreachable, settled }
}
