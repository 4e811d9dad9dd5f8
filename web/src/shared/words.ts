/** The words of an answer, and the color that repeats what shape and word say already. */
import type { Schemas } from './api/client'

export type Word = Schemas['AnswerOut']['word']

export const COLOR: Record<Word, string> = {
  hold: 'text-green',
  add: 'text-rust',
  let_out: 'text-plum',
  stop: 'text-rust',
  cannot_tell: 'text-soft',
  not_checked: 'text-soft',
}

export const WORDS: Record<Word, string> = {
  stop: 'Stop: inspect',
  add: 'Add',
  let_out: 'Let out, cold',
  hold: 'Hold',
  cannot_tell: 'Cannot tell',
  not_checked: 'Not checked',
}
