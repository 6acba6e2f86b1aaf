import { ref, shallowRef, watch, type WatchSource } from 'vue'
import { sentenceOf } from '@/api/client'

/**
 * Fetches something now and whenever a source changes. What was there stays on screen until the new is there; of two
 * answers under way only the later one counts.
 */
export function useLoaded<T>(fetch: () => Promise<T>, sources: WatchSource[] = []) {
  const data = shallowRef<T | null>(null)
  const error = ref<string | null>(null)
  const loading = ref(false)
  let turn = 0

  async function reload() {
    const mine = ++turn
    loading.value = true
    try {
      const fresh = await fetch()
      if (mine !== turn) return
      data.value = fresh
      error.value = null
    } catch (problem) {
      if (mine === turn) error.value = sentenceOf(problem)
    } finally {
      if (mine === turn) loading.value = false
    }
  }

  watch(sources, reload, { immediate: true })
  return { data, error, loading, reload }
}
