import { ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'

type Task = Schemas['Task']
/** To whom a task goes: a person, a queue, or somebody of a team by turns or by the lightest load. */
export type To = {
  assignee: string | null
  queue: string | null
  team?: string | null
  team_way?: 'turns' | 'load' | null
}

// The last step on this page, which U takes back.
const last = ref<number | null>(null)

/** The steps of a task. Each gives the task after it, or null when it was refused; the reason is then on screen. */
export function useTaskSteps() {
  const { say, attempt } = useNotices()
  const at = (id: number) => ({ params: { path: { id } } })

  async function takeBack(id: number): Promise<Task | null> {
    let after: Task | null = null
    await attempt(async () => {
      after = await answerOf(api.POST('/api/tasks/{id}/take-back', at(id)))
      say(`Taken back: ${after!.title}`)
    })
    last.value = null
    return after
  }

  async function step(call: () => Promise<Task>, done: (task: Task) => string): Promise<Task | null> {
    let after: Task | null = null
    await attempt(async () => {
      after = await call()
      last.value = after!.id
      say(done(after!), 'good', () => void takeBack(after!.id))
    })
    return after
  }

  return {
    last,
    takeBack,
    finish: (id: number, answer: string | null, note: string | null) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/done', { ...at(id), body: { answer, note } })),
        (task) => `Done: ${task.title}${answer ? `, ${answer}` : ''}`,
      ),
    drop: (id: number, note: string | null) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/drop', { ...at(id), body: { note } })),
        (task) => `Dropped: ${task.title}`,
      ),
    setState: (id: number, state: 'open' | 'started' | 'waiting') =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/state', { ...at(id), body: { state } })),
        (task) => `${{ open: 'Open again', started: 'Started', waiting: 'Waiting' }[state]}: ${task.title}`,
      ),
    reopen: (id: number) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/reopen', at(id))),
        (task) => `Open again: ${task.title}`,
      ),
    giveBack: (id: number) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/give-back', at(id))),
        (task) => `Given back: ${task.title}`,
      ),
    putOff: (id: number, due_on: string, due_at: string | null) =>
      answerOf(api.POST('/api/tasks/{id}/put-off', { ...at(id), body: { due_on, due_at } })),
    passOn: (id: number, to: To) => answerOf(api.POST('/api/tasks/{id}/pass-on', { ...at(id), body: to })),
    take: (id: number) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/take', at(id))),
        (task) => `Yours now: ${task.title}`,
      ),
    /** The next task of a queue, or of all that are one's own; null when nothing waits or it was refused. */
    async takeNext(queue: string | null): Promise<Task | null> {
      let task: Task | null = null
      await attempt(async () => {
        task = (await answerOf(api.POST('/api/queues/next', { body: { queue } }))).task
      })
      return task
    },
  }
}
