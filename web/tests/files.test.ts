/** Rows of a file, and its text as spreadsheets save it. */
import { describe, expect, test } from 'vitest'
import { rowsOf, textOf } from '@/shared/files'

describe('rows', () => {
  test('end where no quotes are open', () => {
    expect(rowsOf('a,b\r\n1,"two\nlines, ""said"""\r\n2,3\n')).toEqual(['a,b', '1,"two\nlines, ""said"""', '2,3'])
  })
  test('of one that never closes its quotes are one to the end', () => {
    expect(rowsOf('a,b\n1,"open\n2,3')).toEqual(['a,b', '1,"open\n2,3'])
  })
})

describe('text', () => {
  const file = (...bytes: number[]) => new File([new Uint8Array(bytes)], 'f.csv')
  test('is UTF-8, or UTF-16 where it begins so', async () => {
    expect(await textOf(file(0xc2, 0xb0))).toBe('°')
    expect(await textOf(file(0xff, 0xfe, 0xb0, 0x00))).toBe('°')
    expect(await textOf(file(0xfe, 0xff, 0x00, 0xb0))).toBe('°')
  })
  test('is none in another', async () => {
    expect(await textOf(file(0x31, 0xb0))).toBeNull()
  })
})
