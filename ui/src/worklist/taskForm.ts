import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { clockOf, dayOf } from '@/lib/dates'

/** What a task says, as it stands in a form: empty texts for what it does not say. */
export type TaskForm = {
  title: string
  text: string
  web_link: string
  way: string | null
  priority: string | null
  due_on: string
  due_at: string
  start_on: string
  remind_at: string
  answers: string[]
}

/** A task that says nothing yet. */
export const blankTask = (): TaskForm => ({
  title: '',
  text: '',
  web_link: '',
  way: 'other',
  priority: 'normal',
  due_on: '',
  due_at: '',
  start_on: '',
  remind_at: '',
  answers: [],
})

/** A task as it is; its reminder by the wall clock of the zone. */
export function formOf(task: Schemas['Task'], zone: string): TaskForm {
  const reminder = task.remind_at ? new Date(task.remind_at) : null
  return {
    title: task.title,
    text: task.text ?? '',
    web_link: task.web_link ?? '',
    way: task.way,
    priority: task.priority,
    due_on: task.due_on ?? '',
    due_at: task.due_at ?? '',
    start_on: task.start_on ?? '',
    remind_at: reminder ? `${dayOf(reminder, zone)}T${clockOf(reminder, zone)}` : '',
    answers: [...task.answers],
  }
}

/** As the API takes it: null for what is empty. */
export const bodyOf = (form: TaskForm) => ({
  title: form.title,
  way: form.way ?? 'other',
  priority: form.priority ?? 'normal',
  text: form.text || null,
  web_link: form.web_link || null,
  due_on: form.due_on || null,
  due_at: form.due_at || null,
  start_on: form.start_on || null,
  remind_at: form.remind_at || null,
  answers: form.answers,
})

/** Only what differs, so that two who change different things of a task are not in each other's way. */
export function changesOf(before: TaskForm, after: TaskForm): Partial<ReturnType<typeof bodyOf>> {
  const one = bodyOf(before)
  const other = bodyOf(after)
  const keys = (Object.keys(other) as (keyof typeof other)[]).filter(
    (key) => JSON.stringify(one[key]) !== JSON.stringify(other[key]),
  )
  // A time of day says something only with its day.
  if (keys.includes('due_at') && !keys.includes('due_on')) keys.push('due_on')
  return Object.fromEntries(keys.map((key) => [key, other[key]]))
}

/** Sentences by field for whatever went wrong; what is about no field stands under "all". */
export function wrongOf(problem: unknown): Record<string, string> {
  return (problem instanceof ApiError && problem.refusal.fields) || { all: sentenceOf(problem) }
}
