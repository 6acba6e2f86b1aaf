import { useStorage, watchDebounced } from '@vueuse/core'
import { ref, shallowRef, type Ref } from 'vue'
import { answerOf, api, ApiError, sentenceOf, type Schemas } from '@/api/client'

export type Ahead = { watching: number; cut: boolean; items: Schemas['AheadItem'][] }

/** What lies ahead of a record, as it is or as it would be. */
export function useAhead(id: Ref<number>) {
  const days = useStorage('yenvo-days-ahead', 60)
  const change = shallowRef<Record<string, unknown> | null>(null)
  const ahead = shallowRef<Ahead | null>(null)
  const wrong = ref<string | null>(null)
  const wrongFields = ref<Record<string, string>>({})
  const busy = ref(false)
  let latest = 0

  async function load() {
    const turn = ++latest
    busy.value = true
    try {
      const path = { id: id.value }
      const found = change.value
        ? await answerOf(
            api.POST('/api/records/{id}/ahead', {
              params: { path },
              body: { days: days.value, change: change.value as Schemas['Values'] },
            }),
          )
        : await answerOf(api.GET('/api/records/{id}/ahead', { params: { path, query: { days: days.value } } }))
      if (turn !== latest) return
      ahead.value = found
      wrong.value = null
      wrongFields.value = {}
    } catch (problem) {
      if (turn !== latest) return
      const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
      if (change.value && fields) wrongFields.value = fields
      else wrong.value = sentenceOf(problem)
    } finally {
      if (turn === latest) busy.value = false
    }
  }
  watchDebounced([id, days, change], load, { immediate: true, debounce: 200, maxWait: 800 })
  return { days, change, ahead, wrong, wrongFields, busy, load }
}
