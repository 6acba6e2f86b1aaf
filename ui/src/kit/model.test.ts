import { describe, expect, it } from 'vitest'
import type { Kind, Setup } from '@/state/setup'
import { drawingOf } from './layout'
import {
  carriedTo,
  cleanLine,
  comesWords,
  dueFrom,
  dueWords,
  freeKey,
  movedBy,
  readLines,
  tasksOf,
  without,
  withPart,
  withTask,
  type Kit,
  type KitTask,
} from './model'

const kit: Kit = {
  format: 'yenvo-kit/1',
  name: 'Launch',
  record: 'deal',
  count: 'back',
  from: 'launch_date',
  phases: [
    {
      name: 'Ashore',
      tasks: [
        {
          key: 'hoist',
          title: 'Book a hoist slot',
          due: { count: 30, unit: 'days', direction: 'before', from: 'target' },
        },
        { key: 'hull', title: 'Look over the hull', answers: ['Sound', 'Unsafe'] },
      ],
    },
    {
      name: 'Going in',
      tasks: [
        { key: 'stop', title: 'Stop', after: [[{ task: 'hull', answer: 'Unsafe' }]] },
        { key: 'launch', title: 'Launch', after: [[{ task: 'hoist' }, { task: 'hull', answer: 'Sound' }]] },
      ],
    },
  ],
}
const deal = {
  key: 'deal',
  label: 'Deal',
  fields: [
    { key: 'launch_date', label: 'Launch date', type: 'date' },
    { key: 'surveyor', label: 'Surveyor', type: 'person', built_in: false },
  ],
} as unknown as Kind
const setup = {
  people: [{ key: 'wen', name: 'Wen Zhao', active: true }],
  queues: [{ key: 'yard_work', name: 'Yard work' }],
} as unknown as Setup
const keys = (one: Kit) => one.phases.map((phase) => phase.tasks.map((task) => task.key))

describe('parts of a task', () => {
  const part = (key: string): KitTask => ({ key, title: key })
  const parted = withPart(withPart(kit, 'hoist', part('crane')), 'hoist', part('slings'))

  it('stand behind their task, in the order in which they were added, and move with it', () => {
    expect(keys(parted)).toEqual([
      ['hoist', 'crane', 'slings', 'hull'],
      ['stop', 'launch'],
    ])
    expect(keys(movedBy(parted, 'hoist', 1))).toEqual([
      ['hull', 'hoist', 'crane', 'slings'],
      ['stop', 'launch'],
    ])
    expect(keys(carriedTo(parted, 'hoist', { phase: 1, index: 1 }))).toEqual([
      ['hull'],
      ['stop', 'hoist', 'crane', 'slings', 'launch'],
    ])
    expect(keys(movedBy(parted, 'slings', -1))[0]).toEqual(['hoist', 'slings', 'crane', 'hull'])
  })

  it('come with it, and are tasks of their own when it goes', () => {
    expect(comesWords(parted, tasksOf(parted)[1]!)).toBe('with 1')
    expect(tasksOf(without(parted, 'hoist')).map((task) => task.under)).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
    ])
  })

  it('are drawn in its box, and what comes after one of them comes after it', () => {
    const after = withTask(parted, 'stop', { ...tasksOf(parted)[4]!, after: [[{ task: 'crane' }]] })
    const drawing = drawingOf(after)
    expect(drawing.nodes.map((node) => node.label)).toContain('1 Book a hoist slot · 2 parts')
    expect(drawing.nodes.map((node) => node.key)).not.toContain('crane')
    expect(drawing.lines.map((line) => [line.from, line.to])).toContainEqual(['hoist', 'stop'])
  })
})

describe('a kit', () => {
  it('says when a task comes and when it is due', () => {
    expect(tasksOf(kit).map((task) => comesWords(kit, task))).toEqual([
      'at the start',
      'at the start',
      'after 2, if Unsafe',
      'after 1 and 2, if Sound',
    ])
    expect(dueWords(kit, tasksOf(kit)[0]!, deal)).toBe('30 cal. days before')
    expect(
      dueWords(kit, { key: 'a', title: 'A', due: { count: 0, unit: 'days', from: 'target', at: '10:00' } }, deal),
    ).toBe('on Launch date, 10:00')
    expect(dueWords(kit, { key: 'a', title: 'A', due: { count: 2, unit: 'working_days' } }, deal)).toBe(
      '2 wd after it comes',
    )
  })

  it('moves a task within its phase, over its end into the next, and no further', () => {
    expect(keys(movedBy(kit, 'hoist', 1))).toEqual([
      ['hull', 'hoist'],
      ['stop', 'launch'],
    ])
    expect(keys(movedBy(kit, 'hull', 1))).toEqual([['hoist'], ['hull', 'stop', 'launch']])
    expect(keys(movedBy(kit, 'stop', -1))).toEqual([['hoist', 'hull', 'stop'], ['launch']])
    expect(movedBy(kit, 'launch', 1)).toBe(kit)
    expect(keys(carriedTo(kit, 'hoist', { phase: 1, index: 1 }))).toEqual([['hull'], ['stop', 'hoist', 'launch']])
  })

  it('forgets a task wherever another came after it', () => {
    const less = without(kit, 'hull')
    expect(keys(less)).toEqual([['hoist'], ['stop', 'launch']])
    expect(tasksOf(less).map((task) => comesWords(less, task))).toEqual(['at the start', 'at the start', 'after 1'])
  })

  it('gives every task a handle of its own', () => {
    expect(freeKey('Époque & mast {{ record.title }}', [])).toBe('epoque-mast')
    expect(freeKey('Call', ['call', 'call-2'])).toBe('call-3')
    expect(freeKey('…', [])).toBe('task')
  })
})

describe('pasted lines', () => {
  it('lose numbering, bullets and boxes, and nothing else', () => {
    const lines = [
      '1. Haul out',
      ' 2) Wash',
      '- Scrape',
      '* [ ] Prime',
      '• a) Paint',
      '3 coats of paint',
      '[x] Done',
      'A boat',
    ]
    expect(lines.map(cleanLine)).toEqual([
      'Haul out',
      'Wash',
      'Scrape',
      'Prime',
      'Paint',
      '3 coats of paint',
      'Done',
      'A boat',
    ])
  })

  it('become tasks: blank lines fall away, tabs become who, due date and text', () => {
    const text = 'Haul out\tYard work\t5 wd before\tWith the big hoist\n\n \n2. Haul out\tWen Zhao\nAsk\tSurveyor\tsoon'
    const tasks = readLines(text, kit, setup, deal)
    expect(tasks).toEqual([
      {
        key: 'haul-out',
        title: 'Haul out',
        assign: { to: 'queue', queue: 'yard_work' },
        due: { count: 5, unit: 'working_days', direction: 'before', from: 'target' },
        text: 'With the big hoist',
      },
      { key: 'haul-out-2', title: 'Haul out', assign: { to: 'person', person: 'wen' } },
      {
        key: 'ask',
        title: 'Ask',
        assign: { to: 'field', field: 'surveyor' },
        fallback: { to: 'queue', queue: 'yard_work' },
        text: 'soon',
      },
    ])
    expect(
      readLines(Array.from({ length: 40 }, (_, n) => `${n + 1}. Task ${n + 1}`).join('\n'), kit, setup, deal),
    ).toHaveLength(40)
  })

  it('have dates that can be read, or none', () => {
    expect(dueFrom('2 weeks after it', kit)).toEqual({ count: 2, unit: 'weeks', direction: 'after', from: 'comes' })
    expect(dueFrom('2 weeks', { ...kit, count: 'forward' })).toMatchObject({ from: 'start' })
    expect([dueFrom('2 moons', kit), dueFrom('soon', kit)]).toEqual([null, null])
  })
})

describe('the drawing', () => {
  it('has a node for each task and a line for each way, with its answer, laid out without overlaps', () => {
    const drawing = drawingOf(kit)
    expect(drawing.nodes.map((node) => node.shape)).toEqual(['start', 'box', 'choice', 'box', 'box'])
    expect(drawing.lines.map((line) => [line.from, line.to, line.answer])).toEqual(
      expect.arrayContaining([
        ['', 'hoist', ''],
        ['hull', 'stop', 'Unsafe'],
        ['hull', 'launch', 'Sound'],
        ['hoist', 'launch', ''],
      ]),
    )
    const clash = drawing.nodes.some((one, index) =>
      drawing.nodes
        .slice(index + 1)
        .some(
          (other) =>
            Math.abs(one.x - other.x) < (one.width + other.width) / 2 &&
            Math.abs(one.y - other.y) < (one.height + other.height) / 2,
        ),
    )
    expect(clash).toBe(false)
  })
})

describe('when a task is due', () => {
  const due = (rule: KitTask['due']) =>
    dueWords({ ...kit, count: 'forward' }, { key: 'x', title: 'X', due: rule }, undefined)

  it('says which day it is looked for, and what while its date is empty', () => {
    expect(due({ count: 2, unit: 'working_days' })).toBe('2 wd after it comes')
    expect(due({ count: 0, unit: 'days', first: 'friday', at: '09:00' })).toBe('first Friday from when it comes, 09:00')
    expect(due({ count: 1, unit: 'days', from: 'start', first: 15, otherwise: { count: 3, unit: 'days' } })).toBe(
      'first day 15 of a month from 1 cal. days after the start, else 3 cal. days after it comes',
    )
  })
})
