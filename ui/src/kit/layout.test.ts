import { describe, expect, it } from 'vitest'
import { drawingOf, type Drawing } from './layout'
import type { Kit } from './model'

type Template = { key: string; title: string; answers?: string[]; after?: { task: string; answer?: string }[][] }
const kitOf = (...tasks: Template[]) => ({ phases: [{ name: 'All', tasks }] }) as unknown as Kit
const launch = kitOf(
  { key: 'hoist', title: 'Book a hoist slot for {{ record.title }}' },
  { key: 'hull', title: 'Look over the hull', answers: ['Sound', 'Needs work', 'Unsafe'] },
  { key: 'quote', title: 'Quote the extra work', after: [[{ task: 'hull', answer: 'Needs work' }]] },
  { key: 'agree', title: 'Did the owner agree?', answers: ['Yes', 'No', 'Silent'], after: [[{ task: 'quote' }]] },
  {
    key: 'stop',
    title: 'Stop the launch, tell the owner',
    after: [[{ task: 'hull', answer: 'Unsafe' }], [{ task: 'agree', answer: 'No' }]],
  },
  {
    key: 'paint',
    title: 'Antifoul',
    after: [[{ task: 'hull', answer: 'Sound' }], [{ task: 'agree', answer: 'Yes' }]],
  },
  { key: 'mast', title: 'Step the mast', after: [[{ task: 'paint' }]] },
  { key: 'launch', title: 'Launch', after: [[{ task: 'hoist' }, { task: 'mast' }]] },
)
// Many ways out of one question, and a long way past all others.
const wide = kitOf(
  { key: 'ask', title: 'Which way?', answers: ['One', 'Two', 'Three', 'Four', 'A longer answer'] },
  ...['One', 'Two', 'Three', 'Four'].map((answer) => ({
    key: answer,
    title: `Way ${answer}`,
    after: [[{ task: 'ask', answer }]],
  })),
  { key: 'mid', title: 'In between', answers: ['Yes', 'No'], after: [[{ task: 'Two' }]] },
  { key: 'end', title: 'End', after: [[{ task: 'ask', answer: 'A longer answer' }], [{ task: 'mid', answer: 'No' }]] },
)

type Box = { left: number; right: number; top: number; bottom: number }

/** Points along a line, close to each other. */
const along = (points: { x: number; y: number }[]) =>
  points.slice(1).flatMap((to, i) => {
    const from = points[i]!
    return Array.from({ length: 60 }, (_, n) => ({
      x: from.x + ((to.x - from.x) * n) / 60,
      y: from.y + ((to.y - from.y) * n) / 60,
    }))
  })
const within = ({ x, y }: { x: number; y: number }, box: Box) =>
  x > box.left + 0.5 && x < box.right - 0.5 && y > box.top + 0.5 && y < box.bottom - 0.5

const boxesOf = (drawing: Drawing) =>
  drawing.nodes.map((node) => ({
    key: node.key,
    left: node.x - node.width / 2,
    right: node.x + node.width / 2,
    top: node.y - node.height / 2,
    bottom: node.y + node.height / 2,
  }))
const wordsOf = (drawing: Drawing) =>
  drawing.lines
    .filter((line) => line.words)
    .map(({ words, answer }) => ({
      left: words!.x - answer.length * 3.1,
      right: words!.x + answer.length * 3.1,
      top: words!.y - 7,
      bottom: words!.y + 7,
    }))

describe.each([
  ['a launch', launch],
  ['a question with many ways out', wide],
])('the drawing of %s', (_, kit) => {
  const drawing = drawingOf(kit)

  it('has no line through an answer or through another box', () => {
    for (const line of drawing.lines) {
      const others = boxesOf(drawing).filter((box) => ![line.from, line.to].includes(box.key))
      for (const point of along(line.points)) {
        expect(others.filter((box) => within(point, box))).toEqual([])
        expect(wordsOf(drawing).filter((box) => within(point, box))).toEqual([])
      }
    }
  })

  it('leaves a question on its outline, at the side it goes to', () => {
    for (const node of drawing.nodes.filter((one) => one.shape === 'choice')) {
      const out = drawing.lines.filter((line) => line.from === node.key)
      for (const { points } of out) {
        const [start] = points
        const off = Math.abs(start!.x - node.x) / (node.width / 2) + Math.abs(start!.y - node.y) / (node.height / 2)
        expect(off).toBeCloseTo(1)
        expect(start!.y).toBeGreaterThanOrEqual(node.y)
      }
      const byExit = [...out].sort((one, other) => one.points[0]!.x - other.points[0]!.x)
      const aims = byExit.map(({ points }) => points[2]!.x)
      expect(aims).toEqual([...aims].sort((one, other) => one - other))
    }
  })
})
