import { ref } from 'vue'
import { ApiError, sentenceOf } from '@/api/client'
import { loadSetup } from '@/state/setup'

/**
 * Sends a change of the set-up, keeps what is wrong with it by field, and reads the set-up anew when it went well.
 * `leaning` says that rules or kits lean on what would go: whoever asks again says that it shall go all the same.
 */
export function useChange() {
  const wrong = ref<Record<string, string>>({})
  const busy = ref(false)
  const leaning = ref(false)
  /** @returns whether it went well */
  async function send(act: () => Promise<unknown>): Promise<boolean> {
    busy.value = true
    wrong.value = {}
    leaning.value = false
    try {
      await act()
      await loadSetup()
      return true
    } catch (problem) {
      const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
      wrong.value = fields ?? { '': sentenceOf(problem) }
      leaning.value = problem instanceof ApiError && problem.refusal.leaning === true
      return false
    } finally {
      busy.value = false
    }
  }
  return { wrong, busy, leaning, send }
}
