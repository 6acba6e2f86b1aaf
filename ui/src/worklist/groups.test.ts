import { describe, expect, it } from 'vitest'
import type { Schemas } from '@/api/client'
import { grouped } from './groups'

const task = (id: number, more: Partial<Schemas['Task']>) =>
  ({
    id,
    group: 'week',
    priority: 'normal',
    kit: null,
    rule: null,
    record: null,
    queue: null,
    assignee: null,
    ...more,
  }) as Schemas['Task']
const words = { today: 'Tue 24 Nov', person: (key: string) => key.toUpperCase(), queue: (key: string) => `Q ${key}` }
const shape = (tasks: Schemas['Task'][], by: Parameters<typeof grouped>[1]) =>
  grouped(tasks, by, words).map((group) => [group.name, group.tasks.map((one) => one.id)])

describe('groups of the worklist', () => {
  const tasks = [
    task(1, { group: 'late', priority: 'low', assignee: 'wen', rule: { id: 1, name: 'Survey' } }),
    task(2, {
      group: 'none',
      priority: 'urgent',
      queue: 'yard',
      kit: { id: 1, name: 'Launch' },
      rule: { id: 1, name: 'Survey' },
    }),
    task(3, { group: 'late', priority: 'low', record: { id: 9, title: 'Sallow', kind: 'deal', hint: '' } }),
  ]

  it('stand by due date in the order of time, empty ones left out', () => {
    expect(shape(tasks, 'due')).toEqual([
      ['Late', [1, 3]],
      ['Without a date', [2]],
    ])
  })

  it('stand by rule or kit, record, priority, queue and person', () => {
    expect(shape(tasks, 'rule')).toEqual([
      ['Survey', [1]],
      ['Launch', [2]],
      ['Made by hand', [3]],
    ])
    expect(shape(tasks, 'record')).toEqual([
      ['About no record', [1, 2]],
      ['Sallow', [3]],
    ])
    expect(shape(tasks, 'priority')).toEqual([
      ['Urgent', [2]],
      ['Low', [1, 3]],
    ])
    expect(shape(tasks, 'queue')).toEqual([
      ['From no queue', [1, 3]],
      ['Q yard', [2]],
    ])
    expect(shape(tasks, 'person')).toEqual([
      ['WEN', [1]],
      ['Nobody yet', [2, 3]],
    ])
  })
})
