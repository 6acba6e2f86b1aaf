import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, type Ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'
import type { Rule } from './model'

type Kept = Schemas['Rule']

/**
 * The draft of a rule as it stands on screen, kept on the server a moment after each change. When somebody else wrote
 * in the meantime nothing is overwritten: `clash` then holds the sentence until `mine` or `theirs` is chosen.
 */
export function useDraft(id: Ref<number | null>, made: (id: number) => void) {
  const rule = ref<Rule | null>(null)
  const kept = shallowRef<Kept | null>(null)
  const clash = ref<string | null>(null)
  const wrong = ref<string | null>(null)
  const saving = ref(false)
  const saved = ref('')
  let stamp: number | null = null
  let running: Promise<void> | null = null
  // The address follows a moment after a new rule was made; until then this says that it has a number already.
  let created: number | null = null

  function take(fresh: Kept) {
    kept.value = fresh
    stamp = fresh.stamp
  }

  async function load() {
    const fresh = await answerOf(api.GET('/api/rules/{id}', { params: { path: { id: (id.value ?? created)! } } }))
    take(fresh)
    rule.value = fresh.rule
    saved.value = JSON.stringify(fresh.rule)
  }

  function begin(blank: Rule) {
    created = null
    kept.value = null
    stamp = null
    rule.value = blank
    saved.value = JSON.stringify(blank)
  }

  const dirty = computed(() => rule.value !== null && JSON.stringify(rule.value) !== saved.value)

  async function write() {
    const body = { rule: rule.value!, stamp }
    const text = JSON.stringify(body.rule)
    try {
      const path = id.value ?? created
      const fresh = path
        ? await answerOf(api.PUT('/api/rules/{id}/draft', { params: { path: { id: path } }, body }))
        : await answerOf(api.POST('/api/rules', { body }))
      take(fresh)
      saved.value = text
      wrong.value = null
      if (!path) {
        created = fresh.id
        made(fresh.id)
      }
    } catch (problem) {
      if (problem instanceof ApiError && problem.status === 409) clash.value = problem.message
      else wrong.value = sentenceOf(problem)
    }
  }

  /** Keeps what is on screen; one writing at a time, in order. */
  async function save(): Promise<boolean> {
    if (running) await running
    if (!dirty.value || clash.value) return !clash.value
    saving.value = true
    running = write().finally(() => {
      running = null
      saving.value = false
    })
    await running
    return !clash.value && wrong.value === null
  }

  async function mine() {
    const fresh = await answerOf(api.GET('/api/rules/{id}', { params: { path: { id: (id.value ?? created)! } } }))
    stamp = fresh.stamp
    clash.value = null
    await save()
  }

  async function theirs() {
    clash.value = null
    await load()
  }

  watchDebounced(
    () => JSON.stringify(rule.value),
    () => dirty.value && save(),
    { debounce: 900 },
  )

  return {
    rule,
    kept,
    clash,
    wrong,
    saving,
    dirty,
    load,
    begin,
    save,
    mine,
    theirs,
    take,
    currentStamp: () => stamp,
    /** Whether the rule of this number was made here, so that what is on screen is newer than the server's. */
    madeHere: (number: number) => number === created,
    number: () => id.value ?? created,
    settle: () => (saved.value = JSON.stringify(rule.value)),
  }
}
