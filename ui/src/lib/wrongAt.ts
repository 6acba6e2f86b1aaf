import { ApiError, sentenceOf } from '@/api/client'

/**
 * Sentences for a form by the keys of the fields that it draws; all that is about none of these stands under "", so
 * that nothing that was refused goes unsaid.
 */
export function wrongAt(problem: unknown, drawn: string[]): Record<string, string> {
  const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
  if (!fields) return { '': sentenceOf(problem) }
  const rest = Object.entries(fields).filter(([key]) => !drawn.includes(key))
  return { ...fields, '': [...new Set(rest.map(([, sentence]) => sentence))].join(' ') }
}
