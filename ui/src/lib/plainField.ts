import type { Field } from '@/state/setup'

/** A field that stands in no set-up, such as a side of a condition; what is not said of it is empty. */
export const plainField = (key: string, label: string, type: Field['type'], more: Partial<Field> = {}): Field => ({
  key,
  label,
  type,
  unit: null,
  links_to: null,
  built_in: true,
  formula: null,
  choices: [],
  required: false,
  unique: false,
  kept: false,
  default: null,
  help: null,
  group: null,
  ...more,
})
