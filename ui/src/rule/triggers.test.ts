import { describe, expect, it } from 'vitest'
import type { Setup } from '@/state/setup'
import { blankRule, triggersOf, type Rule, type Trigger } from './model'
import { isAtSave, isTimed, notesOnSeveral, watchesTask, withKind, withTriggers } from './triggers'

const known = (name: string, more: object = {}) => ({
  name,
  words: name,
  takes: {},
  before_save: false,
  task: false,
  timer: false,
  of_task: null,
  ...more,
})
const setup = {
  vocabulary: {
    triggers: [
      known('record_made', { before_save: true }),
      known('record_changed', { before_save: true }),
      known('code'),
      known('task_made', { task: true, of_task: 'is made' }),
      known('task_done', { task: true, of_task: 'is done' }),
      known('quiet_timer', { timer: true, of_task: 'is quiet' }),
      known('schedule', { timer: true }),
    ],
  },
} as unknown as Setup

const made: Trigger = { when: 'record_made' }
const worth: Trigger = { when: 'record_changed', field: 'value' }
const done: Trigger = { when: 'task_done' }
const quiet: Trigger = { when: 'quiet_timer', task: true }
const rule = (triggers: Trigger[], more: Partial<Rule> = {}): Rule =>
  withTriggers(setup, { ...blankRule('deal', 'yenvo-rule/1'), ...more }, triggers)

describe('the triggers of a rule', () => {
  it('stand alone where there is one, and under "any" where there are several', () => {
    expect(rule([made]).trigger).toEqual(made)
    expect(rule([made, worth]).trigger).toEqual({ any: [made, worth] })
    expect(triggersOf(rule([made, worth]))).toEqual([made, worth])
  })

  it('say together what the rule can: before the save, about the task, by time', () => {
    expect([isAtSave(setup, rule([made, worth])), isAtSave(setup, rule([made, done]))]).toEqual([true, false])
    expect([watchesTask(setup, rule([done, quiet])), watchesTask(setup, rule([done, made]))]).toEqual([true, false])
    expect([isTimed(setup, rule([made, quiet])), isTimed(setup, rule([made, worth]))]).toEqual([true, false])
  })

  it('let what they no longer allow fall back to the usual', () => {
    const early = rule([made, worth], { run: 'before_save' })
    expect([early.run, withTriggers(setup, early, [made, done]).run]).toEqual(['before_save', undefined])
    const often = rule([done], { how_often: 'once_per_task' })
    expect(withTriggers(setup, often, [done, made]).how_often).toBe('every_time')
  })

  it('have notes beside each other on what hangs on one of them alone', () => {
    expect(notesOnSeveral(setup, rule([made], { how_often: 'once_per_record' }))).toEqual([])
    const notes = (triggers: Trigger[], more: Partial<Rule> = {}) =>
      notesOnSeveral(setup, rule(triggers, more)).join(' ')
    expect(notes([made, worth], { how_often: 'once_per_record' })).toMatch(/^How often counts over all/)
    expect(notes([made, worth])).toBe('')
    expect(notes([made, { when: 'code', code: '!haul' }])).toMatch(/What was said.* is empty.*only after it/)
    expect(notes([made, quiet])).toMatch(
      /The timer belongs to its own line alone.*nothing in this rule can use “the task”/,
    )
    expect(notes([done, quiet])).not.toMatch(/the task”/)
  })

  it('are those of tasks where the rule is about tasks, which it was not before, and back', () => {
    const about = withKind(setup, rule([made, done, quiet], { how_often: 'once_per_record' }), 'task')
    expect(triggersOf(about)).toEqual([{ when: 'task_done' }, { when: 'quiet_timer' }])
    expect([about.record, about.how_often, watchesTask(setup, about)]).toEqual(['task', 'every_time', true])
    expect(triggersOf(withKind(setup, rule([made]), 'task'))).toEqual([{ when: 'task_made' }])
    expect(triggersOf(withKind(setup, about, 'deal'))).toEqual([made])
    expect(triggersOf(withKind(setup, rule([worth]), 'ticket'))).toEqual([worth])
  })
})
