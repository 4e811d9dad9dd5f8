/** A fleet from a file too long for one request: sent in slices, worked out step by step, and there by one press, or not at all. */
import { computed, onUnmounted, ref } from 'vue'
import { v4 as newUuid } from 'uuid'
import { answer, api, type Schemas } from '@/shared/api/client'
import { rowsOf, textOf } from '@/shared/files'
import { useSave } from '@/shared/useSave'

/** So much of the text goes at once. */
const SLICE = 300_000
/** Of what is wrong so much is shown. */
const SHOWN = 200

/** Rows put together to slices. */
function slicesOf(rows: string[]): string[] {
  const slices: string[] = []
  for (const row of rows) {
    const last = slices.length - 1
    if (last >= 0 && slices[last]!.length + row.length < SLICE) slices[last] += `\n${row}`
    else slices.push(row)
  }
  return slices
}

export function useFleetFile(done: () => Promise<void>) {
  const uuid = ref('')
  const steps = ref<Schemas['FleetStepOut'][]>([])
  const unread = ref('')
  let stop = false

  const path = () => ({ params: { path: { uuid: uuid.value } } })
  /** Leaves what is on its way in: nothing of it stays. */
  async function leave() {
    stop = true
    const left = uuid.value
    uuid.value = ''
    steps.value = []
    if (left) await answer(api.DELETE('/api/v1/fleets/{uuid}', { params: { path: { uuid: left } } })).catch(() => null)
  }
  const look = useSave(async (file: File) => {
    await leave()
    stop = false
    const text = await textOf(file)
    unread.value = text === null ? 'The file is not in UTF-8. Save it as CSV in UTF-8 and choose it again.' : ''
    if (text === null) return
    const [heading, ...rows] = rowsOf(text)
    const slices = slicesOf(rows)
    uuid.value = newUuid()
    const of = uuid.value
    const body = { name: file.name.slice(0, 80), heading: heading ?? '' }
    await answer(api.PUT('/api/v1/fleets/{uuid}', { ...path(), body }))
    for (const [i, text] of slices.entries()) {
      if (stop) return
      const params = { path: { uuid: of, number: i + 1 } }
      await answer(api.PUT('/api/v1/fleets/{uuid}/slices/{number}', { params, body: { text } }))
    }
    for (let number = 0; !stop && number < (steps.value[0]?.steps ?? 1); number++) {
      const step = await answer(
        api.PUT('/api/v1/fleets/{uuid}/steps/{number}', { params: { path: { uuid: of, number } } }),
      )
      if (!stop) steps.value.push(step)
    }
  })
  const take = useSave(async () => {
    await answer(api.POST('/api/v1/fleets/{uuid}/finish', path()))
    uuid.value = ''
    await done()
  })
  onUnmounted(() => void leave())

  const total = (of: 'rigs' | 'tires') => steps.value.reduce((sum, s) => sum + s[of], 0)
  /** What came of it so far; null: nothing is on its way in. */
  const seen = computed(() => {
    if (!uuid.value) return null
    const faults = steps.value.flatMap((s) => s.faults)
    return {
      rigs: total('rigs'),
      tires: total('tires'),
      refused: faults.length,
      rows: faults.slice(0, SHOWN),
      done: steps.value.length,
      of: steps.value[0]?.steps ?? 0,
      whole: steps.value.length > 0 && steps.value.length === steps.value[0]!.steps,
    }
  })
  return { unread, look, take, leave, seen }
}
