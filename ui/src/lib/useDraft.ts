import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, type Ref } from 'vue'
import { ApiError, sentenceOf } from '@/api/client'

/** How the draft of a thing is fetched, made and kept. The stamp is the one that was seen last. */
export type DraftCalls<Body, Kept> = {
  get: (id: number) => Promise<Kept>
  make: (body: Body) => Promise<Kept>
  keep: (id: number, body: Body, stamp: number) => Promise<Kept>
  bodyOf: (kept: Kept) => Body
}

/**
 * The draft of a rule or kit as it stands on screen, kept on the server a moment after each change. When somebody else
 * wrote in the meantime nothing is overwritten: `clash` then holds the sentence until `mine` or `theirs` is chosen.
 */
export function useDraft<Body extends object, Kept extends { id: number; stamp: number }>(
  id: Ref<number | null>,
  calls: DraftCalls<Body, Kept>,
  made: (id: number) => void,
) {
  const body = shallowRef<Body | null>(null)
  const kept = shallowRef<Kept | null>(null)
  const clash = ref<string | null>(null)
  const wrong = ref<string | null>(null)
  const saving = ref(false)
  const saved = ref('')
  let stamp: number | null = null
  let running: Promise<void> | null = null
  // The address follows a moment after a new one was made; until then this says that it has a number already.
  let created: number | null = null

  function take(fresh: Kept) {
    kept.value = fresh
    stamp = fresh.stamp
  }

  async function load() {
    const fresh = await calls.get((id.value ?? created)!)
    take(fresh)
    body.value = calls.bodyOf(fresh)
    saved.value = JSON.stringify(body.value)
  }

  function begin(blank: Body) {
    created = null
    kept.value = null
    stamp = null
    body.value = blank
    saved.value = JSON.stringify(blank)
  }

  const dirty = computed(() => body.value !== null && JSON.stringify(body.value) !== saved.value)

  async function write() {
    const written = body.value!
    const text = JSON.stringify(written)
    try {
      const path = id.value ?? created
      const fresh = path ? await calls.keep(path, written, stamp!) : await calls.make(written)
      take(fresh)
      saved.value = text
      wrong.value = null
      if (!path) {
        created = fresh.id
        made(fresh.id)
      }
    } catch (problem) {
      if (problem instanceof ApiError && problem.status === 409) clash.value = problem.message
      else wrong.value = sentenceOf(problem)
    }
  }

  /** Keeps what is on screen; one writing at a time, in order. */
  async function save(): Promise<boolean> {
    if (running) await running
    if (!dirty.value || clash.value) return !clash.value
    saving.value = true
    running = write().finally(() => {
      running = null
      saving.value = false
    })
    await running
    return !clash.value && wrong.value === null
  }

  async function mine() {
    const fresh = await calls.get((id.value ?? created)!)
    stamp = fresh.stamp
    clash.value = null
    await save()
  }

  async function theirs() {
    clash.value = null
    await load()
  }

  watchDebounced(
    () => JSON.stringify(body.value),
    () => dirty.value && save(),
    { debounce: 900 },
  )

  return {
    body,
    kept,
    clash,
    wrong,
    saving,
    dirty,
    load,
    begin,
    save,
    mine,
    theirs,
    take,
    currentStamp: () => stamp,
    /** Whether what has this number was made here, so that what is on screen is newer than the server's. */
    madeHere: (number: number) => number === created,
    number: () => id.value ?? created,
    settle: () => (saved.value = JSON.stringify(body.value)),
  }
}
