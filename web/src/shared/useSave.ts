import { ref } from 'vue'
import { refusedOf } from './api/client'

/**
 * A saving call: busy while it runs, its refusals by field. What was typed is left as it is. Asked for twice it runs once;
 * what is asked for meanwhile otherwise, as when the last one is taken back, has its turn after it.
 */
export function useSave<A extends unknown[]>(run: (...args: A) => Promise<void>) {
  const busy = ref(false)
  const fields = ref<Record<string, string>>({})
  const message = ref('')
  let asked = ''
  let running: Promise<void> = Promise.resolve()

  async function attempt(args: A): Promise<void> {
    fields.value = {}
    message.value = ''
    try {
      await run(...args)
    } catch (error) {
      const no = refusedOf(error)
      fields.value = no.fields
      message.value = no.message
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
  return { save, busy, fields, message }
}
