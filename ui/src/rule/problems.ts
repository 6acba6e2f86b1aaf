import type { Schemas } from '@/api/client'
import type { Place, Rule } from './model'

type Problem = Schemas['Problem']
/** Settings whose editors show what is wrong at its place within. */
const LISTED = ['receivers', 'cc', 'reply_to', 'read', 'leaves']
const HEADS: Record<string, string> = {
  only_if: 'Only if',
  trigger: 'Trigger',
  name: 'Name',
  record: 'Kind of record',
}

const under = (problem: Problem, path: (string | number)[]) => path.every((step, index) => problem.path[index] === step)
const rowPath = (rule: Rule, row: number) => (row === rule.branches.length ? ['otherwise'] : ['branches', row])

/** Whether something is wrong in a row of the table. */
export const isBroken = (problems: Problem[], rule: Rule, row: number) =>
  problems.some((problem) => under(problem, rowPath(rule, row)))

/** What is wrong with one action, as sentences by the name of the setting. */
export function wrongInAction(problems: Problem[], rule: Rule, row: number, index: number): Record<string, string> {
  const path = row === rule.branches.length ? ['otherwise', index] : ['branches', row, 'do', index]
  const found = problems.filter((problem) => under(problem, path))
  // Of a list of steps, which of them.
  const setting = ([name, at, ...rest]: (string | number)[]) => {
    if (name === 'steps' && typeof at === 'number') return `steps.${at}`
    return LISTED.includes(String(name))
      ? [name, at, ...rest].filter((step) => step !== undefined).join('.')
      : String(name ?? '')
  }
  return Object.fromEntries(found.map((problem) => [setting(problem.path.slice(path.length)), `It ${problem.text}.`]))
}

/** The place of the rule sheet at which a problem can be mended. */
export function placeOf(problem: Problem, rule: Rule): Place {
  const [where, row, what, index] = problem.path
  if (where === 'branches' && typeof row === 'number' && what === 'do' && typeof index === 'number')
    return { what: 'action', row, index }
  if (where === 'branches' && typeof row === 'number') return { what: 'branch', row }
  if (where === 'otherwise' && typeof row === 'number') return { what: 'action', row: rule.branches.length, index: row }
  return where === 'only_if' ? { what: 'only_if' } : { what: 'checks' }
}

/** Where a problem is, such as "Branch 1, action 2, title". */
export function spokenPlace(problem: Problem): string {
  const [where, row, what, index, setting] = problem.path
  const action = (number: unknown) => (typeof number === 'number' ? `, action ${number + 1}` : '')
  if (where === 'branches' && typeof row === 'number') {
    const named = what === 'do' && setting ? `, ${String(setting).replaceAll('_', ' ')}` : ''
    return `Branch ${row + 1}${what === 'do' ? action(index) : ''}${named}`
  }
  if (where === 'trigger' && row === 'any' && typeof what === 'number') return `Trigger ${what + 1}`
  if (where === 'otherwise') return `Otherwise${action(row)}`
  return HEADS[String(where)] ?? String(where ?? 'Rule')
}

/** What is worth knowing about a row: the gaps and overlaps that name it. */
export const noteOf = (notes: Schemas['Note'][], row: number) =>
  notes.find((note) => note.kind === 'overlap' && note.branches.includes(row + 1))?.text ?? null
