/** What a field can hold, in words. */
export const TYPE_WORDS: Record<string, string> = {
  text: 'Text',
  long_text: 'Long text',
  number: 'Number',
  money: 'Money',
  date: 'Date',
  datetime: 'Date with time',
  yes_no: 'Yes or no',
  choice: 'One choice',
  choices: 'Several choices',
  person: 'Person',
  link: 'Link to a record',
  url: 'Web address',
  email: 'E-mail',
  phone: 'Phone',
}

/** Which task of a queue is the next. */
export const ORDER_WORDS = {
  due: 'urgent first, then as due',
  priority: 'by priority, then as due',
  age: 'the longest waiting first',
} as const

/** Who may, the widest first. */
export const LEVELS = ['everyone', 'team', 'owner', 'administrators'] as const
export type Level = (typeof LEVELS)[number]
export const LEVEL_WORDS: Record<Level, string> = {
  everyone: 'everyone',
  team: "the owner's team",
  owner: 'the owner and leads of that team',
  administrators: 'administrators',
}

/** The records from which a text or paper is filled in. */
export const kindWords = (key: string, kind: { plural: string } | undefined) =>
  kind?.plural ?? (key === 'record' ? 'records of any kind' : key === 'task' ? 'tasks' : key)

/** What an address is. */
export const ADDRESS_WORDS = { board: 'a board', call: 'a program, by web calls' } as const

/** On which way a message goes. */
export const WAY_WORDS: Record<string, string> = { mail: 'mail', board: 'board', call: 'call' }

/** How a message of the outbox stands. */
export const MESSAGE_STATES = {
  waiting: 'waiting',
  sent: 'sent',
  failed: 'not delivered',
  stopped: 'stopped',
  back: 'came back',
} as const
export type MessageState = keyof typeof MESSAGE_STATES

/** What became of a mail that came in. */
export const LETTER_STATES = {
  answer: 'an answer, on its record',
  made: 'made a record',
  automatic: 'an automatic answer, left at that',
  back: 'a mail of the house came back',
  loop: 'went round in a circle, left at that',
  unknown: 'nobody takes it; the sender is told',
  waiting: 'waits with the mail server, which brings it again',
} as const
