/** The cells of a table as they are typed: moved among by keys, filled on, pasted into, and taken back. */
import { computed, nextTick, reactive, ref } from 'vue'
import { answer, api, refusedOf, type Schemas } from '@/shared/api/client'
import { useSession } from '@/shared/session'

export const ROWS = [
  { key: 'step', wire: 'steps', name: 'Cold pressure' },
  { key: 'single', wire: 'single', name: 'Load, single' },
  { key: 'dual', wire: 'dual', name: 'Load, dual' },
] as const

interface Column {
  step: string
  single: string
  dual: string
}
interface Printed {
  columns: Column[]
  pressure_unit: Schemas['TableIn']['pressure_unit']
  mass_unit: Schemas['TableIn']['mass_unit']
}

export function useCells(form: Printed) {
  const { session } = useSession()
  const most = computed(() => session.value?.most_columns ?? 0)
  const body = ref<HTMLElement>()
  /** As it was before the last paste, fill or clearing. */
  const before = ref<Column[] | null>(null)
  /** Cells of the last paste that were not understood, by row and column. */
  const misread = ref<Record<string, string>>({})
  const refused = ref('')
  function remember() {
    before.value = form.columns.map((c) => ({ ...c }))
  }
  function undo() {
    if (before.value) form.columns = before.value
    before.value = null
    misread.value = {}
  }
  function widen(to: number) {
    while (form.columns.length < Math.min(to, most.value)) form.columns.push({ step: '', single: '', dual: '' })
  }

  /** Arrows and Enter move as in a sheet; Ctrl+R fills on to the right. */
  function move(event: KeyboardEvent, row: number, at: number) {
    const input = event.target as HTMLInputElement
    if (event.key.toLowerCase() === 'r' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault()
      fill(row, at)
      return
    }
    // Left and right leave the cell only at its ends, or when all of it is selected.
    const all = input.selectionStart === 0 && input.selectionEnd === input.value.length
    const start = all || (input.selectionStart === 0 && input.selectionEnd === 0)
    const end = all || (input.selectionStart === input.value.length && input.selectionEnd === input.value.length)
    const by = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      Enter: [0, 1],
      ...(start ? { ArrowLeft: [0, -1] } : {}),
      ...(end ? { ArrowRight: [0, 1] } : {}),
    }[event.key]
    if (!by) return
    event.preventDefault()
    if (by[1] === 1) widen(at + 2)
    void nextTick(() => {
      const next = body.value?.querySelector<HTMLInputElement>(`[data-cell="${row + by[0]!}-${at + by[1]!}"]`)
      next?.focus()
      next?.select()
    })
  }
  /** Goes on from a cell: a row of pressures by its own step, to where the other rows end or ten columns on. */
  function fill(row: number, at: number) {
    const key = ROWS[row]!.key
    const number = (c: Column | undefined) => Number(c?.[key].replace(',', '.'))
    const [one, two] = [number(form.columns[at - 1]), number(form.columns[at])]
    if (!Number.isFinite(two) || !form.columns[at]![key]) return
    const step = at > 0 && form.columns[at - 1]![key] && Number.isFinite(one) ? two - one : 0
    if (key !== 'step' || step <= 0) return
    remember()
    const lasts = form.columns.map((c, i) => (c.single || c.dual ? i : -1))
    const last = Math.max(...lasts) > at ? Math.max(...lasts) : Math.min(at + 8, most.value - 1)
    widen(last + 1)
    for (let i = at + 1; i <= last; i++) form.columns[i]!.step = String(Number((two + step * (i - at)).toFixed(4)))
  }
  /** A block copied from a sheet or a page is read by the server, and spread over the cells. */
  async function paste(event: ClipboardEvent, row: number, at: number) {
    const text = event.clipboardData?.getData('text') ?? ''
    if (!/[\t\n;|]|\S\s+\S/.test(text.trim())) return
    event.preventDefault()
    refused.value = ''
    try {
      const read = await answer(
        api.POST('/api/v1/work/tables/paste', {
          body: {
            text: text.slice(0, 400_000),
            line: ROWS[row]!.wire,
            pressure_unit: form.pressure_unit,
            mass_unit: form.mass_unit,
          },
        }),
      )
      remember()
      misread.value = {}
      if (read.pressure_unit) form.pressure_unit = read.pressure_unit
      if (read.mass_unit) form.mass_unit = read.mass_unit
      for (const to of ROWS) {
        const cells = read.lines[to.wire] ?? []
        widen(at + cells.length)
        cells.forEach((value, c) => {
          if (form.columns[at + c]) form.columns[at + c]![to.key] = value
        })
      }
      for (const t of read.told) misread.value[`${t.line}.${at + t.index}`] = t.message
    } catch (error) {
      refused.value = refusedOf(error).message
    }
  }

  return reactive({
    within: (el: unknown) => (body.value = el as HTMLElement),
    most,
    before,
    misread,
    refused,
    undo,
    widen,
    move,
    paste,
  })
}
