import type { Schemas } from '@/api/client'
import type { Grouping } from './useFilters'

type Task = Schemas['Task']
export type Group = { name: string; note: string; tone: string; tasks: Task[] }

const DUE = {
  late: 'Late',
  today: 'Today',
  week: 'This week',
  later: 'Later',
  none: 'Without a date',
  starts: 'Starts later',
}
const PRIORITIES = ['urgent', 'high', 'normal', 'low']

/** Tasks in groups, each with a name; within a group they stay in their order, which is that of their due dates. */
export function grouped(
  tasks: Task[],
  by: Grouping,
  words: { today: string; person: (key: string) => string; queue: (key: string) => string },
): Group[] {
  if (by === 'due')
    return (Object.keys(DUE) as Task['group'][])
      .map((group) => ({
        name: DUE[group],
        note: group === 'today' ? words.today : '',
        tone: group === 'late' ? 'text-red' : group === 'today' ? 'text-amber' : '',
        tasks: tasks.filter((task) => task.group === group),
      }))
      .filter((group) => group.tasks.length)
  const name = (task: Task): string => {
    switch (by) {
      case 'rule':
        return task.kit?.name ?? task.rule?.name ?? 'Made by hand'
      case 'record':
        return task.record?.title ?? 'About no record'
      case 'priority':
        return task.priority.charAt(0).toUpperCase() + task.priority.slice(1)
      case 'queue':
        return task.queue ? words.queue(task.queue) : 'From no queue'
      default:
        return task.assignee ? words.person(task.assignee) : 'Nobody yet'
    }
  }
  const found = new Map<string, Task[]>()
  tasks.forEach((task) => found.set(name(task), [...(found.get(name(task)) ?? []), task]))
  const groups = [...found].map(([title, some]) => ({ name: title, note: '', tone: '', tasks: some }))
  return by === 'priority'
    ? groups.sort(
        (one, other) => PRIORITIES.indexOf(one.name.toLowerCase()) - PRIORITIES.indexOf(other.name.toLowerCase()),
      )
    : groups
}
