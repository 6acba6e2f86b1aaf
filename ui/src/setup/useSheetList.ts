import { computed, ref } from 'vue'
import { useNotices } from '@/lib/useNotices'
import { useChange } from './useChange'
import { useOpenKept } from './useKept'

/**
 * What the lists of forms, of doors and of addresses for mail have alike: those in use, those that were taken away and
 * can be brought back, which sheet is open, and a new one.
 * @param rows all of them, once they are read
 * @param back brings one back
 * @param after what is to be known of one that is back
 */
export function useSheetList<Row extends { key: string; name: string; retired_at: string | null }>(
  rows: () => Row[] | undefined,
  back: (key: string) => Promise<unknown>,
  after = '',
) {
  const change = useChange()
  const { say } = useNotices()
  const used = computed(() => rows()?.filter((one) => !one.retired_at) ?? [])
  const away = computed(() => rows()?.filter((one) => one.retired_at) ?? [])
  const adding = ref(false)
  async function bringBack(one: { key: string; name: string }) {
    if (await change.send(() => back(one.key))) say(`${one.name} is back.${after}`)
  }
  return { ...change, ...useOpenKept(), say, used, away, adding, bringBack }
}
