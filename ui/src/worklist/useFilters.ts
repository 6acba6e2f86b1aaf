import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'

type Task = Schemas['Task']
export type Grouping = 'due' | 'rule' | 'record' | 'priority' | 'queue' | 'person'

/** What of the worklist is shown. All of it stands in the address, so that a page can be kept and sent. */
export function useFilters() {
  const route = useRoute()
  const router = useRouter()
  const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
  const set = (changes: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...changes } })
  const kept = (name: string, usual = '') =>
    computed({
      get: () => text(name) || usual,
      set: (value: string) => void set({ [name]: value && value !== usual ? value : undefined, task: undefined }),
    })
  const filters = {
    /** Whose tasks: "me", "all", a person, or "q:" and a queue. */
    who: kept('who', 'me'),
    state: kept('state', 'open'),
    from: kept('from'),
    kind: kept('kind'),
    priority: kept('priority'),
    due: kept('due'),
    words: kept('text'),
    /** Tasks about one record. */
    record: kept('record'),
    group: kept('group', 'due'),
  }
  const query = computed(() => {
    const { who, state, from, kind, priority, due, words, record } = filters
    const queue = who.value.startsWith('q:') ? who.value.slice(2) : null
    return {
      who: queue ? 'all' : who.value,
      state: state.value as 'open',
      ...(queue ? { queue } : {}),
      ...(from.value.startsWith('rule:') ? { rule: Number(from.value.slice(5)) } : {}),
      ...(from.value.startsWith('kit:') ? { kit: Number(from.value.slice(4)) } : {}),
      ...(kind.value ? { kind: kind.value } : {}),
      ...(priority.value ? { priority: priority.value as Task['priority'] } : {}),
      ...(due.value ? { due: due.value as Task['group'] } : {}),
      ...(words.value ? { text: words.value } : {}),
      ...(record.value ? { record: Number(record.value) } : {}),
    }
  })
  /** How many filters stand besides whose and which state. */
  const more = computed(
    () =>
      [filters.from, filters.kind, filters.priority, filters.due, filters.words, filters.record].filter(
        (one) => one.value,
      ).length,
  )
  const clear = () =>
    set({
      from: undefined,
      kind: undefined,
      priority: undefined,
      due: undefined,
      text: undefined,
      record: undefined,
      task: undefined,
    })
  return { ...filters, query, more, clear, text, set }
}
