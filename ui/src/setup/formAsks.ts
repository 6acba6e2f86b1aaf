import type { Schemas } from '@/api/client'
import type { Field, Kind } from '@/state/setup'

/** What a form asks and does, as the set-up keeps it. */
export type FormBody = Schemas['FormBody']
export type Ask = NonNullable<FormBody['items']>[number]

/** Types of fields that visitors can fill in; persons and records of the house are none of theirs. */
const ASKED = ['text', 'long_text', 'number', 'money', 'date', 'datetime', 'yes_no', 'choice', 'choices']
const TYPES = new Set([...ASKED, 'email', 'phone', 'url'])
export const CONTACT = 'contact:'
export const FILES = 'files'

const asked = (field: Field) => field.key === 'title' || (!field.built_in && !field.formula && TYPES.has(field.type))

/** What can be asked, in the order of the forms: the contact first, then the record, then files. */
export function asksOf(kind: Kind, person: Kind | undefined, linked: boolean) {
  const own = kind.fields
    .filter(asked)
    .map((field) => ({ ask: field.key, field, words: `${kind.label}: ${field.label}` }))
  const about = person && linked && person.key !== kind.key ? person.fields.filter(asked) : []
  return [
    ...about.map((field) => ({ ask: CONTACT + field.key, field, words: `${person!.label}: ${field.label}` })),
    ...own,
    { ask: FILES, field: null, words: 'Files' },
  ]
}

/** What can stand in the record without being asked. */
export const fixable = (kind: Kind) =>
  kind.fields.filter((field) => (field.built_in ? ['title', 'stage', 'owner'].includes(field.key) : !field.formula))

/** Sentences by the place that they are about, such as "items.0.ask". */
export function problemsAt(problems: Schemas['FormProblem'][]) {
  const at: Record<string, string> = {}
  for (const one of problems) {
    const sentence = `It ${one.text}.`
    const key = one.path.join('.')
    at[key] = at[key] ? `${at[key]} ${sentence}` : sentence
  }
  return at
}
