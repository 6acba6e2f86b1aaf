import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { isWeb } from '@/lib/isWeb'
import type { TaskField } from './fields'
import { blankTask, bodyOf, changesOf, formOf } from './taskForm'

const field = (key: string, type: string, names = [key], usual: unknown = null) =>
  ({ key, type, names, usual }) as TaskField
const fields = [
  field('title', 'lines'),
  field('text', 'text'),
  field('web_link', 'link'),
  field('way', 'choice', ['way'], 'other'),
  field('priority', 'level', ['priority'], 'normal'),
  field('due', 'due', ['due_on', 'due_at']),
  field('start', 'day', ['start_on']),
  field('remind', 'moment', ['remind_at']),
  field('answers', 'answers', ['answers'], []),
]

const task = {
  title: 'Call Aldo',
  text: null,
  web_link: null,
  way: 'call',
  priority: 'high',
  due_on: '2026-12-03',
  due_at: null,
  start_on: null,
  remind_at: '2026-12-02T08:30:00.000000Z',
  answers: ['Yes', 'No'],
} as Schemas['Task']

describe('the form of a task', () => {
  it('holds a task as it is, its reminder by the wall clock', () => {
    const form = formOf(task, fields, 'Europe/Paris')
    expect(form).toMatchObject({ title: 'Call Aldo', text: '', due_at: '', remind_at: '2026-12-02T09:30' })
    expect(bodyOf(form, fields)).toMatchObject({
      text: null,
      due_at: null,
      remind_at: '2026-12-02T09:30',
      answers: ['Yes', 'No'],
    })
  })

  it('sends only what was changed, a time of day with its day', () => {
    const before = formOf(task, fields, 'UTC')
    expect(changesOf(before, before, fields)).toEqual({})
    expect(changesOf(before, { ...before, title: 'Write to Aldo' }, fields)).toEqual({ title: 'Write to Aldo' })
    expect(changesOf(before, { ...before, due_at: '09:00' }, fields)).toEqual({ due_at: '09:00', due_on: '2026-12-03' })
    expect(changesOf(before, { ...before, due_on: '' }, fields)).toEqual({ due_on: null })
  })

  it('begins with nothing', () =>
    expect(bodyOf(blankTask(fields), fields)).toMatchObject({ title: '', due_on: null, answers: [], way: 'other' }))

  it('makes a link of web addresses alone', () => {
    expect([isWeb('https://example.org'), isWeb('HTTP://example.org/a'), isWeb(null)]).toEqual([true, true, false])
    for (const other of ['javascript:alert(1)', 'data:text/html,x', '//example.org', ' https://example.org', 'ftp://x'])
      expect(isWeb(other)).toBe(false)
  })
})
