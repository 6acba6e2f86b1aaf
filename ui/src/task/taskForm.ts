import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { clockOf, dayOf } from '@/lib/dates'
import type { Said, TaskField } from './fields'

const blankOf = (field: TaskField) => (Array.isArray(field.usual) ? [...field.usual] : (field.usual ?? ''))

/** A task that says nothing yet, as it stands in a form: empty texts for what it does not say. */
export const blankTask = (fields: TaskField[]): Said =>
  Object.fromEntries(fields.flatMap((field) => field.names.map((name) => [name, blankOf(field)])))

/** A task as it is; its moments by the wall clock of the zone. */
export function formOf(task: Schemas['Task'] | Schemas['ProposedTask'], fields: TaskField[], zone: string): Said {
  const said: Said = { ...task }
  const shown = (field: TaskField, value: unknown) => {
    if (Array.isArray(value)) return [...value]
    if (field.type !== 'moment' || !value) return value ?? ''
    const moment = new Date(value as string)
    return `${dayOf(moment, zone)}T${clockOf(moment, zone)}`
  }
  return Object.fromEntries(fields.flatMap((field) => field.names.map((name) => [name, shown(field, said[name])])))
}

/** As the API takes it: null for what is empty, but for what a task has to say. */
export const bodyOf = (form: Said, fields: TaskField[]): Said =>
  Object.fromEntries(
    fields.flatMap((field) =>
      field.names.map((name) => [name, field.type === 'lines' ? form[name] : ((form[name] || field.usual) ?? null)]),
    ),
  )

/** Only what differs, so that two who change different things of a task are not in each other's way. */
export function changesOf(before: Said, after: Said, fields: TaskField[]): Said {
  const one = bodyOf(before, fields)
  const other = bodyOf(after, fields)
  const keys = Object.keys(other).filter((key) => JSON.stringify(one[key]) !== JSON.stringify(other[key]))
  // A time of day says something only with its day.
  if (keys.includes('due_at') && !keys.includes('due_on')) keys.push('due_on')
  return Object.fromEntries(keys.map((key) => [key, other[key]]))
}

/** Sentences by field for whatever went wrong; what is about no field stands under "all". */
export function wrongOf(problem: unknown): Record<string, string> {
  return (problem instanceof ApiError && problem.refusal.fields) || { all: sentenceOf(problem) }
}
