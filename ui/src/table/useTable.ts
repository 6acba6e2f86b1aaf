import { onUnmounted, ref, shallowRef } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'

export type Table = Schemas['ImportSheet']
const UNDER_WAY = ['looking', 'running', 'undoing']
const LOOK_AGAIN = 1000

/** One table that is brought in: how it is read, what goes where, how far it has come; asked again while it moves. */
export function useTable(id: number) {
  const table = shallowRef<Table | null>(null)
  const trouble = ref('')
  const wrong = ref<Record<string, string>>({})
  const busy = ref(false)
  const path = { path: { id } }
  let timer = 0

  function take(fresh: Table) {
    table.value = fresh
    window.clearTimeout(timer)
    if (UNDER_WAY.includes(fresh.state)) timer = window.setTimeout(() => void load(), LOOK_AGAIN)
  }
  async function load() {
    trouble.value = ''
    try {
      take(await answerOf(api.GET('/api/imports/{id}', { params: path })))
    } catch (problem) {
      trouble.value = sentenceOf(problem)
    }
  }
  /** @returns whether it went well */
  async function send(act: () => Promise<Table>) {
    if (busy.value) return false
    busy.value = true
    wrong.value = {}
    try {
      take(await act())
      return true
    } catch (problem) {
      const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
      wrong.value = fields ?? { '': sentenceOf(problem) }
      return false
    } finally {
      busy.value = false
    }
  }
  const plan = (body: { form?: Table['plan']['form']; map?: Table['plan']['map']; empties?: boolean }) =>
    send(() => answerOf(api.PUT('/api/imports/{id}', { params: path, body })))
  const look = () => send(() => answerOf(api.POST('/api/imports/{id}/look', { params: path })))
  const start = (rules: boolean) =>
    send(() => answerOf(api.POST('/api/imports/{id}/start', { params: path, body: { rules } })))
  const stop = () => send(() => answerOf(api.POST('/api/imports/{id}/stop', { params: path })))
  const undo = () => send(() => answerOf(api.POST('/api/imports/{id}/undo', { params: path })))
  const forget = () => send(() => answerOf(api.DELETE('/api/imports/{id}', { params: path })))
  void load()
  onUnmounted(() => window.clearTimeout(timer))
  return { table, trouble, wrong, busy, load, plan, look, start, stop, undo, forget }
}
