import { computed, ref, watch, type Ref } from 'vue'
import { onBeforeRouteLeave, useRoute, useRouter } from 'vue-router'
import { ApiError, sentenceOf, type Schemas } from '@/api/client'
import { useDraft, type DraftCalls } from '@/lib/useDraft'
import { useNotices } from '@/lib/useNotices'
import { useSession } from '@/state/session'
import { useSetup } from '@/state/setup'

/** What the server knows of a rule or kit beyond what is written in it. */
type Known = {
  id: number
  stamp: number
  version: number | null
  published: unknown
  draft: unknown
  mark: Schemas['Mark']
}

/** How a sheet's thing is fetched and kept, and what else can be done with it as a whole. */
export type SheetCalls<Body, Kept> = DraftCalls<Body, Kept> & {
  drop: (id: number) => Promise<unknown>
  mark: (id: number, mark: string, ink: string) => Promise<Kept>
}

/**
 * What the sheets of rules and kits have in common: the draft behind the address, whether it may be changed, what it
 * says of itself, publishing it, throwing its draft away, and its mark. SheetShell shows what is asked on the way.
 * @param what.blank a new one on a kind of record
 * @param what.begun told when one has come, or was begun
 * @param what.unfit told of the problems for which it was not published
 */
export function useSheetPage<Body extends { name: string }, Kept extends Known>(what: {
  noun: 'rule' | 'kit'
  calls: SheetCalls<Body, Kept>
  blank: (kind: string) => Body
  begun: () => void
  unfit: (problems: Schemas['Problem'][]) => void
}) {
  const route = useRoute()
  const router = useRouter()
  const { setup } = useSetup()
  const { mayWriteRules } = useSession()
  const { say, attempt } = useNotices()
  const home = `/${what.noun}s`

  const id = computed(() => (route.params.id === 'new' ? null : Number(route.params.id)))
  const draft = useDraft<Body, Kept>(id, what.calls, (made) => void router.replace(`${home}/${made}`))
  const { body, kept } = draft
  const fixed = computed(() => !mayWriteRules.value)
  const trouble = ref<string | null>(null)

  async function load() {
    trouble.value = null
    if (id.value !== null && draft.madeHere(id.value)) return
    try {
      const first = setup.value.kinds.find((one) => one.key === 'deal') ?? setup.value.kinds[0]!
      if (id.value === null) draft.begin(what.blank(first.key))
      else await draft.load()
      what.begun()
    } catch (problem) {
      trouble.value = sentenceOf(problem)
    }
  }
  watch(
    () => body.value?.name,
    (name) => (document.title = `${name || `New ${what.noun}`} · Yenvo`),
  )
  onBeforeRouteLeave(async () => {
    if (mayWriteRules.value && body.value && draft.dirty.value) await draft.save()
  })

  const nextVersion = computed(() => (kept.value?.version ?? 0) + 1)
  const unchanged = computed(
    () =>
      !!kept.value?.published &&
      JSON.stringify(kept.value.published) === JSON.stringify(what.calls.bodyOf(kept.value)) &&
      !draft.dirty.value,
  )
  const saved = computed(() =>
    draft.saving.value ? 'Saving' : draft.dirty.value ? 'Not saved yet' : kept.value?.draft ? 'Draft saved' : '',
  )

  const publishing = ref(false)
  /**
   * Keeps the draft, then puts it in force. What does not fit is told to `unfit`; somebody else's change is asked
   * about.
   * @param send asks the server for it; null when something has to be asked first
   * @returns what is in force then; null when it is not
   */
  async function publish(send: (id: number, stamp: number) => Promise<Kept | null>): Promise<Kept | null> {
    if (publishing.value || !(await draft.save())) return null
    publishing.value = true
    try {
      const fresh = await send(draft.number()!, draft.currentStamp()!)
      if (fresh) draft.take(fresh)
      return fresh
    } catch (problem) {
      if (problem instanceof ApiError && problem.refusal.problems?.length) {
        what.unfit(problem.refusal.problems)
        say(`Not published: the checks found something. Each is listed beside the ${what.noun}.`, 'bad')
      } else if (problem instanceof ApiError && problem.status === 409) draft.clash.value = problem.message
      else say(sentenceOf(problem), 'bad')
      return null
    } finally {
      publishing.value = false
    }
  }

  const dropping = ref(false)
  async function drop() {
    const gone = await attempt(() => what.calls.drop(id.value!), 'The draft is thrown away.')
    dropping.value = false
    if (!gone) return
    draft.settle()
    if (kept.value?.version) await load()
    else await router.push(home)
  }

  const marking = ref(false)
  const setMark = async (mark: string, ink: string) => draft.take(await what.calls.mark(id.value!, mark, ink))

  return {
    noun: what.noun,
    id,
    draft,
    body,
    kept,
    fixed,
    trouble,
    load,
    /** Fetches what the address names, now and whenever it names another; when all that `begun` touches stands. */
    start: () => watch(id, load, { immediate: true }),
    nextVersion,
    unchanged,
    saved,
    publishing,
    publish,
    dropping,
    drop,
    marking,
    setMark,
  }
}

/** What SheetShell needs of a sheet. */
export type SheetPage = Pick<
  ReturnType<typeof useSheetPage<{ name: string }, Known>>,
  'noun' | 'fixed' | 'trouble' | 'load' | 'dropping' | 'drop' | 'marking' | 'setMark'
> & {
  kept: Readonly<Ref<Known | null>>
  draft: Pick<ReturnType<typeof useDraft<object, Known>>, 'clash' | 'wrong' | 'save' | 'mine' | 'theirs'>
}
