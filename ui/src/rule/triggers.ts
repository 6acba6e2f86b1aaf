import { useDates } from '@/lib/dates'
import { leaveOut } from '@/lib/leaveOut'
import { useSetup, type Kind, type Setup } from '@/state/setup'
import { isTask, referencesOf, triggersOf, type Reference, type Rule, type Trigger } from './model'
import type { TriggerName } from './names'

/** What a rule may watch beside each other, at most. */
export const MOST_TRIGGERS = 8

/** Own fields that people or rules change: not those that Yenvo keeps, nor those that are worked out. */
export const changeable = (kind: Kind): Reference[] =>
  referencesOf(kind, [], 0).filter(
    ({ field }) => !['changed', 'made', 'creator', 'last_contact', 'stage_since'].includes(field.key) && !field.formula,
  )

type Known = Setup['vocabulary']['triggers'][number]
const knownOf = (setup: Setup, trigger: Trigger): Known | undefined =>
  setup.vocabulary.triggers.find((one) => one.name === trigger.when)
const aboutTask = (setup: Setup, trigger: Trigger) => knownOf(setup, trigger)?.task || trigger.task === true

/** Whether each of its triggers watches tasks, so that the rule may speak of "the task". */
export const watchesTask = (setup: Setup, rule: Rule): boolean =>
  isTask({ key: rule.record }) || triggersOf(rule).every((one) => aboutTask(setup, one))

/** Whether time can pull it: a timer, or a day on which conditions become true. */
export const isTimed = (setup: Setup, rule: Rule): boolean =>
  triggersOf(rule).some((one) => knownOf(setup, one)?.timer || (one.when === 'record_changed' && !one.field))

/** Whether all of its triggers happen at a save, so that it may run before it. */
export const isAtSave = (setup: Setup, rule: Rule): boolean =>
  triggersOf(rule).every((one) => knownOf(setup, one)?.before_save)

/** The rule about another kind; triggers that it cannot have there go. */
export function withKind(setup: Setup, rule: Rule, record: string): Rule {
  const next = { ...rule, record }
  if (!isTask({ key: record })) {
    // Tasks have no timers of their own there, unless the rule says so.
    return isTask({ key: rule.record }) ? withTriggers(setup, next, [{ when: 'record_made' }]) : next
  }
  const fit = triggersOf(rule).filter((one) => knownOf(setup, one)?.of_task)
  if (!ABOUT_TASKS.includes(next.how_often ?? '')) next.how_often = 'every_time'
  delete next.every_days
  return withTriggers(
    setup,
    next,
    fit.length ? fit.map((one) => leaveOut(one, (_, name) => name === 'task')) : [{ when: 'task_made' }],
  )
}

/** How often a rule about tasks can run. */
export const ABOUT_TASKS = ['every_time', 'once_per_task']

/** The rule with other triggers; what they no longer allow of when and how often it runs falls back to the usual. */
export function withTriggers(setup: Setup, rule: Rule, triggers: Trigger[]): Rule {
  const next = { ...rule, trigger: triggers.length === 1 ? triggers[0]! : { any: triggers } }
  if (next.run && !isAtSave(setup, next)) delete next.run
  if (next.how_often === 'once_per_task' && !watchesTask(setup, next)) next.how_often = 'every_time'
  // A finish counts once for each task unless the rule says every time.
  const [first] = triggers
  const newlyTask =
    first && triggers.length === 1 && first.when !== triggersOf(rule)[0]?.when && aboutTask(setup, first)
  if (newlyTask && knownOf(setup, first)?.task) next.how_often = 'once_per_task'
  return next
}

/** What is to be known of several triggers beside each other: what hangs on one of them alone. */
export function notesOnSeveral(setup: Setup, rule: Rule): string[] {
  const all = triggersOf(rule)
  if (all.length < 2) return []
  const known = all.map((one) => knownOf(setup, one))
  const tasks = all.filter((one) => aboutTask(setup, one)).length
  const spoken = all.some((one) =>
    ['code', 'interaction_logged', 'message_in', 'mail_in', 'form_sent'].includes(one.when),
  )
  return [
    ...(rule.how_often && rule.how_often !== 'every_time' ? ['How often counts over all of them together.'] : []),
    ...(known.some((one) => one?.timer)
      ? ['The timer belongs to its own line alone: the others run the rule at once.']
      : []),
    ...(tasks && tasks < all.length
      ? ['Not each of them is about a task, so nothing in this rule can use “the task”.']
      : []),
    ...(spoken ? ['What was said, and how it came in, is empty where another of them is what happened.'] : []),
    ...(known.some((one) => one?.before_save) && !isAtSave(setup, rule)
      ? ['Not each of them happens at a save, so the rule can run only after it.']
      : []),
  ]
}

/**
 * What a trigger says before anything is decided.
 * @returns a function from its name, the kind of record and the trigger that stood there, whose stages are kept
 */
export function useUsualTrigger(): (when: TriggerName, kind: Kind, before?: Trigger) => Trigger {
  const { setup } = useSetup()
  const { today } = useDates()
  const timer = (when: TriggerName, kind: Kind): Partial<Trigger> => {
    const from = changeable(kind).find((one) => ['date', 'datetime'].includes(one.field.type))?.path ?? 'made'
    if (when === 'date_timer')
      return { date: { count: 7, unit: 'days', direction: 'before', from, at: '08:00', day_off: 'earlier' } }
    if (when === 'quiet_timer') return { nothing: ['contact'], span: { count: 5, unit: 'working_days' }, at: '09:00' }
    return { recurs: 'FREQ=MONTHLY;BYMONTHDAY=1', starts: today(), at: '08:00', day_off: 'later' }
  }
  return (when, kind, before) => {
    const known = knownOf(setup.value, { when })
    const takes = known?.takes ?? {}
    return {
      when,
      ...(Object.values(takes).includes('stages') ? { stages: before?.stages ?? [] } : {}),
      ...('code' in takes ? { code: '!' } : {}),
      ...('lists' in takes ? { lists: [] } : {}),
      ...(known?.timer ? timer(when, kind) : {}),
    }
  }
}
