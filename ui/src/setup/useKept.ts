import { computed, ref, shallowRef } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '@/api/client'
import { referencesOf } from '@/rule/model'
import { everyKind, useSetup, type Kind } from '@/state/setup'
import { useChange } from './useChange'

type Calls = {
  version: (key: string, number?: number) => Promise<Schemas['KeptVersion']>
  /** Takes it away; `anyway` also while rules lean on it. */
  retire: (key: string, anyway: boolean, headers: Record<string, string>) => Promise<unknown>
}

/**
 * The sheet of one text or paper: which version is looked at, and what its blanks can be. Which it is stands in the
 * address (`?open=KEY`, or `?open=` for a new one), so that a reload comes back to it.
 */
export function useKept(calls: Calls) {
  const change = useChange()
  const version = shallowRef<Schemas['KeptVersion'] | null>(null)
  const kind = ref('')
  const { setup, kindOf } = useSetup()
  const anyway = computed(() => change.leaning.value && !!change.wrong.value.kept)
  const kinds = computed(() => [
    ...setup.value.kinds.map((one) => ({ value: one.key, words: one.plural })),
    { value: 'record', words: 'records of any kind' },
  ])
  /** The kind whose blanks it has. */
  const shape = computed<Kind | undefined>(
    () => kindOf(kind.value) ?? setup.value.subjects.find((one) => one.key === kind.value),
  )
  const references = computed(() => (shape.value ? referencesOf(shape.value, everyKind(setup.value)) : []))

  async function look(key: string, number?: number) {
    version.value = await calls.version(key, number)
    return version.value
  }
  /** @returns whether it is gone */
  const retire = (key: string) => {
    const all = anyway.value
    return change.send(() => calls.retire(key, all, change.resting.value))
  }
  return { ...change, version, kind, kinds, shape, references, anyway, look, retire }
}

/** Which text or paper is open, as the address of the page says: its key, '' for a new one, null for none. */
export function useOpenKept() {
  const route = useRoute()
  const router = useRouter()
  const open = computed(() => (typeof route.query.open === 'string' ? route.query.open : null))
  const go = (key: string | null) => router.push({ query: key === null ? {} : { open: key } })
  return { open, go }
}
