/** The entries of a form as a list: what each holds, how it is labelled, and when it is shown. */
import type { Component } from 'vue'
import ChipsField from './ChipsField.vue'
import ChoiceField from './ChoiceField.vue'
import QuantityField from './QuantityField.vue'
import TextField from './TextField.vue'
import TickField from './TickField.vue'
import type { Entry, Kind } from './units'

/** The fields of a form that hold such values. */
type Holding<Form, Value> = { [K in keyof Form & string]: Form[K] extends Value ? K : never }[keyof Form & string]
interface More {
  hint?: string | undefined
  /** Whether it is asked for at all. */
  shown?: boolean
  class?: string
  [attribute: string]: unknown
}
export interface EntrySpec {
  is: Component
  name: string
  shown: boolean
  bound: Record<string, unknown>
}

/** Makes entries of one kind of form; `name` is the form's field and the API's. */
export function entriesOf<Form extends object>() {
  const entry = (is: Component, name: string, label: string, { shown = true, ...more }: More): EntrySpec => ({
    is,
    name,
    shown,
    bound: { name, label, ...more },
  })
  return {
    text: (name: Holding<Form, string>, label: string, more: More = {}) => entry(TextField, name, label, more),
    quantity: (name: Holding<Form, Entry>, label: string, kind: Kind, more: More = {}) =>
      entry(QuantityField, name, label, { kind, ...more }),
    tick: (name: Holding<Form, boolean>, label: string, more: More = {}) => entry(TickField, name, label, more),
    chips: <K extends keyof Form & string>(
      name: K,
      label: string,
      choices: { key: Form[K]; name: string }[],
      more: More = {},
    ) => entry(ChipsField as Component, name, label, { choices, ...more }),
    choice: <K extends keyof Form & string>(
      name: K,
      label: string,
      choices: { key: Form[K]; name: string; note?: string }[],
      more: More = {},
    ) => entry(ChoiceField as Component, name, label, { choices, ...more }),
  }
}
