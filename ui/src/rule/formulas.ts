import { reactive } from 'vue'
import { answerOf, api } from '@/api/client'
import { plainField } from '@/lib/plainField'
import type { Field, Kind } from '@/state/setup'
import { isFormula, type Reference } from './model'

type Known = { type: string | null; problem: string | null }
const known = reactive(new Map<string, Known>())

/** What comes out of a formula, as the server says; asked once for each. Until it has answered, null. */
export function formulaSide(path: string, kind: Kind): Reference | null {
  const found = known.get(`${kind.key} ${path}`)
  if (!found?.type) return null
  const label = path.replace(/^=\s*/, '')
  return {
    path,
    label,
    field: plainField(path, label, found.type as Field['type'], { formula: label }),
  }
}

/** What is wrong with a formula, as a sentence. */
export const formulaProblem = (path: string, kind: Kind): string | null =>
  known.get(`${kind.key} ${path}`)?.problem ?? null

/** Asks the server what a formula comes to, where that is not known yet. */
export async function lookUpFormula(path: string | undefined, kind: Kind) {
  if (!path || !isFormula(path) || known.has(`${kind.key} ${path}`)) return
  try {
    const answer = await answerOf(
      api.POST('/api/setup/formula', { body: { kind: kind.key, formula: path.replace(/^=\s*/, '') } }),
    )
    known.set(`${kind.key} ${path}`, {
      type: answer.type,
      problem: answer.problems[0] ? `It ${answer.problems[0]}.` : null,
    })
  } catch {
    // Without an answer it is asked again the next time.
  }
}
