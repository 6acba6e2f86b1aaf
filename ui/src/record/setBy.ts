import { ref } from 'vue'
import type { Schemas } from '@/api/client'

type SetBy = Schemas['SetBy'][]
const latest = ref<{ record: number; said: SetBy } | null>(null)

/** What rules set before the latest save of a record, kept until it is put away or another record is saved. */
export function useSetBy() {
  return {
    latest,
    /** @param record as the API gave it back after a save */
    note: (record: Schemas['Record']) =>
      (latest.value = record.set_by?.length ? { record: record.id, said: record.set_by } : null),
    putAway: () => (latest.value = null),
  }
}
