/** Rigs that are chosen to do something with all of them. */
import { computed, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import { yardQuery, type Asked } from './queries'

export function useChosen() {
  const choosing = ref(false)
  const chosen = ref(new Set<number>())
  const ids = computed(() => [...chosen.value])
  function turn(rig: number) {
    const now = new Set(chosen.value)
    if (!now.delete(rig)) now.add(rig)
    chosen.value = now
  }
  async function all(asked: Asked) {
    const query = yardQuery(asked, 0)
    chosen.value = new Set(await answer(api.GET('/api/v1/yard/all', { params: { query } })))
  }
  function end() {
    choosing.value = false
    chosen.value = new Set()
  }
  return { choosing, chosen, ids, turn, all, end }
}
