import { computed, ref } from 'vue'
import { ApiError, sentenceOf } from '@/api/client'
import { loadSetup, useSetup } from '@/state/setup'

/**
 * Sends a change of the set-up, keeps what is wrong with it by field, and reads the set-up anew when it went well.
 * `leaning` says that rules or kits lean on what would go: whoever asks again says that it shall go all the same.
 * `look` notes on which set-up the form rests, and `resting` goes along with the call: when somebody else has changed
 * the same since, that is said, and what was typed stays; whoever saves once more writes over it. A press while one is
 * sent is the same press twice and does nothing; one while the set-up is read anew waits for that, and is not lost.
 */
export function useChange() {
  const { setup } = useSetup()
  const wrong = ref<Record<string, string>>({})
  const busy = ref(false)
  const leaning = ref(false)
  const seen = ref(setup.value.stamp)
  const look = () => (seen.value = setup.value.stamp)
  const resting = computed(() => ({ 'X-Seen-Setup': String(seen.value) }))
  let reading: Promise<unknown> | null = null
  /** @returns whether it went well */
  async function send(act: () => Promise<unknown>): Promise<boolean> {
    await reading?.catch(() => {})
    if (busy.value) return false
    busy.value = true
    wrong.value = {}
    leaning.value = false
    try {
      await act()
      await (reading = loadSetup())
      look()
      return true
    } catch (problem) {
      const fields = problem instanceof ApiError ? problem.refusal.fields : undefined
      wrong.value = fields ?? { '': sentenceOf(problem) }
      leaning.value = problem instanceof ApiError && problem.refusal.leaning === true
      if (problem instanceof ApiError && problem.status === 409) await loadSetup().then(look, () => {})
      return false
    } finally {
      busy.value = false
      reading = null
    }
  }
  return { wrong, busy, leaning, look, resting, send }
}
