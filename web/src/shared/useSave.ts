import { ref } from 'vue'
import { refusedOf } from './api/client'

/** A saving call: busy while it runs, its refusals by field. What was typed is left as it is. */
export function useSave<A extends unknown[]>(run: (...args: A) => Promise<void>) {
  const busy = ref(false)
  const fields = ref<Record<string, string>>({})
  const message = ref('')

  async function save(...args: A): Promise<void> {
    if (busy.value) return
    busy.value = true
    fields.value = {}
    message.value = ''
    try {
      await run(...args)
    } catch (error) {
      const no = refusedOf(error)
      fields.value = no.fields
      message.value = no.message
    } finally {
      busy.value = false
    }
  }
  return { save, busy, fields, message }
}
