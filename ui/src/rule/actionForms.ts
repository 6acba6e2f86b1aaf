import type { Kind } from '@/state/setup'
import { itemsOf, type Action, type DateRule, type Group, type Item, type LadderStep, type Setting } from './model'
import type { ActionName } from './names'

type Receiver = NonNullable<Action['receivers']>[number]

/** How the pieces of an action are said, over the set-up in force. */
export type LineWords = {
  assign: (way: Action['assign']) => string
  date: (rule: DateRule | undefined) => string
  span: (rule: DateRule) => string
  receiver: (one: Receiver) => string
  step: (step: LadderStep) => string
  sentence: (item: Item) => string
  setTo: (setting: Setting, target: Kind | undefined) => string
  /** " of …" for what is not the record of the rule. */
  linked: (of: string | undefined) => string
  target: (action: Action) => Kind | undefined
  kind: (key: string | undefined) => string
  list: (name: string | undefined) => string
  address: (key: string | undefined) => string
  kit: (key: string | undefined) => string
  text: (pin: Action['saved']) => string
  paper: (pin: Action['document']) => string
}

/** What the sheet knows of an action beyond its settings, which the vocabulary tells. */
export type ActionForm = {
  /** The short word in the table. */
  tag: string | ((action: Action) => string)
  /** Which editor shows it; `settings` shows whatever the vocabulary says that it takes. */
  editor: 'settings' | 'task' | 'wait' | 'ladder' | 'message' | 'paper'
  /** What a new one begins with. */
  begin: (kind: Kind) => Partial<Action>
  /** What it says in the table, and to the right who and when. */
  line: (action: Action, words: LineWords) => { text: string; right?: string }
  /** What its text is called. */
  text?: string
  /** To whom it goes, in the editor. */
  whom?: string
  /** Whether a queue can be chosen, and nobody. */
  anyone?: boolean
}

const bare = (linked: string) => linked.replace(/^ of /, '')
const mailField = (kind: Kind): Receiver => ({
  to: 'email',
  field: kind.fields.find((one) => one.type === 'email')!.key,
})
const changes = { started: 'start', done: 'finish', dropped: 'drop' } as Record<string, string>
const named = (group: Group | undefined, words: LineWords) => itemsOf(group).map(words.sentence).join(' and ') || '…'

/** An entry for each action that rules know; the compiler asks for one that is missing. */
export const actionForms = {
  task: {
    tag: (one) => (one.ask ? 'ASK' : 'TASK'),
    editor: 'task',
    begin: () => ({ title: '', way: 'other', priority: 'normal', assign: { to: 'owner' } }),
    line: (one, words) => ({ text: one.title ?? '', right: `${words.assign(one.assign)} · ${words.date(one.due)}` }),
  },
  set: {
    tag: 'SET',
    editor: 'settings',
    begin: () => ({ values: [{ field: '', value: null }] }),
    line: (one, words) => ({
      text: (one.values ?? []).map((each) => words.setTo(each, words.target(one))).join('; ') || 'Nothing yet',
      right: bare(words.linked(one.of)),
    }),
  },
  assign: {
    tag: 'ASSIGN',
    editor: 'settings',
    begin: () => ({ assign: { to: 'owner' } }),
    line: (one, words) => {
      const field = words.target(one)?.fields.find((each) => each.key === (one.field ?? 'owner'))?.label ?? 'Owner'
      return { text: `${field}${words.linked(one.of)} → ${words.assign(one.assign)}` }
    },
  },
  give: {
    tag: 'GIVE',
    editor: 'settings',
    begin: () => ({ assign: { to: 'person' } }),
    line: (one, words) => ({
      text: `${words.target(one)?.label ?? '…'} with its open tasks → ${words.assign(one.assign)}`,
    }),
  },
  move: {
    tag: 'MOVE',
    editor: 'settings',
    begin: () => ({}),
    line: (one, words) => {
      const target = words.target(one)
      const stage = target?.stages.find((each) => each.key === one.to)?.label ?? '…'
      return { text: `${target?.stage_label ?? 'Stage'}${words.linked(one.of)} → ${stage}` }
    },
  },
  list: {
    tag: 'LIST',
    editor: 'settings',
    begin: () => ({ put: 'on', list: '' }),
    line: (one, words) => ({
      text: `${one.put === 'off' ? 'Take off' : 'Put on'} ${words.list(one.list)}${words.linked(one.of)}`,
    }),
  },
  record: {
    tag: 'RECORD',
    editor: 'settings',
    begin: (kind) => ({ kind: kind.key, values: [{ field: 'title', text: '' }] }),
    line: (one, words) => ({
      text: `Make a ${words.kind(one.kind)}: ${one.values?.find((each) => each.field === 'title')?.text ?? '…'}`,
      right: one.same?.length ? `${one.same.length} same as here` : '',
    }),
  },
  log: {
    tag: 'LOG',
    editor: 'settings',
    begin: () => ({ way: 'note', text: '' }),
    line: (one, words) => ({ text: one.text ?? '', right: bare(words.linked(one.of)) }),
    text: 'What is logged',
  },
  tasks: {
    tag: 'TASKS',
    editor: 'settings',
    begin: () => ({ priority: 'urgent' }),
    line: (one, words) => {
      const what = [
        one.priority && `${one.priority} priority`,
        one.due && `due ${words.date(one.due)}`,
        one.assign && `to ${words.assign(one.assign)}`,
        one.state && changes[one.state],
      ].filter(Boolean)
      const some = itemsOf(one.which).length ? ' that match' : ''
      const which = `${one.only ? 'This task' : 'Open tasks'}${some}${words.linked(one.of)}`
      return { text: `${which}: ${what.join(', ') || 'nothing yet'}` }
    },
    text: 'Note on them',
    anyone: true,
  },
  kit: {
    tag: 'KIT',
    editor: 'settings',
    begin: () => ({ kit: '' }),
    line: (one, words) => ({ text: words.kit(one.kit), right: bare(words.linked(one.of)) }),
  },
  notice: {
    tag: 'TELL',
    editor: 'settings',
    begin: () => ({ assign: { to: 'owner' }, text: '' }),
    line: (one, words) => ({
      text: one.saved ? words.text(one.saved) : (one.text ?? ''),
      right: words.assign(one.assign),
    }),
    text: 'What it says',
    whom: 'Who is told',
  },
  comment: {
    tag: 'SAY',
    editor: 'settings',
    begin: () => ({ text: '' }),
    line: (one) => ({ text: one.text ?? '', right: one.on && one.on !== 'this' ? `on no. ${one.on}` : '' }),
    text: 'What is said; @name tells them',
  },
  mail: {
    tag: 'MAIL',
    editor: 'message',
    begin: (kind) => ({
      receivers: [kind.fields.some((one) => one.type === 'email') ? mailField(kind) : { to: 'owner' }],
      subject: '',
      text: '',
    }),
    line: (one, words) => ({
      text: one.saved ? words.text(one.saved) : one.subject || 'No subject yet',
      right: (one.receivers ?? []).map(words.receiver).join(', '),
    }),
  },
  board: {
    tag: 'BOARD',
    editor: 'message',
    begin: () => ({ text: '' }),
    line: (one, words) => ({
      text: one.saved ? words.text(one.saved) : (one.text ?? ''),
      right: words.address(one.address),
    }),
  },
  paper: {
    tag: 'PAPER',
    editor: 'paper',
    begin: () => ({ name: '{{ record.title }}' }),
    line: (one, words) => ({
      text: words.paper(one.document),
      right: one.on && one.on !== 'this' ? `at no. ${one.on}` : '',
    }),
  },
  call: {
    tag: 'CALL',
    editor: 'message',
    begin: () => ({}),
    line: (one, words) => ({
      text: one.read?.length ? `Tell, and read ${one.read.map((each) => each.path).join(', ')} back` : 'Tell',
      right: words.address(one.address),
    }),
  },
  wait: {
    tag: 'WAIT',
    editor: 'wait',
    begin: () => ({ for: { count: 3, unit: 'working_days', direction: 'after', from: 'now', at: '09:00' } }),
    line: (one, words) => {
      const what = [
        one.for && words.span(one.for),
        one.date && `until ${words.date(one.date)}`,
        one.until && `until ${named(one.until, words)}`,
      ].filter(Boolean)
      return {
        text: what.join(', or ') || 'For nothing yet',
        right: one.limit ? `at most ${words.span(one.limit)}` : '',
      }
    },
  },
  ladder: {
    tag: 'LADDER',
    editor: 'ladder',
    begin: () => ({
      steps: [{ after: { count: 1, unit: 'working_days', from: 'due', at: '09:00' }, do: 'remind' }],
    }),
    line: (one, words) => ({ text: (one.steps ?? []).map(words.step).join(', ') || 'No steps yet' }),
  },
  refuse: {
    tag: 'STOP',
    editor: 'settings',
    begin: () => ({ text: '' }),
    line: (one, words) => {
      const label = (key: string) => words.target(one)?.fields.find((field) => field.key === key)?.label ?? key
      return {
        text: one.text || 'No words yet',
        right: one.fields?.length ? `at ${one.fields.map(label).join(', ')}` : '',
      }
    },
    text: 'What is said to whoever saves',
  },
} satisfies Record<ActionName, ActionForm>

/** The form of an action; undefined for one that a newer server knows and this page does not. */
export const formOf = (name: string): ActionForm | undefined => (actionForms as Record<string, ActionForm>)[name]

/** The short word of an action, as it stands in tables. */
export function tagOf(action: Action | { action: string }): string {
  const tag = formOf(action.action)?.tag ?? action.action.toUpperCase()
  return typeof tag === 'string' ? tag : tag(action as Action)
}
