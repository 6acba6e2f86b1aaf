import type { Schemas } from '@/api/client'
import type { Kind } from '@/state/setup'

export type DoorMap = Schemas['DoorMap']
export type DoorRow = DoorMap['rows'][number]
export type Message = Record<string, unknown>

/** How programs write dates. */
export const DATE_FORMS = [
  { value: 'iso', words: '2026-12-31' },
  { value: 'day_first', words: '31.12.2026' },
  { value: 'month_first', words: '12/31/2026' },
  { value: 'unix', words: 'seconds since 1970' },
] as const

export const HOW_WORDS = [
  { value: 'make', words: 'makes one each time' },
  { value: 'both', words: 'changes the one that is found, else makes one' },
  { value: 'change', words: 'changes the one that is found' },
] as const

const KEYS = ['text', 'email', 'phone', 'url', 'number']

/** Fields by which one record is found among all. */
export const keysOf = (kind: Kind | undefined) =>
  (kind?.fields ?? []).filter((field) => KEYS.includes(field.type) && !field.formula)

export const fillable = (kind: Kind) =>
  kind.fields.filter((field) => (field.built_in ? ['title', 'stage', 'owner'].includes(field.key) : !field.formula))

const MOST = 200
/** All single values of a message with the paths under which they stand, as far as a table is filled from them. */
export function pathsOf(message: unknown, at: string[] = []): { path: string; value: unknown }[] {
  if (message === null || typeof message !== 'object') return at.length ? [{ path: at.join('.'), value: message }] : []
  if (at.length >= 8) return []
  const pairs = Array.isArray(message) ? [...message.entries()] : Object.entries(message)
  return pairs
    .filter(([key]) => /^[\w-]{1,80}$/.test(String(key)))
    .flatMap(([key, value]) => pathsOf(value, [...at, String(key)]))
    .slice(0, MOST)
}

const like = (text: string) => text.toLowerCase().replace(/[^a-z0-9]+/g, '')

/** A first table from a sample: what is called as a field is, goes into that. */
export function guess(kind: Kind, message: Message): DoorRow[] {
  const paths = pathsOf(message).filter((one) => one.path.startsWith('data'))
  return fillable(kind).flatMap((field) => {
    const found = paths.find((one) => [like(field.key), like(field.label)].includes(like(one.path.split('.').at(-1)!)))
    return found ? [{ field: field.key, path: found.path }] : []
  })
}

/** Reads what was pasted; the sentence says why it is none. */
export function readSample(text: string): { message?: Message; wrong?: string } {
  try {
    const message: unknown = JSON.parse(text)
    const fits = message !== null && typeof message === 'object' && !Array.isArray(message)
    return fits ? { message: message as Message } : { wrong: 'A sample is one event, written in curly brackets.' }
  } catch {
    return { wrong: 'This is no JSON. Paste one event as the program sends it.' }
  }
}
