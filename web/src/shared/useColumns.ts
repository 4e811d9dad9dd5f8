/** A file of one's own: its columns chosen, looked at, then brought in by slices, whole or not at all. */
import { computed, ref, watch } from 'vue'
import { v4 as newUuid } from 'uuid'
import type { Schemas } from './api/client'
import { rowsOf, textOf } from './files'
import { useSave } from './useSave'
import { useWork } from './useWork'

/** How a file would be read, whatever it is of. */
export type FileLook = Omit<Schemas['EarlierLook'], 'rows' | 'wheels'>
type Chosen = Omit<Required<Schemas['ColumnsIn']>, 'columns'> & { columns: Required<Schemas['ColumnIn']>[] }
/** So much of a file is looked at, and so many lines go at once. */
const HEAD = 40_000
const LINES = 5_000

interface Calls<Seen extends FileLook, Done> {
  look: (head: string, how: Schemas['ColumnsIn'] | null) => Promise<Seen>
  begin: (uuid: string, file: Chosen & { name: string; delimiter: ',' }) => Promise<unknown>
  slice: (uuid: string, number: number, body: Schemas['SliceIn']) => Promise<Schemas['TakenOut']>
  finish: (uuid: string) => Promise<Done>
  cancel: (uuid: string) => Promise<unknown>
  done: (done: Done) => Promise<void>
}

export function useColumns<Seen extends FileLook, Done>(calls: Calls<Seen, Done>) {
  const file = ref<{ name: string; text: string } | null>(null)
  const look = ref<Seen | null>(null)
  const chosen = ref<Chosen>({
    columns: [],
    order: 'ymd',
    zone: '',
    pressure_unit: 'psi',
    temperature_unit: '°F',
    length_unit: 'ft',
    names: {},
  })
  const sent = ref(0)
  /** Names of wheels that were met further on in the file. */
  const met = ref<string[]>([])
  const lines = computed(() => (file.value ? rowsOf(file.value.text).slice(1) : []))
  const see = (how: Chosen | null) => calls.look(file.value!.text.slice(0, HEAD), how)

  async function choose(picked: File) {
    file.value = { name: picked.name.slice(0, 80), text: (await textOf(picked)) ?? (await picked.text()) }
    look.value = null
    met.value = []
    await guess()
  }
  const { save: guess, message: unread } = useSave(async () => {
    const seen = await see(null)
    look.value = seen
    chosen.value = {
      ...chosen.value,
      columns: seen.columns.map((c) => ({ means: c.means ?? '', wheel: c.wheel ?? '' })),
      order: seen.order,
      zone: seen.zone,
      names: {},
    }
  })
  const looked = computed(() => look.value !== null && file.value !== null)
  /** Looked at anew with what is chosen by now: the answer to a choice of before does not stay. */
  const again = useWork(
    computed(() => (looked.value ? { ...chosen.value } : null)),
    (how) => see(how),
  )
  watch(again.answer, (now) => now && (look.value = now))

  let stop = false
  const { save, busy, message, fields } = useSave(async () => {
    stop = false
    sent.value = 0
    const uuid = newUuid()
    const faults: FileLook['faults'] = []
    const strange = new Set<string>()
    const strangeRigs = new Set<string>()
    await calls.begin(uuid, { ...chosen.value, name: file.value!.name, delimiter: look.value!.delimiter as ',' })
    for (let i = 0, number = 1; i < lines.value.length; i += LINES, number++) {
      if (stop) {
        await calls.cancel(uuid)
        return
      }
      const text = lines.value.slice(i, i + LINES).join('\n') + '\n'
      const taken = await calls.slice(uuid, number, { first: i + 2, text })
      faults.push(...taken.faults)
      taken.strange.forEach((name) => strange.add(name))
      taken.strange_rigs.forEach((name) => strangeRigs.add(name))
      sent.value = Math.min(i + LINES, lines.value.length)
    }
    if (faults.length) {
      // Nothing of it is brought in: all that is wrong is shown, to be chosen otherwise or mended in the file.
      look.value = { ...look.value!, faults, strange_rigs: [...strangeRigs] }
      met.value = [...new Set([...met.value, ...strange])]
      await calls.cancel(uuid)
      return
    }
    const done = await calls.finish(uuid)
    file.value = look.value = null
    await calls.done(done)
  })
  /** How far it is on its way in, and whether it may go. */
  const way = computed(() => ({
    able: !again.stale.value && !look.value?.refusal && !look.value?.faults.length,
    busy: busy.value,
    sent: sent.value,
    rows: lines.value.length,
    message: message.value,
  }))
  return { file, look, chosen, met, lines, choose, unread, again, way, save, fields, halt: () => (stop = true) }
}
