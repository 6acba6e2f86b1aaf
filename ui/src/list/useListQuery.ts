import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** What narrows a list: where.FIELD, from.FIELD, to.FIELD, holds.FIELD and is.FIELD, or the words of the title. */
export const NARROWING = /^(where|from|to|holds|is)\./
/** What a view holds of the address of a list. */
const KEPT = new RegExp(`${NARROWING.source}|^(search|sort|down|columns)$`)

/** How a list is narrowed, sorted and shown, as its address says it; so a link to it shows the same. */
export function useListQuery() {
  const route = useRoute()
  const router = useRouter()
  const kindKey = computed(() => String(route.params.kind))
  /** One setting; empty when it is not there. */
  const text = (name: string) => (typeof route.query[name] === 'string' ? (route.query[name] as string) : '')
  const has = (name: string) => typeof route.query[name] === 'string'
  const set = (changes: Record<string, string | undefined>) => router.replace({ query: { ...route.query, ...changes } })
  const sort = computed(() => text('sort') || 'changed')
  const down = computed(() => (text('down') || (sort.value === 'changed' ? '1' : '0')) === '1')
  /** Another press on the same column turns it round. */
  const sortBy = (key: string) =>
    set({ sort: key, down: (sort.value === key ? !down.value : key === 'changed') ? '1' : '0' })
  const settings = (wanted: RegExp) =>
    Object.fromEntries(
      Object.entries(route.query).filter(
        (pair): pair is [string, string] => wanted.test(pair[0]) && typeof pair[1] === 'string',
      ),
    )
  const narrowing = computed(() => ({
    ...settings(NARROWING),
    ...(text('search') ? { search: text('search') } : {}),
  }))
  const narrowed = computed(() => Object.keys(narrowing.value).length > 0)
  /** As the API takes it. */
  const query = computed(() => ({
    kind: kindKey.value,
    sort: sort.value,
    down: (down.value ? '1' : '0') as '0' | '1',
    ...narrowing.value,
  }))
  const view = computed(() => settings(KEPT))
  return { kindKey, text, has, set, sort, down, sortBy, narrowing, narrowed, query, view }
}
