import { watchDebounced } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import { counted } from '@/lib/words'
import { isTask, type Rule } from './model'
import type { Found } from './TryPanel.vue'

/** Checks the rule on screen and tries it on live records, a moment after each change; later answers win. */
export function useTrying(rule: Ref<Rule | null>, ruleId: Ref<number | null>, may: Ref<boolean>) {
  const problems = ref<Schemas['Problem'][]>([])
  const notes = ref<Schemas['Note'][]>([])
  const filter = ref<Schemas['Filter']>({})
  // What the chosen record is thought to become, field by field; null for as it is.
  const change = ref<Record<string, unknown> | null>(null)
  const title = ref('')
  const found = shallowRef<Found | null>(null)
  const plan = shallowRef<Schemas['Plan'] | null>(null)
  const wrong = ref<string | null>(null)
  const chosen = ref<number | null>(null)
  const show = ref<string | null>(null)
  const busy = ref(false)
  let turn = 0
  // A record that somebody chose stays chosen; otherwise the first that would run is shown.
  let byHand = false

  async function check(mine: number) {
    try {
      const answer = await answerOf(api.POST('/api/try/check', { body: { rule: rule.value! } }))
      if (mine !== turn) return
      problems.value = answer.problems
      notes.value = answer.notes
    } catch (problem) {
      if (mine !== turn) return
      problems.value = problem instanceof ApiError ? (problem.refusal.problems ?? []) : []
      notes.value = []
    }
  }

  async function look(mine: number, after: Found['next'] = null) {
    if (!may.value) return
    busy.value = true
    try {
      const body = {
        rule: rule.value!,
        rule_id: ruleId.value,
        show: show.value,
        filter: isTask({ key: rule.value!.record }) ? {} : filter.value,
        after: after as { changed: string; id: number } | null,
      }
      const answer = await answerOf(api.POST('/api/try', { body }))
      if (mine !== turn) return
      found.value = after && found.value ? joined(found.value, answer) : answer
      wrong.value = null
      if (!byHand) {
        const first = found.value.rows.find((row) => row.branches.length) ?? found.value.rows[0]
        chosen.value = first?.id ?? null
        title.value = first?.title ?? ''
      }
      await explain(mine)
    } catch (problem) {
      if (mine !== turn) return
      found.value = null
      plan.value = null
      const count = problem instanceof ApiError ? (problem.refusal.problems?.length ?? 0) : 0
      wrong.value = count
        ? `This draft cannot be tried yet: ${counted(count, 'thing is', 'things are')} missing or wrong. See Checks.`
        : sentenceOf(problem)
    } finally {
      if (mine === turn) busy.value = false
    }
  }

  async function explain(mine: number) {
    if (chosen.value === null) {
      plan.value = null
      return
    }
    try {
      const answer = await answerOf(
        api.POST('/api/try/one', {
          body: {
            rule: rule.value!,
            rule_id: ruleId.value,
            record_id: chosen.value,
            change: change.value as Schemas['Values'] | null,
          },
        }),
      )
      if (mine === turn) plan.value = answer
    } catch {
      if (mine === turn) plan.value = null
    }
  }

  function run() {
    if (!rule.value) return
    const mine = ++turn
    void check(mine)
    void look(mine)
  }

  watchDebounced(() => JSON.stringify(rule.value), run, { debounce: 350, immediate: false })
  watch([show, filter], run)
  watch([chosen, change], () => explain(turn))
  function choose(id: number, words: string) {
    byHand = true
    change.value = null
    chosen.value = id
    title.value = words
  }

  return {
    choose,
    setFilter: (next: Schemas['Filter']) => (filter.value = next),
    setChange: (next: Record<string, unknown> | null) => (change.value = next),
    setShow: (label: string | null) => (show.value = label),
    problems,
    notes,
    filter,
    change,
    title,
    found,
    plan,
    wrong,
    chosen,
    show,
    busy,
    run,
    more: () => look(turn, found.value?.next ?? null),
  }
}

function joined(one: Found, other: Found): Found {
  const counts = { ...one.counts }
  Object.entries(other.counts).forEach(([label, count]) => (counts[label] = (counts[label] ?? 0) + count))
  return { looked_at: one.looked_at + other.looked_at, counts, rows: [...one.rows, ...other.rows], next: other.next }
}
