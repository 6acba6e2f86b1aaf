import { answerOf, api, type Schemas } from '@/api/client'
import { useNotices } from '@/lib/useNotices'

type Task = Schemas['Task']

/** The steps of a task. Each gives the task after it, or null when it was refused; the reason is then on screen. */
export function useTaskSteps() {
  const { say, attempt } = useNotices()

  async function step(call: () => Promise<Task>, done: (task: Task) => string): Promise<Task | null> {
    let after: Task | null = null
    await attempt(async () => {
      after = await call()
      say(done(after))
    })
    return after
  }

  const at = (id: number) => ({ params: { path: { id } } })
  return {
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
    putOff: (id: number, due_on: string, due_at: string | null) =>
      answerOf(api.POST('/api/tasks/{id}/put-off', { ...at(id), body: { due_on, due_at } })),
    passOn: (id: number, to: { assignee: string | null; queue: string | null }) =>
      answerOf(api.POST('/api/tasks/{id}/pass-on', { ...at(id), body: to })),
    take: (id: number) =>
      step(
        () => answerOf(api.POST('/api/tasks/{id}/take', at(id))),
        (task) => `Yours now: ${task.title}`,
      ),
  }
}
