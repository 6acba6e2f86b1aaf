import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { isWeb } from '@/lib/isWeb'
import { blankTask, bodyOf, changesOf, formOf } from './taskForm'

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
    const form = formOf(task, 'Europe/Paris')
    expect(form).toMatchObject({ title: 'Call Aldo', text: '', due_at: '', remind_at: '2026-12-02T09:30' })
    expect(bodyOf(form)).toMatchObject({
      text: null,
      due_at: null,
      remind_at: '2026-12-02T09:30',
      answers: ['Yes', 'No'],
    })
  })

  it('sends only what was changed, a time of day with its day', () => {
    const before = formOf(task, 'UTC')
    expect(changesOf(before, before)).toEqual({})
    expect(changesOf(before, { ...before, title: 'Write to Aldo' })).toEqual({ title: 'Write to Aldo' })
    expect(changesOf(before, { ...before, due_at: '09:00' })).toEqual({ due_at: '09:00', due_on: '2026-12-03' })
    expect(changesOf(before, { ...before, due_on: '' })).toEqual({ due_on: null })
  })

  it('begins with nothing', () => expect(bodyOf(blankTask())).toMatchObject({ title: '', due_on: null, answers: [] }))

  it('makes a link of web addresses alone', () => {
    expect([isWeb('https://example.org'), isWeb('HTTP://example.org/a'), isWeb(null)]).toEqual([true, true, false])
    for (const other of ['javascript:alert(1)', 'data:text/html,x', '//example.org', ' https://example.org', 'ftp://x'])
      expect(isWeb(other)).toBe(false)
  })
})
