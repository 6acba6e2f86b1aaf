import type { Schemas } from '@/api/client'
import { leaveOut } from '@/lib/leaveOut'
import { firstDayWords, moneyWords, shortUnit, unitCount } from '@/lib/words'
import { plainField } from '@/lib/plainField'
import { everyKind, type Field, type Kind, type Setup } from '@/state/setup'
import { formOf, tagOf, type LineWords } from './actionForms'
import type { TestName } from './names'

export type Rule = Schemas['RuleBody']
export type Group = Schemas['Group']
export type Item = Schemas['Item']
export type Branch = Schemas['Branch']
export type Action = Schemas['Action']
export type DateRule = Schemas['DateRule']
export type Trigger = Schemas['Trigger']
export type LadderStep = Schemas['LadderStep']
export type Assign = Schemas['Assign']
export type Mode = 'all' | 'any' | 'none'
export type Test = Setup['vocabulary']['tests'][number]
export type Setting = Schemas['Setting']
export type Span = Schemas['Span']

/** Whether a value is a stretch of time such as 5 working days. */
export const isSpan = (value: unknown): value is Span => typeof value === 'object' && value !== null && 'unit' in value

/** Whether a value is another field that is compared with. */
export const isOther = (value: unknown): value is { field: string } =>
  typeof value === 'object' && value !== null && 'field' in value && !Array.isArray(value)

/** Whether it is tasks, as what a rule is about. */
export const isTask = (kind: Pick<Kind, 'key'>): boolean => kind.key === 'task'

/** Whether a rule can speak of "this task", by what its conditions can look at. */
export const speaksOfTask = (references: Reference[]): boolean =>
  references.some((one) => one.path.startsWith('task.') || one.path === 'about_kind')

/** The tasks that an action can be about: the one that the rule watches, and those that earlier actions make. */
export const tasksBefore = (earlier: Action[], watched: boolean): { value: string; words: string }[] => [
  ...(watched ? [{ value: 'this', words: 'the task the rule watches' }] : []),
  ...earlier
    .map((one, index) => ({ one, number: String(index + 1) }))
    .filter(({ one }) => one.action === 'task')
    .map(({ one, number }) => ({ value: number, words: `no. ${number}: ${one.title || 'a task'}` })),
]

/** A place that the side panel of the rule sheet shows. Rows count from 0; the one after the last is "otherwise". */
export type Place =
  | { what: 'try' | 'checks' | 'timers' | 'history' | 'only_if' }
  | { what: 'branch'; row: number }
  | { what: 'action'; row: number; index: number }

export const MODES: Mode[] = ['all', 'any', 'none']

/** What a rule watches: one trigger, or several of which any will do. */
export const triggersOf = (rule: Pick<Rule, 'trigger'>): Trigger[] =>
  'any' in rule.trigger ? rule.trigger.any : [rule.trigger]

/** How a group holds together. */
export const modeOf = (group: Group | undefined): Mode => MODES.find((mode) => group?.[mode]) ?? 'all'

/** The conditions and groups directly in a group. */
export const itemsOf = (group: Group | undefined): Item[] => (group?.[modeOf(group)] ?? []) as Item[]

/** A group of a mode. */
export const groupOf = (mode: Mode, items: Item[]): Group => ({ [mode]: items }) as Group

export const isGroup = (item: Item): boolean => item.test === undefined

/** What is said without what says nothing; a title stays, also an empty one. */
export const tidy = (said: Record<string, unknown>): Record<string, unknown> =>
  leaveOut(said, (value, key) => (value ?? '') === '' && (key !== 'title' || value !== ''))

/** A new task action with nothing decided but the usual. */
export const blankAction = (): Action => ({
  action: 'task',
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
  fuse: { per_hour: 200, per_record_day: 10 },
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

const plain = (path: string, label: string, type: Field['type'], more: Partial<Field> = {}): Reference => ({
  path,
  label,
  field: plainField(path, label, type, more),
})

/** A left side that is written as a formula. */
export const isFormula = (path: string | undefined): boolean => !!path && path.startsWith('=')

/**
 * Every left side that a condition of a rule can have: fields of the record and of linked ones, what was before the
 * event, the event itself, today, and numbers of records that lead to it or of its tasks; for a rule that watches
 * tasks, the task too.
 */
export function sidesOf(setup: Setup, kind: Kind, withTask = false): Reference[] {
  const before = kind.fields
    .filter((field) => field.formula === null && !['changed', 'stage_since'].includes(field.key))
    .map((field) => ({ path: `before.${field.key}`, label: `${field.label} before the change`, field }))
  const event = setup.vocabulary.event.map((one) =>
    plain(one.path, one.label, one.type as Field['type'], { choices: one.choices }),
  )
  const task = withTask
    ? setup.vocabulary.task.map((one) =>
        plain(one.path, one.label, one.type as Field['type'], { choices: one.choices }),
      )
    : []
  const counts = (setup.relations[kind.key] ?? []).flatMap((relation) =>
    relation.name === 'tasks'
      ? [
          plain('= count(tasks, open)', 'Number of open tasks', 'number'),
          plain('= count(tasks, late)', 'Number of late tasks', 'number'),
        ]
      : [plain(`= count(${relation.name})`, `Number of ${relation.label}`, 'number')],
  )
  return [
    ...task,
    ...referencesOf(kind, everyKind(setup)),
    ...counts,
    plain('today', 'Today', 'date'),
    ...event,
    ...before,
  ]
}

/** The fields of a task, for conditions that choose tasks. */
export const taskSides = (setup: Setup): Reference[] =>
  setup.task_kind.fields.map((field) => ({ path: field.key, label: field.label, field }))

/** The conditions of a branch that ask about one field. */
export const cellItems = (branch: Branch, path: string): Item[] =>
  modeOf(branch.if) === 'all' ? itemsOf(branch.if).filter((item) => !isGroup(item) && item.field === path) : []

/** Texts or papers of the set-up that rules about a kind can take. */
export const keptFor = <T extends { kind: string }>(all: T[], kind: Pick<Kind, 'key'>): T[] =>
  all.filter((one) => one.kind === kind.key || one.kind === 'record')

/** The same action with the words of a text of the set-up, or with words of its own again. */
export function withSaved(action: Action, saved: Action['saved']): Action {
  const { saved: _, subject, text, ...rest } = action
  if (saved) return { ...rest, saved }
  return action.action === 'mail'
    ? { ...rest, subject: subject ?? '', text: text ?? '' }
    : { ...rest, text: text ?? '' }
}

/** The same branch with other conditions about one field; they stand where the first of them stood. */
export function withCell(branch: Branch, path: string, cell: Item[]): Branch {
  const items = itemsOf(branch.if)
  const at = items.findIndex((item) => !isGroup(item) && item.field === path)
  const rest = items.filter((item) => isGroup(item) || item.field !== path)
  const place = at < 0 ? rest.length : at
  return { ...branch, if: groupOf('all', [...rest.slice(0, place), ...cell, ...rest.slice(place)]) }
}

/** The same list with an item taken from one place and put in before another. */
export function carried<T>(list: T[], from: number, to: number): T[] {
  const copy = [...list]
  const [item] = copy.splice(from, 1)
  copy.splice(to > from ? to - 1 : to, 0, item as T)
  return copy
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
  const references = new Map(sidesOf(setup, kind, true).map((reference) => [reference.path, reference]))
  const label = (path: string) =>
    references.get(path)?.label ?? (isFormula(path) ? path.slice(1).trim() : `${path} (gone)`)
  const team = (key: string) => setup.teams.find((one) => one.key === key)?.name ?? key
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
    if (field?.type === 'money') return moneyWords(Number(given), field.unit)
    const choice = field?.choices.find((one) => one.key === given)
    return choice ? choice.label : [String(given), field?.unit].filter(Boolean).join(' ')
  }

  function phrase(item: Item): string {
    const asked = test(item.test ?? '')
    const field = references.get(item.field ?? '')?.field
    if (isOther(item.value)) return `${asked?.words ?? item.test} ${label(item.value.field)}`
    if (isSpan(item.value)) {
      const span = `${item.value.count} ${unitCount(item.value.unit, item.value.count)}`
      return (asked?.words ?? item.test ?? '').replace('N', span)
    }
    const given = Array.isArray(item.value)
      ? item.value
      : item.value === undefined || item.value === null
        ? []
        : [item.value]
    const words = given.map((one) => value(field, one)).join(asked?.takes === 'pair' ? ' and ' : ', ')
    const said = [asked?.words ?? item.test, asked?.takes === 'nothing' ? '' : words || '…'].filter(Boolean).join(' ')
    return item.exact ? `${said}, capitals counting` : said
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
    if (way.to === 'turns') return `${team(way.team ?? '…')}, by turns`
    if (way.to === 'load') return `${team(way.team ?? '…')}, lightest load`
    if (way.to === 'several')
      return [...(way.persons ?? []).map(person), ...(way.fields ?? []).map(label)].join(', ') || 'nobody yet'
    if (way.to === 'owner') return isTask(kind) ? 'owner of its record' : `${kind.label} owner`
    return setup.vocabulary.ways_to_assign.find((one) => one.name === way.to)?.words ?? way.to
  }

  function date(rule: DateRule | undefined): string {
    if (!rule) return 'no date'
    const kit: Record<string, string> = { start: 'the start', target: 'the target', comes: 'it comes' }
    const base = kit[rule.from ?? '']
      ? kit[rule.from!]!
      : rule.from === 'now'
        ? 'the run'
        : !rule.from || rule.from === 'event'
          ? 'the event'
          : label(rule.from)
    const counted = `${rule.count} ${shortUnit(rule.unit)} ${rule.direction ?? 'after'} ${base}`
    const day = rule.first
      ? `first ${firstDayWords(rule.first)} from ${rule.count === 0 ? base : counted}`
      : rule.count === 0
        ? `on the day of ${base}`
        : counted
    return [day, rule.at, rule.otherwise && `else ${date(rule.otherwise)}`].filter(Boolean).join(', ')
  }

  const span = (rule: DateRule) => `${rule.count} ${shortUnit(rule.unit)}${rule.at ? `, ${rule.at}` : ''}`
  /** A step of a ladder, such as "+1 wd remind". */
  function step(one: LadderStep): string {
    const what = {
      remind: 'remind',
      raise: one.priority ? `raise to ${one.priority}` : 'raise',
      pass_on: `to ${assign(one.assign)}`,
      drop: 'drop',
    }[one.do]
    const sign = one.after.from === 'due' && one.after.direction === 'before' ? '−' : '+'
    return `${sign}${one.after.count} ${shortUnit(one.after.unit)} ${what ?? one.do}`
  }

  const linked = (of: string | undefined) =>
    !of || of === 'record' ? '' : of.startsWith('made.') ? ` of what no. ${of.slice(5)} makes` : ` of ${label(of)}`
  const kindWords = (key: string | undefined) => setup.kinds.find((one) => one.key === key)?.label.toLowerCase() ?? '…'
  const listWords = (name: string | undefined) => setup.kinds.find((one) => one.key === `entry/${name}`)?.plural ?? '…'

  function setTo(setting: Setting, target: Kind | undefined): string {
    const field = target?.fields.find((one) => one.key === setting.field)
    const name = field?.label ?? (setting.field || '…')
    if (setting.empty) return `${name} → empty`
    if (setting.now) return `${name} → now`
    if (setting.copy !== undefined) return `${name} → ${setting.copy ? label(setting.copy) : '…'}`
    if (setting.formula !== undefined) return `${name} → = ${setting.formula.replace(/^=\s*/, '')}`
    if (setting.date) return `${name} → ${date(setting.date)}`
    if (setting.text !== undefined) return `${name} → “${setting.text}”`
    const given = Array.isArray(setting.value) ? setting.value : [setting.value]
    return `${name} → ${given.map((one) => value(field, one)).join(', ')}`
  }

  /** Who gets a mail, in a line. */
  function receiver(one: NonNullable<Action['receivers']>[number]): string {
    if (one.to === 'address') return one.address || '…'
    if (one.to === 'team') return setup.teams.find((each) => each.key === one.team)?.name ?? '…'
    return one.to === 'email' ? label(one.field ?? '') : assign({ ...one, to: one.to })
  }

  const lines: LineWords = {
    assign,
    date,
    span,
    step,
    sentence,
    setTo,
    linked,
    target: (one) => targetKind(setup, kind, one.of, []),
    kind: kindWords,
    list: listWords,
    kit: (key) => setup.kits.find((each) => each.key === key)?.name ?? '…',
    text: (pin) => `“${setup.texts.find((each) => each.key === pin?.key)?.name ?? '…'}”`,
    paper: (pin) => setup.papers.find((each) => each.key === pin?.key)?.name ?? 'No paper yet',
    address: (key) => setup.addresses.find((each) => each.key === key)?.name ?? '…',
    receiver,
  }

  /** An action in a line: a short word, what it does, and to the right who and when. */
  function action(one: Action): { tag: string; text: string; right: string } {
    return { tag: tagOf(one), right: '', ...(formOf(one.action)?.line(one, lines) ?? { text: '' }) }
  }

  return { references, label, blank, phrase, sentence, assign, date, step, value, action, person, team, listWords }
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

/** The kind of record that an action is about: that of the rule, of a linked record, or of one made before it. */
export function targetKind(setup: Setup, kind: Kind, of: string | undefined, earlier: Action[]): Kind | undefined {
  const find = (key: string | null | undefined) => everyKind(setup).find((one) => one.key === key)
  // The record of a task may be of any kind.
  if (!of || of === 'record') return isTask(kind) ? find('record') : kind
  if (of.startsWith('made.')) {
    const maker = earlier[Number(of.slice(5)) - 1]
    return maker?.action === 'list' ? find(`entry/${maker.list}`) : find(maker?.kind)
  }
  return find(referencesOf(kind, everyKind(setup)).find((reference) => reference.path === of)?.field.links_to)
}

/** Whether a rule on any change also fires on a day: when a condition looks at what changes of itself. */
export function looksAtDays(rule: Rule, setup: Setup, kind: Kind): boolean {
  if (!triggersOf(rule).some((one) => one.when === 'record_changed' && !one.field)) return false
  const sides = new Map(sidesOf(setup, kind).map((one) => [one.path, one.field]))
  const daily = (item: Item): boolean =>
    isGroup(item)
      ? itemsOf(item as Group).some(daily)
      : isSpan(item.value) || item.field === 'today' || /\btoday\b/.test(sides.get(item.field ?? '')?.formula ?? '')
  return [rule.only_if, ...rule.branches.map((branch) => branch.if)].some((group) => itemsOf(group).some(daily))
}

/** A test that a left side can be asked: the one that stood there where it fits, else the first. */
export function firstTest(setup: Setup, reference: Reference | undefined, before?: string): TestName {
  const type = reference?.field.type
  const kept = reference && !/[.=]|^today$/.test(reference.path) && !reference.field.formula
  const usable = setup.vocabulary.tests.filter((one) => (!type || one.types.includes(type)) && (kept || !one.own_only))
  return (usable.find((one) => one.name === before) ?? usable[0])?.name ?? 'is'
}

/** The one text that differs between two values, as a path; null when it is anything else. */
export function typedPlace(one: unknown, other: unknown, at = ''): string | null {
  if (typeof one === 'string' && typeof other === 'string') return at
  if (typeof one !== 'object' || typeof other !== 'object' || !one || !other) return null
  const keys = [...new Set([...Object.keys(one), ...Object.keys(other)])]
  const part = (whole: object, key: string) => (whole as Record<string, unknown>)[key]
  const changed = keys.filter((key) => JSON.stringify(part(one, key)) !== JSON.stringify(part(other, key)))
  return changed.length === 1
    ? typedPlace(part(one, changed[0]!), part(other, changed[0]!), `${at}/${changed[0]}`)
    : null
}
