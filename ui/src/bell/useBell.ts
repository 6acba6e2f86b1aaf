import { useIntervalFn, useThrottleFn } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'
import { answerOf, api, type Schemas } from '@/api/client'
import { useLive } from '@/api/live'

const EVERY = 60_000

/** What the person has been told, newest first, and how much of it is unread. */
export function useBell(rule?: Ref<number | null>) {
  const rules = shallowRef<Schemas['NamedRule'][]>([])
  const notices = shallowRef<Schemas['Notice'][]>([])
  const unread = ref(0)
  const next = ref<number | null>(null)

  async function load(before?: number) {
    try {
      const query = { ...(before ? { before } : {}), ...(rule?.value ? { rule: rule.value } : {}) }
      const page = await answerOf(api.GET('/api/notices', { params: { query } }))
      notices.value = before ? [...notices.value, ...page.notices] : page.notices
      if (page.rules) rules.value = page.rules
      unread.value = page.unread
      next.value = page.next
    } catch {
      // The bar says when the connection is lost; the next news asks again.
    }
  }
  /** Marks some as read, or all. */
  async function read(ids: number[] | null) {
    const answer = await answerOf(api.POST('/api/notices/read', { body: { ids } }))
    unread.value = answer.unread
    notices.value = notices.value.map((one) => (ids === null || ids.includes(one.id) ? { ...one, read: true } : one))
  }

  useLive(useThrottleFn(() => load(), 2000, true))
  useIntervalFn(() => load(), EVERY)
  if (rule) watch(rule, () => void load())
  void load()
  return { notices, unread, next, rules, load, read }
}
