import dagre from '@dagrejs/dagre'
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
export type Line = { from: string; to: string; answer: string; points: { x: number; y: number }[] }
export type Drawing = { nodes: Node[]; lines: Line[]; width: number; height: number }

const START = '\u0000start'

/** The drawing of a kit, laid out from top to bottom by a library. */
export function drawingOf(kit: Kit): Drawing {
  const graph = new dagre.graphlib.Graph({ multigraph: true })
  graph.setGraph({ rankdir: 'TB', nodesep: 18, ranksep: 30, marginx: 8, marginy: 8 })
  graph.setDefaultEdgeLabel(() => ({}))
  const tasks = tasksOf(kit)
  const keys = new Set(tasks.map((task) => task.key))
  graph.setNode(START, { width: 14, height: 14 })
  tasks.forEach((task, index) => {
    const label = `${index + 1} ${shorten(
      task.title
        .replace(/\{\{.*?\}\}/g, '…')
        .replace(/\s+/g, ' ')
        .replace(/ …$/, ''),
    )}`
    const choice = !!task.answers?.length
    const width = Math.max(64, label.length * 6.3 + (choice ? 44 : 18))
    graph.setNode(task.key, { width, height: choice ? 40 : 28, label, choice })
  })
  for (const task of tasks) {
    if (!task.after?.length) graph.setEdge(START, task.key, {}, '-')
    for (const step of (task.after ?? []).flat()) {
      if (!keys.has(step.task)) continue
      const answer = step.answer ?? ''
      graph.setEdge(
        step.task,
        task.key,
        answer ? { width: answer.length * 6, height: 14, labelpos: 'r', answer } : {},
        answer || '-',
      )
    }
  }
  dagre.layout(graph)
  const size = graph.graph()
  return {
    nodes: graph.nodes().map((key) => {
      const node = graph.node(key) as {
        x: number
        y: number
        width: number
        height: number
        label?: string
        choice?: boolean
      }
      return {
        key: key === START ? '' : key,
        shape: key === START ? 'start' : node.choice ? 'choice' : 'box',
        label: node.label ?? '',
        x: node.x,
        y: node.y,
        width: node.width,
        height: node.height,
      }
    }),
    lines: graph.edges().map((edge) => {
      const line = graph.edge(edge) as { points: { x: number; y: number }[]; answer?: string }
      return { from: edge.v === START ? '' : edge.v, to: edge.w, answer: line.answer ?? '', points: line.points }
    }),
    width: Math.ceil(size.width ?? 0),
    height: Math.ceil(size.height ?? 0),
  }
}

const shorten = (title: string) => (title.length > 20 ? `${title.slice(0, 19).trimEnd()}…` : title)
