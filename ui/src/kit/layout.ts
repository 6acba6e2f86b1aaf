import dagre from '@dagrejs/dagre'
import { counted } from '@/lib/words'
import { tasksOf, type Kit } from './model'

/** A box or a diamond of the drawing. `shape`: "start" for the dot at the top. Middle and size in pixels. */
export type Node = {
  key: string
  shape: 'start' | 'box' | 'choice'
  label: string
  x: number
  y: number
  width: number
  height: number
}
type Point = { x: number; y: number }
/** From a task to one that comes after it. `words`: the middle of the answer, where there is one. */
export type Line = { from: string; to: string; answer: string; points: Point[]; words: Point | null }
export type Drawing = { nodes: Node[]; lines: Line[]; width: number; height: number }

const START = '\u0000start'

/** The drawing of a kit, laid out from top to bottom by a library. */
export function drawingOf(kit: Kit): Drawing {
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'TB', nodesep: 18, ranksep: 30, marginx: 8, marginy: 8 })
  graph.setDefaultEdgeLabel(() => ({}))
  // Parts stand in the box of their task, and what comes after one of them comes after it.
  const all = tasksOf(kit)
  const tasks = all.filter((task) => !task.under)
  const boxOf = (key: string) => all.find((task) => task.key === key)?.under ?? key
  const keys = new Set(tasks.map((task) => task.key))
  graph.setNode(START, { width: 14, height: 14 })
  tasks.forEach((task) => {
    const parts = all.filter((one) => one.under === task.key).length
    const label = `${all.indexOf(task) + 1} ${shorten(
      task.title
        .replace(/\{\{.*?\}\}/g, '…')
        .replace(/\s+/g, ' ')
        .replace(/ …$/, ''),
    )}${parts ? ` · ${counted(parts, 'part')}` : ''}`
    const choice = !!task.answers?.length
    const width = Math.max(64, label.length * 6.3 + (choice ? 44 : 18))
    graph.setNode(task.key, { width, height: choice ? 40 : 28, label, choice })
  })
  for (const task of tasks) {
    if (!task.after?.length) graph.setEdge(START, task.key, {}, '-')
    for (const step of (task.after ?? []).flat()) {
      const before = boxOf(step.task)
      if (!keys.has(before) || before === task.key) continue
      const answer = step.answer ?? ''
      graph.setEdge(
        before,
        task.key,
        answer ? { width: answer.length * 6.4 + 8, height: 16, labelpos: 'r', labeloffset: 4, answer } : {},
        before === step.task ? answer || '-' : `${step.task} ${answer}`,
      )
    }
  }
  dagre.layout(graph)
  const size = graph.graph()
  const nodes = graph.nodes().map((key): Node => {
    const node = graph.node(key) as Box & { label?: string; choice?: boolean }
    return {
      key: key === START ? '' : key,
      shape: key === START ? 'start' : node.choice ? 'choice' : 'box',
      label: node.label ?? '',
      x: node.x,
      y: node.y,
      width: node.width,
      height: node.height,
    }
  })
  const edges = graph.edges().map((edge): Edge => {
    const { points, answer, x, y } = graph.edge(edge) as { points: Point[]; answer?: string; x?: number; y?: number }
    const words = answer ? { x: x!, y: y! } : null
    return { from: edge.v === START ? '' : edge.v, to: edge.w, answer: answer ?? '', points, words }
  })
  return { nodes, lines: routed(nodes, edges), width: Math.ceil(size.width ?? 0), height: Math.ceil(size.height ?? 0) }
}

type Box = { x: number; y: number; width: number; height: number }
type Edge = Line
const WORDS_HEIGHT = 16
/** The last stretch goes straight down, so that the arrow stands on the box. */
const ARROW = 9

/**
 * Lines that never run through a box or an answer: everything stands in rows, a line goes straight down through a row
 * and aslant only between two. It leaves a question at the side that it goes to.
 */
function routed(nodes: Node[], edges: Edge[]): Line[] {
  const byKey = new Map(nodes.map((node) => [node.key, node]))
  const rows = new Map<number, number>()
  const stand = (y: number, height: number) =>
    rows.set(Math.round(y), Math.max(rows.get(Math.round(y)) ?? 0, height / 2))
  nodes.forEach((node) => stand(node.y, node.height))
  edges.forEach((edge) => edge.words && stand(edge.words.y, WORDS_HEIGHT))
  const half = (y: number) => rows.get(Math.round(y)) ?? 0
  const exits = exitsOf(byKey, edges)
  return edges.map((edge) => {
    const [from, to] = [byKey.get(edge.from)!, byKey.get(edge.to)!]
    const start = exits.get(edge)!
    const between = edge.points.slice(1, -1).flatMap(({ x, y }) => [
      { x, y: y - half(y) },
      { x, y: y + half(y) },
    ])
    const points = [
      start,
      { x: start.x, y: from.y + half(from.y) },
      ...between,
      { x: to.x, y: to.y - half(to.y) - ARROW },
      { x: to.x, y: to.y - to.height / 2 },
    ]
    return {
      ...edge,
      points: points.filter((one, i) => i === 0 || one.x !== points[i - 1]!.x || one.y !== points[i - 1]!.y),
    }
  })
}

/** Where each line leaves: of a question side by side along its lower edge, in the order of where they go. */
function exitsOf(nodes: Map<string, Node>, edges: Edge[]): Map<Edge, Point> {
  const exits = new Map<Edge, Point>()
  for (const node of nodes.values()) {
    const out = edges.filter((edge) => edge.from === node.key)
    const aim = (edge: Edge) => (edge.points[1] ?? nodes.get(edge.to)!).x
    out.sort((one, other) => aim(one) - aim(other))
    out.forEach((edge, index) => {
      const part = node.shape === 'choice' ? (index + 1) / (out.length + 1) : 0.5
      const down = node.shape === 'choice' ? 1 - Math.abs(2 * part - 1) : 1
      exits.set(edge, { x: node.x + (part - 0.5) * node.width, y: node.y + (down * node.height) / 2 })
    })
  }
  return exits
}

const shorten = (title: string) => (title.length > 20 ? `${title.slice(0, 19).trimEnd()}…` : title)
