/** A file of one's own: as one request takes it, as text, and row by row. */
import type { Schemas } from './api/client'

export async function fileIn(file: File): Promise<Schemas['FileIn']> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let text = ''
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192))
  return { name: file.name.slice(0, 200), content: btoa(text) }
}

/** Its text as a spreadsheet saved it, in UTF-8 or UTF-16; null: it is neither. */
export async function textOf(file: File): Promise<string | null> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  const wide =
    bytes[0] === 0xff && bytes[1] === 0xfe ? 'utf-16le' : bytes[0] === 0xfe && bytes[1] === 0xff && 'utf-16be'
  try {
    return new TextDecoder(wide || 'utf-8', { fatal: true }).decode(bytes)
  } catch {
    return null
  }
}

/** The rows of a CSV, each whole: a cell between quotes may hold the end of a line. */
export function rowsOf(text: string): string[] {
  const rows: string[] = []
  let open = false
  for (const line of text.trimEnd().split(/\r?\n/)) {
    if (open) rows[rows.length - 1] += `\n${line}`
    else rows.push(line)
    if ((line.split('"').length - 1) % 2) open = !open
  }
  return rows
}
