import type { Component } from 'vue'
import type { Schemas } from '@/api/client'
import type { TaskFieldType } from '@/rule/names'
import type { Action, Reference } from '@/rule/model'
import type { Kind, Setup } from '@/state/setup'

/** Where a task is written. */
export type TaskFormName = 'rule' | 'kit' | 'new' | 'edit'

/** What a task says, one field each, as the table of the core has it. */
export type TaskField = Omit<Schemas['TaskField'], 'type'> & { type: TaskFieldType }

/** What is said: by key in a rule or kit, by the names of the API in a form for somebody's own task. */
export type Said = Record<string, unknown>

/** What the forms of a rule or kit lean on besides. `froms`: what dates count from, in a kit. */
export type Around = {
  references: Reference[]
  kind: Kind
  index?: number
  earlier?: Action[]
  froms?: { value: string; words: string }[]
  dated?: Reference[]
}

/** What a form of one field is given; `put` changes some of what is said, `wrong` holds sentences by name. */
export type FieldProps = {
  field: TaskField
  form: TaskFormName
  said: Said
  put: (changes: Said) => void
  wrong: Record<string, string>
  around?: Around
}

/** A form for each type of field. */
export type FieldForms = Record<TaskFieldType, Component>

/** The fields that stand in a form, in their order. */
export const fieldsOf = (setup: Setup, form: TaskFormName): TaskField[] =>
  (setup.vocabulary.task_fields as TaskField[]).filter((field) => field.stands.includes(form))

/** The sentence under a field. */
export const hintOf = (field: TaskField, form: TaskFormName): string | undefined =>
  field.hints[form] ?? (form === 'new' || form === 'edit' ? field.hints.hand : undefined)
