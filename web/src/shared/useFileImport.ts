/** A file looked at before anything of it is saved, then taken whole or not at all. */
import { ref } from 'vue'
import type { Schemas } from './api/client'
import { useSave } from './useSave'

export function useFileImport<Preview extends { saved: boolean | number }>(
  read: (file: Schemas['FileIn']) => Promise<Preview>,
  save: (file: Schemas['FileIn']) => Promise<Preview>,
  saved: () => Promise<void>,
) {
  const file = ref<Schemas['FileIn'] | null>(null)
  const preview = ref<Preview | null>(null)
  const look = useSave(async (chosen: Schemas['FileIn']) => {
    file.value = chosen
    preview.value = null
    preview.value = await read(chosen)
  })
  const take = useSave(async () => {
    preview.value = await save(file.value!)
    if (preview.value.saved) await saved()
  })
  return { preview, look, take }
}
