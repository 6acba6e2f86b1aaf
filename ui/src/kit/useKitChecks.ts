import { useDebounceFn } from '@vueuse/core'
import { computed, ref, watch, type Ref } from 'vue'
import { answerOf, api, ApiError, type Schemas } from '@/api/client'
import { tasksOf, type Kit } from './model'

/** What is wrong with a kit, with the task and the setting it belongs to. */
export type KitProblem = { where: string; text: string; key: string | null; field: string }
/** What of it would be late from the start on records of now. */
export type KitAhead = { records: number; tasks: { number: number; title: string; count: number; example: string }[] }

/**
 * The checks of a kit as it stands on the sheet, asked for anew a moment after each change.
 * @param key of the published kit, which may lead to itself
 * @param chosen key of the task that is shown
 */
export function useKitChecks(kit: Ref<Kit | null>, key: () => string | null, chosen: Ref<string | null>) {
  const problems = ref<KitProblem[]>([])
  const notes = ref<{ kind: string; text: string; tasks: string[] }[]>([])
  const ahead = ref<KitAhead | null>(null)

  function placed(problem: Schemas['Problem']): KitProblem {
    const [root, phase, , index, field] = problem.path
    const one =
      root === 'phases' && typeof phase === 'number' && typeof index === 'number'
        ? kit.value?.phases[phase]?.tasks[index]
        : undefined
    const number = one ? tasksOf(kit.value!).findIndex((each) => each.key === one.key) + 1 : 0
    return {
      key: one?.key ?? null,
      field: String(field ?? ''),
      text: problem.text,
      where: one ? `Task ${number}${field ? `, ${String(field)}` : ''}` : problem.where,
    }
  }
  const found = (all: Schemas['Problem'][]) => (problems.value = all.map(placed))

  const look = useDebounceFn(async () => {
    if (!kit.value) return
    const body = { kit: kit.value }
    try {
      const answer = await answerOf(api.POST('/api/kits/check', { body: { ...body, key: key() } }))
      found(answer.problems)
      notes.value = answer.notes
      ahead.value = answer.problems.length ? null : await answerOf(api.POST('/api/kits/ahead', { body }))
    } catch (problem) {
      if (problem instanceof ApiError && problem.refusal.problems) found(problem.refusal.problems)
    }
  }, 300)
  watch(() => JSON.stringify(kit.value), look)

  const broken = computed(() => new Set(problems.value.map((one) => one.key).filter((one) => one !== null)))
  const noted = computed(() => new Set(notes.value.flatMap((note) => note.tasks)))
  /** What is wrong with the task that is shown, by setting. */
  const wrong = computed(() =>
    Object.fromEntries(
      problems.value.filter((one) => one.key && one.key === chosen.value).map((one) => [one.field, `It ${one.text}.`]),
    ),
  )
  return { problems, notes, ahead, found, look, broken, noted, wrong }
}
