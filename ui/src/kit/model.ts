import type { Schemas } from '@/api/client'
import { firstDayWords, shortUnit } from '@/lib/words'
import type { Kind, Setup } from '@/state/setup'

export type Kit = Schemas['KitBody']
export type KitTask = Schemas['KitTask']
export type Phase = Schemas['KitPhase']
export type Step = Schemas['KitStep']

/** Where a task stands: its phase and its place in it. */
export type Spot = { phase: number; index: number }

/** A new kit for a kind of record. */
export const blankKit = (kind: string, format: string): Kit => ({
  format,
  name: '',
  record: kind,
  count: 'forward',
  from: 'event',
  day_off: 'later',
  moves: 'follow',
  phases: [{ name: '', tasks: [] }],
})

/** All tasks in order; a task is called by its place here, from 1. */
export const tasksOf = (kit: Kit): KitTask[] => kit.phases.flatMap((phase) => phase.tasks)

/** The number that people call a task by; 0 when there is no such task. */
export const numberOf = (kit: Kit, key: string): number => tasksOf(kit).findIndex((task) => task.key === key) + 1

/** The beginning of what a task says, to choose it by. */
export const shortTitle = (task: KitTask): string => task.title.replace(/\{\{.*?\}\}/g, '…').slice(0, 34)

/** Where a task stands. */
export function spotOf(kit: Kit, key: string): Spot | null {
  for (const [phase, one] of kit.phases.entries()) {
    const index = one.tasks.findIndex((task) => task.key === key)
    if (index >= 0) return { phase, index }
  }
  return null
}

/** A handle for a task that no other has: from its title. */
export function freeKey(title: string, taken: string[]): string {
  const plain =
    title
      .normalize('NFD')
      .replace(/\p{Mn}/gu, '')
      .toLowerCase()
      .replace(/\{\{.*?\}\}/g, '')
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .slice(0, 30) || 'task'
  if (!taken.includes(plain)) return plain
  for (let n = 2; ; n += 1) if (!taken.includes(`${plain}-${n}`)) return `${plain}-${n}`
}

const withPhase = (kit: Kit, at: number, tasks: KitTask[]): Kit => ({
  ...kit,
  phases: kit.phases.map((phase, index) => (index === at ? { ...phase, tasks } : phase)),
})

/** The same kit with one task changed. */
export function withTask(kit: Kit, key: string, task: KitTask): Kit {
  const spot = spotOf(kit, key)
  if (!spot) return kit
  return withPhase(
    kit,
    spot.phase,
    kit.phases[spot.phase]!.tasks.map((one) => (one.key === key ? task : one)),
  )
}

/** The same kit with tasks added at the end of a phase. */
export const withAdded = (kit: Kit, phase: number, tasks: KitTask[]): Kit =>
  withPhase(kit, phase, [...kit.phases[phase]!.tasks, ...tasks])

/** The same kit without a task; what came after it comes after nothing instead, its parts are tasks of their own. */
export function without(kit: Kit, key: string): Kit {
  return {
    ...kit,
    phases: kit.phases.map((phase) => ({
      ...phase,
      tasks: phase.tasks
        .filter((task) => task.key !== key)
        .map(({ under, ...task }) => (under && under !== key ? { ...task, under } : task))
        .map((task) => {
          if (!task.after) return task
          const after = task.after
            .map((steps) => steps.filter((step) => step.task !== key))
            .filter((steps) => steps.length)
          const { after: _gone, ...rest } = task
          return after.length ? { ...task, after } : rest
        }),
    })),
  }
}

/** The same kit with a task moved by one place, into the phase before or after at the ends. */
export function movedBy(kit: Kit, key: string, step: number): Kit {
  const spot = spotOf(kit, key)
  if (!spot) return kit
  const tasks = kit.phases[spot.phase]!.tasks
  const to = spot.index + step
  const behind = to + (step > 0 ? partsOf(kit, key).length : 0)
  if (to >= 0 && behind < tasks.length)
    return carriedTo(kit, key, { phase: spot.phase, index: step > 0 ? behind + 1 : to })
  const phase = spot.phase + step
  const next = kit.phases[phase]
  if (!next) return kit
  return carriedTo(kit, key, { phase, index: step > 0 ? 0 : next.tasks.length })
}

/** The same kit with a task, and its parts with it, taken from where they are and put in before a place. */
export function carriedTo(kit: Kit, key: string, to: Spot): Kit {
  const block = tasksOf(kit).filter((task) => task.key === key || task.under === key)
  if (!block.length) return kit
  const stays = (tasks: KitTask[]) => tasks.filter((task) => !block.includes(task))
  const index = stays(kit.phases[to.phase]!.tasks.slice(0, to.index)).length
  const phases = kit.phases.map((phase) => ({ ...phase, tasks: stays(phase.tasks) }))
  phases[to.phase]!.tasks.splice(index, 0, ...block)
  return { ...kit, phases }
}

/** The parts of a task. */
export const partsOf = (kit: Kit, key: string): KitTask[] => tasksOf(kit).filter((task) => task.under === key)

/** The same kit with a part put behind those that a task has. */
export function withPart(kit: Kit, key: string, part: KitTask): Kit {
  const spot = spotOf(kit, key)
  if (!spot) return kit
  const tasks = kit.phases[spot.phase]!.tasks
  const last = tasks.map((task) => task.key === key || task.under === key).lastIndexOf(true)
  return withPhase(kit, spot.phase, [...tasks.slice(0, last + 1), { ...part, under: key }, ...tasks.slice(last + 1)])
}

/** When a task comes, such as "after 2, if Unsafe; after 4, if No". */
export function comesWords(kit: Kit, task: KitTask): string {
  if (task.under) {
    const { under, ...alone } = task
    const ways = task.after?.length ? `, ${comesWords(kit, alone)}` : ''
    return `with ${numberOf(kit, under!) || `${under} (gone)`}${ways}`
  }
  if (!task.after?.length) return 'at the start'
  const step = (one: Step) =>
    `${numberOf(kit, one.task) || `${one.task} (gone)`}${one.answer ? `, if ${one.answer}` : ''}`
  return task.after.map((steps) => `after ${steps.map(step).join(' and ')}`).join('; ')
}

/** When a task is due, in a few words. */
export function dueWords(kit: Kit, task: KitTask, kind: Kind | undefined): string {
  const { due } = task
  if (!due) return 'no date'
  return due.otherwise
    ? `${dayWords(kit, due, kind)}, else ${dayWords(kit, due.otherwise, kind)}`
    : dayWords(kit, due, kind)
}

function dayWords(kit: Kit, due: NonNullable<KitTask['due']>, kind: Kind | undefined): string {
  const anchor = kind?.fields.find((field) => field.key === kit.from)?.label
  const comes = !due.from || due.from === 'comes'
  const base = due.from === 'target' ? (anchor ?? 'the target') : due.from === 'start' ? 'the start' : due.from
  const count = `${due.count} ${shortUnit(due.unit)} ${due.direction ?? 'after'}`
  const counted = comes ? `${count} it comes` : due.from === 'target' ? count : `${count} ${base}`
  const none = due.count === 0
  const day = due.first
    ? `first ${firstDayWords(due.first)} from ${none ? (comes ? 'when it comes' : base) : counted}`
    : none
      ? comes
        ? 'same day'
        : `on ${base}`
      : counted
  return due.at ? `${day}, ${due.at}` : day
}

/** Tasks read from pasted lines: blank lines fall away, numbering and bullets are taken off, tabs become columns. */
export function readLines(text: string, kit: Kit, setup: Setup, kind: Kind): KitTask[] {
  const taken = tasksOf(kit).map((task) => task.key)
  return text
    .split(/\r?\n/)
    .map((line) => line.split('\t').map((cell) => cell.trim()))
    .map(([title = '', ...rest]) => [cleanLine(title), ...rest])
    .filter(([title]) => title)
    .slice(0, 200)
    .map(([title, ...columns]) => {
      const key = freeKey(title!, taken)
      taken.push(key)
      return fromColumns({ key, title: title!.slice(0, 500) }, columns, kit, setup, kind)
    })
}

/** A line without its bullet, box or number: "1. ", "2) ", "a) ", "- ", "* ", "• ", "[ ] ". */
export const cleanLine = (line: string): string =>
  line.replace(/^\s*(?:(?:[-*•–▪◦·]|\[[ xX]?\]|\(?\d{1,3}[.)]|\(?[a-zA-Z][.)])\s+)+/, '').trim()

// The second column says who, the third when, each if it can be read so; all else becomes the text.
function fromColumns(task: KitTask, columns: string[], kit: Kit, setup: Setup, kind: Kind): KitTask {
  const rest: string[] = []
  for (const column of columns.filter(Boolean)) {
    const who = task.assign ? null : whoFrom(column, setup, kind)
    const due = task.due ? null : dueFrom(column, kit)
    if (who) Object.assign(task, who)
    else if (due) task.due = due
    else rest.push(column)
  }
  return rest.length ? { ...task, text: rest.join('\n') } : task
}

function whoFrom(words: string, setup: Setup, kind: Kind): Pick<KitTask, 'assign' | 'fallback'> | null {
  const plain = words.toLowerCase().replace(/ queue$/, '')
  const person = setup.people.find((one) => one.active && one.name.toLowerCase() === plain)
  if (person) return { assign: { to: 'person', person: person.key } }
  const queue = setup.queues.find((one) => one.name.toLowerCase() === plain)
  if (queue) return { assign: { to: 'queue', queue: queue.key } }
  const first = setup.queues[0]
  const fallback: Pick<KitTask, 'fallback'> = first ? { fallback: { to: 'queue', queue: first.key } } : {}
  const field = kind.fields.find((one) => one.type === 'person' && one.label.toLowerCase() === plain)
  if (plain === 'owner' || plain === `${kind.label.toLowerCase()} owner`)
    return { assign: { to: 'owner' }, ...fallback }
  return field && !field.built_in ? { assign: { to: 'field', field: field.key }, ...fallback } : null
}

const DUE_UNITS: Record<string, string> = {
  d: 'days',
  day: 'days',
  days: 'days',
  wd: 'working_days',
  'working day': 'working_days',
  'working days': 'working_days',
  w: 'weeks',
  week: 'weeks',
  weeks: 'weeks',
  month: 'months',
  months: 'months',
  h: 'hours',
  hours: 'hours',
}

/** A due date such as "5 wd before" or "2 days after"; null when it cannot be read so. */
export function dueFrom(words: string, kit: Kit): KitTask['due'] | null {
  const found = /^(\d{1,4})\s*([a-z ]+?)(?:\s+(before|after)(?:\s.*)?)?$/i.exec(words.trim())
  const unit = found && DUE_UNITS[found[2]!.toLowerCase()]
  if (!found || !unit) return null
  const direction = found[3]?.toLowerCase() ?? 'after'
  const anchor = kit.count === 'back' ? 'target' : 'start'
  return {
    count: Math.min(1000, Number(found[1])),
    unit,
    direction,
    from: direction === 'before' ? anchor : kit.count === 'back' ? 'comes' : anchor,
  }
}
