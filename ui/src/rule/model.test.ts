import { describe, expect, it } from 'vitest'
import { actionForms, tagOf, type ActionForm } from './actionForms'
import type { Field, Kind, Setup } from '@/state/setup'
import type { ActionName } from './names'
import {
  blankRule,
  carried,
  cellItems,
  columnsOf,
  firstTest,
  groupOf,
  itemsOf,
  keptFor,
  looksAtDays,
  modeOf,
  moved,
  outsideColumns,
  piecesOf,
  referencesOf,
  sidesOf,
  type Action,
  type Branch,
  type Item,
  type Rule,
  typedPlace,
  useRuleWords,
  withActions,
  withCell,
  withSaved,
} from './model'

const field = (key: string, label: string, type: Field['type'], more: Partial<Field> = {}): Field => ({
  key,
  label,
  type,
  unit: null,
  links_to: null,
  built_in: false,
  formula: null,
  required: false,
  unique: false,
  kept: false,
  default: null,
  help: null,
  group: null,
  choices: [],
  ...more,
})
const contact: Kind = {
  key: 'contact',
  label: 'Contact',
  plural: 'Contacts',
  stage_label: 'Stage',
  seen_by: 'everyone',
  changed_by: 'everyone',
  taken_away_by: 'owner',
  family: 'contact',
  about: null,
  stages: [],
  fields: [
    field('title', 'Title', 'text'),
    field('country', 'Country', 'choice', { choices: [{ key: 'ireland', label: 'Ireland' }] }),
  ],
}
const deal: Kind = {
  ...contact,
  key: 'deal',
  label: 'Deal',
  fields: [
    field('title', 'Title', 'text'),
    field('length', 'Boat length', 'number', { unit: 'm' }),
    field('value', 'Value', 'money', { unit: '€' }),
    field('owner_of', 'Owner of the boat', 'link', { links_to: 'contact' }),
  ],
}
const setup = {
  kinds: [contact, deal],
  people: [{ key: 'maren', name: 'Maren Oduya' }],
  queues: [{ key: 'callbacks', name: 'Callbacks' }],
  teams: [],
  subjects: [],
  relations: {
    deal: [
      { name: 'tasks', label: 'Tasks', kind: 'task' },
      { name: 'ticket.boat', label: 'Tickets (Boat)', kind: 'ticket' },
    ],
  },
  vocabulary: {
    event: [{ path: 'event.who', label: 'Who did it', type: 'person', choices: [] }],
    task: [{ path: 'task.answer', label: 'Task · Answer', type: 'text', choices: [] }],
    tests: [
      { name: 'at_least', words: 'is at least', takes: 'one', types: ['number'], own_only: false },
      { name: 'is_one_of', words: 'is one of', takes: 'many', types: ['choice'], own_only: false },
      { name: 'is_empty', words: 'is empty', takes: 'nothing', types: ['number'], own_only: false },
      { name: 'changed', words: 'changed', takes: 'nothing', types: ['number', 'text'], own_only: true },
      { name: 'within_next', words: 'is within the next N', takes: 'span', types: ['date'], own_only: false },
    ],
    ways_to_assign: [{ name: 'who_did_it', words: 'who did it', takes: {}, needs_fallback: true }],
  },
} as unknown as Setup

const branch = (group: Branch['if']): Branch => ({ if: group, do: [] })
const rule = (...branches: Branch[]): Rule => ({ ...blankRule('deal', 'yenvo-rule/1'), branches })

describe('the table of a rule', () => {
  it('has a column for each field that flat conditions ask about, once', () => {
    const flat = (path: string) => branch({ all: [{ field: path, test: 'is_empty' }] })
    expect(columnsOf(rule(flat('length'), flat('value'), flat('length')))).toEqual(['length', 'value'])
  })

  it('keeps nested conditions, and groups that are not “all”, out of the columns', () => {
    const any = branch({ any: [{ field: 'length', test: 'is_empty' }] })
    const nested = branch({ all: [{ field: 'value', test: 'is_empty' }, { any: [] }] })
    expect(columnsOf(rule(any, nested))).toEqual(['value'])
    expect([outsideColumns(any), outsideColumns(nested), outsideColumns(branch({ all: [] }))]).toEqual([
      any.if,
      { all: [{ any: [] }] },
      null,
    ])
  })

  it('reads and builds groups', () => {
    expect([modeOf(undefined), modeOf({ none: [] }), itemsOf(groupOf('any', [{ field: 'x' }]))]).toEqual([
      'all',
      'none',
      [{ field: 'x' }],
    ])
  })

  it('moves rows by a step and not over the ends', () => {
    expect([moved([1, 2, 3], 0, 1), moved([1, 2, 3], 2, 1), moved([1, 2, 3], 2, -1)]).toEqual([
      [2, 1, 3],
      [1, 2, 3],
      [1, 3, 2],
    ])
  })

  it('changes the actions of one row, the otherwise being the last', () => {
    const action: Action = { action: 'task', title: 'Call' }
    expect(withActions(rule(branch({ all: [] })), 0, [action]).branches[0]!.do).toEqual([action])
    expect(withActions(rule(branch({ all: [] })), 1, [action]).otherwise).toEqual([action])
  })
})

describe('the words of a rule', () => {
  const words = useRuleWords(setup, deal)

  it('names fields of the record and of linked ones', () => {
    expect(referencesOf(deal, setup.kinds).map((one) => one.label)).toContain('Owner of the boat · Country')
    expect([words.label('owner_of.country'), words.label('gone'), words.blank('title')]).toEqual([
      'Owner of the boat · Country',
      'gone (gone)',
      'Deal title',
    ])
  })

  it('says conditions, with units, labels and what is still missing', () => {
    expect(words.phrase({ field: 'length', test: 'at_least', value: 12 })).toBe('is at least 12 m')
    expect(words.phrase({ field: 'owner_of.country', test: 'is_one_of', value: ['ireland'] })).toBe('is one of Ireland')
    expect(words.phrase({ field: 'length', test: 'at_least' })).toBe('is at least …')
    expect(words.sentence({ any: [{ field: 'length', test: 'is_empty' }] })).toBe('any of: Boat length is empty')
  })

  it('says who and when', () => {
    expect([
      words.assign({ to: 'owner' }),
      words.assign({ to: 'person', person: 'maren' }),
      words.assign({ to: 'queue', queue: 'callbacks' }),
      words.assign({ to: 'who_did_it' }),
      words.assign(undefined),
    ]).toEqual(['Deal owner', 'Maren Oduya', 'Callbacks queue', 'who did it', 'nobody yet'])
    expect([
      words.date({ count: 3, unit: 'working_days', direction: 'before', from: 'length', at: '12:00' }),
      words.date({ count: 0, unit: 'days' }),
      words.date(undefined),
    ]).toEqual(['3 wd before Boat length, 12:00', 'on the day of the event', 'no date'])
  })

  it('cuts a text into words and blanks', () => {
    expect(piecesOf("Book for {{ record.title | default: 'x' }} now").map((piece) => piece.path)).toEqual([
      null,
      'record.title',
      null,
    ])
  })
})

describe('the sides and cells of conditions', () => {
  it('offers fields, counts, the event, today and what was before', () => {
    const labels = sidesOf(setup, deal).map((side) => side.label)
    expect(labels).toContain('Owner of the boat · Country')
    expect(labels).toContain('Number of Tickets (Boat)')
    expect(labels).toContain('Number of open tasks')
    expect(labels).toContain('Who did it')
    expect(labels).toContain('Boat length before the change')
    expect(labels).toContain('Today')
  })

  it('puts the conditions of a cell back where they stood', () => {
    const one: Item = { field: 'length', test: 'at_least', value: 12 }
    const two: Item = { field: 'value', test: 'at_least', value: 5 }
    const nested = { any: [] }
    const given = branch({ all: [one, two, nested] })
    expect(cellItems(given, 'length')).toEqual([one])
    const other: Item = { field: 'length', test: 'is_empty' }
    expect(itemsOf(withCell(given, 'length', [one, other]).if)).toEqual([one, other, two, nested])
    expect(itemsOf(withCell(given, 'length', []).if)).toEqual([two, nested])
    expect(itemsOf(withCell(given, 'title', [{ field: 'title', test: 'is_empty' }]).if)).toHaveLength(4)
  })

  it('says stretches of time, other fields and capitals', () => {
    const { phrase } = useRuleWords(setup, deal)
    expect(phrase({ field: 'length', test: 'within_next', value: { count: 1, unit: 'working_days' } })).toBe(
      'is within the next 1 working day',
    )
    expect(phrase({ field: 'length', test: 'at_least', value: { field: 'value' } })).toBe('is at least Value')
    expect(phrase({ field: 'title', test: 'at_least', value: 'x', exact: true })).toContain('capitals counting')
  })

  it('carries an item before another and knows which tests a side can be asked', () => {
    expect([carried([1, 2, 3], 0, 3), carried([1, 2, 3], 2, 0), carried([1, 2, 3], 0, 1)]).toEqual([
      [2, 3, 1],
      [3, 1, 2],
      [1, 2, 3],
    ])
    const sides = sidesOf(setup, deal)
    const find = (path: string) => sides.find((side) => side.path === path)
    expect(firstTest(setup, find('length'), 'changed')).toBe('changed')
    expect(firstTest(setup, find('before.length'), 'changed')).toBe('at_least')
  })

  it('says what an action does, whichever it is', () => {
    const { action } = useRuleWords(setup, deal)
    expect(action({ action: 'set', values: [{ field: 'value', formula: '= length * 2' }] }).text).toBe(
      'Value → = length * 2',
    )
    expect(action({ action: 'refuse', text: 'No', fields: ['value', 'gone'] }).right).toBe('at Value, gone')
    expect(action({ action: 'tasks', priority: 'urgent' }).text).toBe('Open tasks: urgent priority')
    expect(action({ action: 'assign', of: 'owner_of', assign: { to: 'person', person: 'maren' } }).text).toContain(
      'Maren Oduya',
    )
    expect(action({ action: 'give', assign: { to: 'person', person: 'maren' } })).toEqual({
      tag: 'GIVE',
      text: 'Deal with its open tasks → Maren Oduya',
      right: '',
    })
    expect([
      tagOf({ action: 'kit' }),
      tagOf({ action: 'task', ask: true }),
      tagOf({ action: 'new' as ActionName }),
    ]).toEqual(['KIT', 'ASK', 'NEW'])
    expect(action({ action: 'new' as ActionName })).toEqual({ tag: 'NEW', text: '', right: '' })
  })

  it('begins every action with what its form can show', () => {
    for (const [name, form] of Object.entries(actionForms)) {
      const begun = { action: name as ActionName, ...(form as ActionForm).begin(deal) }
      expect(
        useRuleWords({ ...setup, kits: [], addresses: [], texts: [], papers: [] }, deal).action(begun),
      ).toMatchObject({
        tag: tagOf(begun),
      })
    }
  })

  it('takes the words of a text of the set-up, or has its own again', () => {
    const mail = { action: 'mail' as const, subject: 'a', text: 'b' }
    expect(withSaved(mail, { key: 'welcome' })).toEqual({ action: 'mail', saved: { key: 'welcome' } })
    expect(withSaved({ action: 'mail', saved: { key: 'welcome' } }, undefined)).toEqual({
      ...mail,
      subject: '',
      text: '',
    })
    expect(withSaved({ action: 'notice', saved: { key: 'x' } }, undefined)).toEqual({ action: 'notice', text: '' })
    const known = [{ kind: 'deal' }, { kind: 'record' }, { kind: 'ticket' }]
    expect(keptFor(known, deal)).toEqual([{ kind: 'deal' }, { kind: 'record' }])
  })

  it('knows when one text was typed on, and nothing else changed', () => {
    const at = (title: string, count = 1) => ({ rows: [{ title, count }] })
    expect(typedPlace(at('a'), at('ab'))).toBe('/rows/0/title')
    expect([
      typedPlace(at('a'), at('ab', 2)),
      typedPlace(at('a'), at('a', 2)),
      typedPlace(['a', 'b'], ['b', 'a']),
    ]).toEqual([null, null, null])
  })
})

describe('a rule on any change', () => {
  const quiet = field('days_quiet', 'Days quiet', 'number', { formula: 'days_between(made, today)' })
  const kind = { ...deal, fields: [...deal.fields, quiet] }
  const rule = (item: object, trigger = { when: 'record_changed' } as Rule['trigger']): Rule => ({
    ...blankRule('deal', 'yenvo-rule/1'),
    trigger,
    only_if: { all: [item] } as Rule['only_if'],
  })

  it('also fires on a day when a condition looks at what changes of itself', () => {
    expect(looksAtDays(rule({ field: 'days_quiet', test: 'at_least', value: 5 }), setup, kind)).toBe(true)
    expect(looksAtDays(rule({ field: 'x', test: 'within_next', value: { count: 3, unit: 'days' } }), setup, kind)).toBe(
      true,
    )
    expect(looksAtDays(rule({ any: [{ field: 'today', test: 'after', value: '2026-12-01' }] }), setup, kind)).toBe(true)
  })

  it('does not when it watches one field, or looks at what is kept', () => {
    const watched = { when: 'record_changed', field: 'value' } as Rule['trigger']
    expect(looksAtDays(rule({ field: 'days_quiet', test: 'at_least', value: 5 }, watched), setup, kind)).toBe(false)
    expect(looksAtDays(rule({ field: 'value', test: 'at_least', value: 5 }), setup, kind)).toBe(false)
  })
})
