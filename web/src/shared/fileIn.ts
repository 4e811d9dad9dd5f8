/** A file as one request takes it. */
import type { Schemas } from './api/client'

export async function fileIn(file: File): Promise<Schemas['FileIn']> {
  const bytes = new Uint8Array(await file.arrayBuffer())
  let text = ''
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192))
  return { name: file.name.slice(0, 200), content: btoa(text) }
}
