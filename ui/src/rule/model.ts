import type { Schemas } from '@/api/client'
import { shortUnit } from '@/lib/words'
import type { Field, Kind, Setup } from '@/state/setup'

export type Rule = Schemas['RuleBody']
export type Group = Schemas['Group']
export type Item = Schemas['Item']
export type Branch = Schemas['Branch']
export type Action = Schemas['Action']
export type DateRule = Schemas['DateRule']
export type Assign = Schemas['Assign']
export type Mode = 'all' | 'any' | 'none'
export type Test = Setup['vocabulary']['tests'][number]

/** A place that the side panel of the rule sheet shows. Rows count from 0; the row after the last branch is "otherwise". */
export type Place =
  | { what: 'try' | 'checks' | 'history' | 'only_if' }
  | { what: 'branch'; row: number }
  | { what: 'action'; row: number; index: number }

export const MODES: Mode[] = ['all', 'any', 'none']

/** How a group holds together. */
export const modeOf = (group: Group | undefined): Mode => MODES.find((mode) => group?.[mode]) ?? 'all'

/** The conditions and groups directly in a group. */
export const itemsOf = (group: Group | undefined): Item[] => (group?.[modeOf(group)] ?? []) as Item[]

/** A group of a mode. */
export const groupOf = (mode: Mode, items: Item[]): Group => ({ [mode]: items }) as Group

export const isGroup = (item: Item): boolean => item.test === undefined

/** A new task action with nothing decided but the usual. */
export const blankAction = (): Action => ({
  make: 'task',
  title: '',
  way: 'other',
  priority: 'normal',
  assign: { to: 'owner' },
})

export const blankBranch = (): Branch => ({ if: { all: [] }, do: [blankAction()] })

/** A new rule on a kind of record. */
export const blankRule = (kind: string, format: string): Rule => ({
  format,
  name: '',
  record: kind,
  trigger: { when: 'record_made' },
  how_often: 'every_time',
  branching: 'first',
  branches: [blankBranch()],
})

/** The actions of a row. */
export const actionsOf = (rule: Rule, row: number): Action[] =>
  row === rule.branches.length ? (rule.otherwise ?? []) : (rule.branches[row]?.do ?? [])

/** The same rule with other actions in a row. */
export function withActions(rule: Rule, row: number, actions: Action[]): Rule {
  if (row === rule.branches.length) return { ...rule, otherwise: actions }
  return {
    ...rule,
    branches: rule.branches.map((branch, index) => (index === row ? { ...branch, do: actions } : branch)),
  }
}

/** The same rule with a branch changed. */
export function withBranch(rule: Rule, row: number, branch: Branch): Rule {
  return { ...rule, branches: rule.branches.map((one, index) => (index === row ? branch : one)) }
}

/** The same list with one item moved by a step; unchanged at its ends. */
export function moved<T>(list: T[], index: number, step: number): T[] {
  const to = index + step
  if (to < 0 || to >= list.length) return list
  const copy = [...list]
  const [item] = copy.splice(index, 1)
  copy.splice(to, 0, item as T)
  return copy
}

/** A field at the end of a path such as "boat_owner.country", with what it is called. */
export type Reference = { path: string; label: string; field: Field }

/** Every field that a rule on a kind may look at: its own, and those of linked records up to some steps away. */
export function referencesOf(kind: Kind, kinds: Kind[], steps = 2, prefix: Reference[] = []): Reference[] {
  const before = prefix.at(-1)
  const own = kind.fields
    .filter((field) => field.key !== 'stage' || kind.stages.length > 0)
    .map((field) => ({
      path: before ? `${before.path}.${field.key}` : field.key,
      label: before ? `${before.label} · ${field.label}` : field.label,
      field,
    }))
  if (prefix.length >= steps) return own
  const further = own
    .filter((reference) => reference.field.type === 'link')
    .flatMap((reference) => {
      const to = kinds.find((one) => one.key === reference.field.links_to)
      return to ? referencesOf(to, kinds, steps, [...prefix, reference]) : []
    })
  return [...own, ...further]
}

/** The fields that the flat conditions of the branches ask about: the columns of the table. */
export function columnsOf(rule: Rule): string[] {
  const paths = rule.branches.flatMap((branch) =>
    modeOf(branch.if) === 'all'
      ? itemsOf(branch.if)
          .filter((item) => !isGroup(item))
          .map((item) => item.field!)
      : [],
  )
  return [...new Set(paths)]
}

/** The conditions of a branch that no column shows: nested groups, and everything when it is not "all". */
export function outsideColumns(branch: Branch): Group | null {
  if (modeOf(branch.if) !== 'all') return branch.if!
  const groups = itemsOf(branch.if).filter(isGroup)
  return groups.length ? { all: groups } : null
}

/** Words for rules, over the set-up in force. */
export function useRuleWords(setup: Setup, kind: Kind) {
  const references = new Map(referencesOf(kind, setup.kinds).map((reference) => [reference.path, reference]))
  const label = (path: string) => references.get(path)?.label ?? `${path} (gone)`
  /** What stands in a blank: a record's title is called after its kind. */
  const blank = (path: string) => (path === 'title' ? `${kind.label} title` : label(path))
  const test = (name: string) => setup.vocabulary.tests.find((one) => one.name === name)
  const person = (key: string) => setup.people.find((one) => one.key === key)?.name ?? key
  const queue = (key: string) => setup.queues.find((one) => one.key === key)?.name ?? key

  function value(field: Field | undefined, given: unknown): string {
    if (given === null || given === undefined || given === '') return '…'
    if (given === true) return 'yes'
    if (given === false) return 'no'
    if (field?.type === 'person') return person(String(given))
    if (field?.type === 'money') return `${field.unit ?? '€'}${Number(given).toLocaleString('en-GB')}`
    const choice = field?.choices.find((one) => one.key === given)
    return choice ? choice.label : [String(given), field?.unit].filter(Boolean).join(' ')
  }

  function phrase(item: Item): string {
    const asked = test(item.test ?? '')
    const field = references.get(item.field ?? '')?.field
    const given = Array.isArray(item.value)
      ? item.value
      : item.value === undefined || item.value === null
        ? []
        : [item.value]
    const words = given.map((one) => value(field, one)).join(asked?.takes === 'pair' ? ' and ' : ', ')
    return [asked?.words ?? item.test, asked?.takes === 'nothing' ? '' : words || '…'].filter(Boolean).join(' ')
  }

  function sentence(item: Item): string {
    if (!isGroup(item)) return `${label(item.field ?? '')} ${phrase(item)}`
    const joined = itemsOf(item as Group).map(sentence)
    return `${modeOf(item as Group)} of: ${joined.join('; ') || 'nothing yet'}`
  }

  function assign(way: Assign | undefined): string {
    if (!way) return 'nobody yet'
    if (way.to === 'person') return person(way.person ?? '…')
    if (way.to === 'queue') return `${queue(way.queue ?? '…')} queue`
    if (way.to === 'field') return label(way.field ?? '…')
    if (way.to === 'owner') return `${kind.label} owner`
    return setup.vocabulary.ways_to_assign.find((one) => one.name === way.to)?.words ?? way.to
  }

  function date(rule: DateRule | undefined): string {
    if (!rule) return 'no date'
    const base = rule.from === 'now' ? 'the run' : !rule.from || rule.from === 'event' ? 'the event' : label(rule.from)
    const count =
      rule.count === 0
        ? `on the day of ${base}`
        : `${rule.count} ${shortUnit(rule.unit)} ${rule.direction ?? 'after'} ${base}`
    return rule.at ? `${count}, ${rule.at}` : count
  }

  return { references, label, blank, phrase, sentence, assign, date, value }
}

/** A text cut into words and blanks, for showing. */
export function piecesOf(text: string): { text: string; path: string | null }[] {
  return text
    .split(/(\{\{.*?\}\})/)
    .filter(Boolean)
    .map((piece) => {
      const blank = /^\{\{\s*([^|}]*?)\s*(\|.*)?\}\}$/.exec(piece)
      return { text: piece, path: blank ? blank[1]! : null }
    })
}
