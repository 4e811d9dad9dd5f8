import { v4 as uuid } from 'uuid'
import { ref } from 'vue'
import { refusedOf } from './api/client'

/**
 * A UUID for what is sent once: the same for the same body until it is stored, so that a repeated press, or an answer that got
 * lost, stores nothing twice; another as soon as something in it changes.
 */
export function useOnce() {
  let of = ''
  let id = ''
  return {
    idOf(body: unknown): string {
      const now = JSON.stringify(body)
      if (now !== of) [of, id] = [now, uuid()]
      return id
    },
    stored: () => (of = ''),
  }
}

/**
 * A saving call: busy while it runs, its refusals by field. What was typed is left as it is. Asked for twice it runs once;
 * what is asked for meanwhile otherwise, as when the last one is taken back, has its turn after it.
 */
export function useSave<A extends unknown[]>(run: (...args: A) => Promise<void>) {
  const busy = ref(false)
  const fields = ref<Record<string, string>>({})
  const message = ref('')
  /** After a refusal because somebody changed it meanwhile: the version that is stored by now, with which it is saved over. */
  const newer = ref('')
  let asked = ''
  let running: Promise<void> = Promise.resolve()

  async function attempt(args: A): Promise<void> {
    fields.value = {}
    message.value = ''
    try {
      await run(...args)
      newer.value = ''
    } catch (error) {
      const no = refusedOf(error)
      fields.value = no.fields
      message.value = no.message
      newer.value = no.version || newer.value
    }
  }
  async function save(...args: A): Promise<void> {
    const wish = JSON.stringify(args)
    if (busy.value && wish === asked) return
    asked = wish
    busy.value = true
    const turn = running.then(() => attempt(args))
    running = turn
    await turn
    if (running === turn) busy.value = false
  }
  return { save, busy, fields, message, newer }
}
